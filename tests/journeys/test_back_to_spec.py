"""Back to spec in a real browser: the loop closed by following the advice, on bows that differ."""

import io
import json

import pytest
from django.urls import reverse
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from bowcore.book_case import read_spec
from bowcore.casefile import Case
from bowcore.cli import main
from bowcore.mechanics.virtual import Settings
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.service.advice import advise, model_prior
from shop.accounts.models import Shop
from shop.jobs.models import Job
from shop.ledger.models import Adjustment, PressCycle
from tests.journeys.work import Work

pytestmark = [pytest.mark.browser, pytest.mark.django_db(transaction=True)]


def at_the_plan(person, bench, model="Lark 31", **off):
    """A job whose baseline is read and whose plan is on the screen; `lean` is that of its top cam."""
    bench.check_in(["back_to_spec"], model=model, fitted=["peep"], path="new_setup")
    bench.look_over()
    if "lean" in off:
        off["lean"] -= bench.bow.stands["lean"]
    bench.off(**off)
    bench.baseline()
    person.logs_in()
    person.goes(f"/jobs/{bench.job.pk}/")
    person.sees("Chance that every")
    return Work(person)


def test_twin_cams_come_home_by_following_the_advice(person, bench):
    work = at_the_plan(person, bench, "Quill 34", cable_a=0.015, cable_b=-0.01)
    work.goes_on()
    assert not work.view().course.outside
    work.hands_over()


def test_a_bow_that_answers_half_as_much_again_is_learned(person, bench, monkeypatch):
    usual = Settings.shorter
    monkeypatch.setattr(
        Settings, "shorter", lambda self: {role: 1.5 * x for role, x in usual(self).items()}
    )
    work = at_the_plan(person, bench, cable_a=-0.09)
    work.goes_on(until="The last change", most=20)
    if "The last change" in person.text():
        assert "expected" in person.text()
        work.goes_on()
    assert not work.view().course.outside
    assert PressCycle.objects.count() <= 4


def test_what_the_screen_says_is_what_the_core_says(person, bench):
    """The same case put to the core without the web gives the same sentence."""
    work = at_the_plan(person, bench, cable_a=-0.07)
    view = work.view()
    spec = read_spec(Case(Job.objects.get().spec))
    alone = advise(spec, view.facts, view.bands, view.school, model_prior(spec))
    assert person.find("h1.sentence").text == alone.sentence


def test_the_numbers_on_the_screen_are_those_of_the_cores_command_line(person, bench, client, ines):
    """The plan's question, as the screen gives it out, put to `fennock core advice`."""
    at_the_plan(person, bench, cable_a=-0.07)
    client.force_login(ines)
    question = client.get(reverse("question", args=[bench.job.pk])).content.decode()
    told = io.StringIO()
    assert main(["advice"], io.StringIO(question), told) == 0
    answer = json.loads(told.getvalue())
    assert person.find("h1.sentence").text == answer["sentence"]
    said = person.text()
    for name in ("axle_to_axle", "brace_height", "peak_weight", "stop_gap"):
        value = answer["best"]["predicted"][name]["value"]
        assert as_read(QUANTITIES[name].say(value)) in as_read(said), name


def as_read(text):
    """Without spaces: a fraction on the screen is set, not typed."""
    return "".join(text.replace("/", "").split())


def half_a_twist_flips(bench, role="cable_a"):
    """How much too long a cable is where half a twist carries the gap from one side to the other."""
    step = bench.bow.spec.part(role).bundle().shortening_in(1)

    def gap(shorter):
        bench.bow.off_in = {role: shorter}
        return bench.bow.true("stop_gap")

    tried = [-0.05 * step * n for n in range(1, 40)]
    return next(x for x in tried if gap(x) < -0.055 and gap(x + step) > 0)


@pytest.mark.parametrize("sizes", ["1/16, 1/8, 3/16, 1/4", ""])
def test_where_half_a_twist_flips_a_spacer_is_put_in_or_the_flip_is_told(person, bench, sizes):
    Shop.objects.update(spacer_sizes=sizes)
    bench.check_in(["back_to_spec"], model="Quill 34", fitted=["peep"], path="new_setup")
    bench.look_over()
    bench.off(cable_a=half_a_twist_flips(bench))
    bench.baseline()
    person.logs_in()
    person.goes(f"/jobs/{bench.job.pk}/")
    person.sees("The top stop touches first")
    work = Work(person)
    if sizes:
        assert "in spacer" in person.find("h1.sentence").text
        assert "strands into" in person.text()
        work.enter()
        work.enter()
        assert "Every spacer still sits" in person.text()
    else:
        assert "the first stop over" in person.text()
        return
    work.goes_on()
    assert not work.view().course.outside
    work.hands_over()


def test_a_lean_is_shimmed_upright_by_the_advice(person, bench):
    work = at_the_plan(person, bench, cable_a=-0.07, lean=0.28)
    person.goes(f"/jobs/{bench.job.pk}/baseline/?at=lean")
    work.read()
    work.read()
    person.goes(f"/jobs/{bench.job.pk}/spec/")
    person.touches(words="By another school")
    person.sees("Cams upright at full draw")
    work.does(lambda: person.touches(css=".twists:has(input[value=upright]) button"))
    person.sees("Shims, top cam")
    person.axe()
    assert "it is a trial" in person.text()
    work.goes_on()
    assert not work.view().course.outside
    assert abs(work.bow().true("lean")) < 0.25


def test_a_step_is_taken_back_from_the_log(person, bench):
    work = at_the_plan(person, bench, cable_a=-0.07)
    work.enter()
    work.enter()
    work.gate()
    if person.all("#bolts"):
        work.enter()
    person.goes(f"/jobs/{bench.job.pk}/log/")
    person.axe()
    work.does(lambda: person.touches(words="Take back to before this"))
    person.sees("taken back")
    work.enter()
    work.gate()
    done = Adjustment.objects.values_list("role", "half_twists")
    total = {}
    for role, count in done:
        total[role] = total.get(role, 0) + count
    assert len(done) >= 2 and not any(total.values())


def test_the_draw_is_scrubbed_by_keyboard_and_its_curve_goes_along(person, bench):
    at_the_plan(person, bench, cable_a=-0.07)
    person.types("v")
    person.sees("What the readings point to")
    person.axe()
    slider = person.find("#at")
    slider.send_keys(Keys.ARROW_RIGHT, Keys.ARROW_RIGHT)
    for picture in ("svg.side", "svg.fdcurve", ".nowat"):
        frames = person.find(picture).find_elements(By.CSS_SELECTOR, "[data-frame]")
        seen = [f.get_attribute("data-frame") for f in frames if f.get_attribute("hidden") is None]
        assert seen == ["2"], picture
    person.touches(words="Pull it on the draw board")
    person.sees("from the draw board")
    assert len(person.all("nav.rail")) == 1
    person.touches(words="Fit a twin to it")
    person.sees("The dashed curve is a twin fitted to it")


def test_another_school_is_chosen_where_its_plan_is_seen(person, bench):
    work = at_the_plan(person, bench, cable_a=-0.07)
    person.touches(words="By another school")
    person.sees("Leave the bottom cam's cable")
    person.axe()
    work.does(lambda: person.touches(words="Work so on this job"))
    assert work.job.school == {"half_twists": False}
