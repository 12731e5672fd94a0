"""Back to spec in a real browser: the loop closed by following the advice, on bows that differ."""

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from bowcore.book_case import read_spec
from bowcore.casefile import Case
from bowcore.service.advice import advise, model_prior
from shop.devices.hidden import HiddenBow
from shop.jobs.models import Job
from shop.ledger.models import Adjustment, PressCycle
from tests.journeys.work import Work

pytestmark = [pytest.mark.browser, pytest.mark.django_db(transaction=True)]


def at_the_plan(person, bench, model="Lark 31", **off):
    """A job whose baseline is read and whose plan is on the screen."""
    bench.check_in(["back_to_spec"], model=model, fitted=["peep"], path="new_setup")
    bench.look_over()
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
    strong = HiddenBow._shorten
    monkeypatch.setattr(
        HiddenBow, "_shorten", lambda self, role, inches: strong(self, role, 1.5 * inches)
    )
    work = at_the_plan(person, bench, cable_a=-0.09)
    work.goes_on(until="The last change", most=12)
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
