"""Back to spec in a real browser: the loop closed by following the advice, on bows that differ."""

import io
import json

import pytest
from django.urls import reverse
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from bowcore.io.book import spec_from
from bowcore.io.cli import main
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.simulation.simulated_bow import Faults, SimulatedBow
from bowcore.stages.back_to_spec.advice import advise, model_prior
from shop.schema.accounts.models import Shop
from shop.schema.jobs.models import Job
from shop.schema.press.models import Adjustment, PressCycle
from tests.journeys.work import Work, with_alt

pytestmark = [pytest.mark.browser, pytest.mark.django_db(transaction=True)]


def at_the_plan(person, script, model="Lark 31", **off):
    """A job whose baseline is read and whose plan is on the screen; `lean` is that of its top cam."""
    script.check_in(["back_to_spec"], model=model, fitted=["peep"], path="new_setup")
    script.inspect()
    script.came_in(**off)
    script.baseline()
    person.logs_in()
    person.goes(f"/jobs/{script.job.pk}/")
    person.sees("Chance that every")
    return Work(person)


def says_the_plan(person, sentence):
    """The heading is the sentence, or every act of the list beside the bow is in it."""
    acts = [act.text for act in person.all(".acts strong")]
    return (
        all(act in sentence for act in acts)
        if acts
        else (person.find("h1.sentence").text == sentence)
    )


def test_twin_cams_come_home_by_following_the_advice(person, script):
    work = at_the_plan(person, script, "Quill 34", cable_a=0.015, cable_b=-0.01)
    work.goes_on()
    assert not work.state().course.outside
    work.hands_over()


def test_a_bow_that_answers_half_as_much_again_is_learned(person, script, monkeypatch):
    usual = SimulatedBow.turn

    def half_as_much_again(self, steps):
        usual(self, steps)
        for role in self.spec.roles:
            count = steps.get(role, 0)
            self.pull(role, 0.5 * self.spec.part(role).bundle().shortening_in(count))

    monkeypatch.setattr(SimulatedBow, "turn", half_as_much_again)
    work = at_the_plan(person, script, cable_a=-0.09)
    work.goes_on(until="The last change", most=20)
    if "The last change" in person.text():
        assert "expected" in person.text()
        work.goes_on()
    assert not work.state().course.outside
    assert PressCycle.objects.count() <= 4


def test_what_the_screen_says_is_what_the_core_says(person, script):
    """The same case put to the core without the web gives the same sentence."""
    work = at_the_plan(person, script, cable_a=-0.07)
    state = work.state()
    spec = spec_from(Job.objects.get().spec)
    alone = advise(spec, state.facts, state.bands, state.policy, model_prior(spec))
    assert says_the_plan(person, alone.sentence)


def test_the_numbers_on_the_screen_are_those_of_the_cores_command_line(
    person, script, client, ines
):
    """The plan's question, as the screen gives it out, put to `fennock core advice`."""
    at_the_plan(person, script, cable_a=-0.07)
    client.force_login(ines)
    question = client.get(reverse("question", args=[script.job.pk])).content.decode()
    given = io.StringIO()
    assert main(["advice"], io.StringIO(question), given) == 0
    answer = json.loads(given.getvalue())
    assert says_the_plan(person, answer["sentence"])
    said = person.text()
    for name in ("axle_to_axle", "brace_height", "peak_weight", "stop_gap"):
        value = answer["best"]["predicted"][name]["value"]
        assert as_read(QUANTITIES[name].say(value)) in as_read(said), name


def as_read(text):
    """Without spaces: a fraction on the screen is set, not typed."""
    return "".join(text.replace("/", "").split())


def half_a_twist_flips(script, role="cable_a"):
    """How much too long a cable is where half a twist carries the gap from one side to the other."""
    step = script.bow.spec.part(role).bundle().shortening_in(1)

    def gap(shorter):
        script.bow.came_in(Faults({role: shorter}))
        return script.bow.true("stop_gap")

    tried = [-0.05 * step * n for n in range(1, 40)]
    return next(x for x in tried if gap(x) < -0.055 and gap(x + step) > 0)


@pytest.mark.parametrize("sizes", ["1/16, 1/8, 3/16, 1/4", ""])
def test_where_half_a_twist_flips_a_spacer_is_put_in_or_the_flip_is_shown(person, script, sizes):
    Shop.objects.update(spacer_sizes=sizes)
    script.check_in(["back_to_spec"], model="Quill 34", fitted=["peep"], path="new_setup")
    script.inspect()
    script.came_in(cable_a=half_a_twist_flips(script))
    script.baseline()
    person.logs_in()
    person.goes(f"/jobs/{script.job.pk}/")
    person.sees("The top stop touches first")
    work = Work(person)
    if sizes:
        assert "in spacer" in person.text()
        assert "strands into" in person.text()
        work.enter()
        work.enter()
        assert "Every spacer is still between" in person.text()
    else:
        assert "With half a twist the other stop touches first" in person.text()
        return
    work.goes_on()
    assert not work.state().course.outside
    work.hands_over()


def test_a_lean_is_shimmed_upright_by_the_advice(person, script):
    work = at_the_plan(person, script, cable_a=-0.07, lean=0.28)
    person.goes(f"/jobs/{script.job.pk}/baseline/?at=lean")
    work.read()
    work.read()
    person.goes(f"/jobs/{script.job.pk}/back_to_spec/")
    person.touches(words="Compare shop policies")
    person.sees("Cams upright at full draw")
    work.does(lambda: person.touches(css=".choose-row:has(input[value=upright]) button"))
    person.sees("shims are exchanged alone in their press")
    person.axe()
    work.goes_on()
    assert not work.state().course.outside
    assert abs(work.bow().true("lean")) < 0.25


def test_a_step_is_taken_back_from_the_log(person, script):
    work = at_the_plan(person, script, cable_a=-0.07)
    work.enter()
    work.enter()
    work.gate()
    if person.all("#bolts"):
        work.enter()
    person.goes(f"/jobs/{script.job.pk}/log/")
    person.axe()
    person.touches(words="Take back to before this")  # says what it will do, and does nothing yet
    work.does(lambda: person.touches(words="Open the press for it"))
    person.sees("taken back")
    work.enter()
    work.gate()
    done = Adjustment.objects.values_list("adjuster", "steps")
    total = {}
    for role, count in done:
        total[role] = total.get(role, 0) + count
    assert len(done) >= 2 and not any(total.values())


def test_the_draw_is_scrubbed_by_keyboard_and_its_curve_goes_along(person, script):
    at_the_plan(person, script, cable_a=-0.07)
    person.types(*with_alt("v"))
    person.sees("What the readings point to")
    person.axe()
    slider = person.find("#at")
    slider.send_keys(Keys.ARROW_RIGHT, Keys.ARROW_RIGHT)
    for picture in ("svg.side", "svg.fdcurve", ".frame-numbers"):
        frames = person.find(picture).find_elements(By.CSS_SELECTOR, "[data-frame]")
        seen = [f.get_attribute("data-frame") for f in frames if f.get_attribute("hidden") is None]
        assert seen == ["2"], picture
    person.touches(words="Pull it on the draw board")
    person.sees("from the draw board")
    assert len(person.all("nav.rail")) == 1
    person.touches(words="Fit the model to it")
    person.sees("The dashed curve is the model fitted")


def test_another_school_is_chosen_where_its_plan_is_seen(person, script):
    work = at_the_plan(person, script, cable_a=-0.07)
    person.touches(words="Compare shop policies")
    person.sees("Leave the bottom cam's cable")
    person.axe()
    work.does(lambda: person.touches(words="Use on this job"))
    assert work.job.policy == {"half_twists": False}
