"""The fit in a real browser: by keyboard from a new string to the hand-over, and by touch on a tablet."""

import pytest
from selenium.webdriver.common.keys import Keys

from bowcore.stages.fit.step import FitStep
from shop.casework.readings.actions.leave_it import leave_it
from shop.demo.scenes import DROP_AWAY, OWN_ARROW, STRING
from shop.schema.fitting.models import ThingOnBow
from shop.schema.jobs.models import Job
from tests.journeys.work import Work

pytestmark = [pytest.mark.browser, pytest.mark.django_db(transaction=True)]


def at_the_fit(person, script, **misfit):
    """A new string is on, the bow is back in its bands, nobody has named the arrow."""
    script.check_in(STRING)
    script.inspect()
    script.new_string_sits(**misfit)
    script.baseline()
    script.replace("string", 0.0)
    script.back_to_spec()
    person.logs_in()
    person.goes(f"/jobs/{script.job.pk}/")
    return Work(person)


def writes_down(person, **details):
    for key, value in details.items():
        person.find(f"#detail-{key}").send_keys(value)


def test_a_new_string_is_fitted_by_keyboard(person, script):
    work = at_the_fit(person, script, nock_height=0.125, arrow_level=0.125, peep_turn=26)
    person.sees("Which arrow is it set up for?")
    person.axe()
    person.find(".bar a[data-key=o]").send_keys(Keys.ENTER)
    person.sees("written down once")
    person.axe()
    shown = {k: v for k, v in OWN_ARROW.items() if k != "whose"}
    writes_down(person, **shown)
    work.does(lambda: person.find("#detail-name").send_keys(Keys.ENTER))
    assert ThingOnBow.objects.get().details["mass_gr"] == 412
    for _ in range(40):
        now = work.state().course.next.step
        if now == "hand_over":
            break
        if work.asked():
            work.read()
        elif work.state().press is None:
            work.enter()
        else:
            pressed(work, person)
        person.goes(f"/jobs/{work.job_id}/")
    assert work.state().course.next.step == "hand_over"
    assert "peep_pair" in {row.adjuster for row in work.state().adjustments}
    assert person.console() == []


def pressed(work, person):
    """The change as planned, the gate, down."""
    if not work.state().facts.press.done:
        work.enter()
        person.goes(f"/jobs/{work.job_id}/")
    work.gate()


def test_the_rest_is_written_down_and_tapped_by_touch(person, script):
    person.size(768, 1024)
    work = at_the_fit(person, script, centre_shot=0.15)
    script.on_the_bow("arrow", **OWN_ARROW)
    script.on_the_bow("rest", **DROP_AWAY)
    script.read("nock_to_peep", "nock_height", "arrow_level", "centre_shot")
    for key in set(script.state().course.situation.fit_outside) - {"centre_shot"}:
        leave_it(script.job.pk, script.submission(), [key], "the archer wants it so")
    person.goes(f"/jobs/{work.job_id}/{FitStep.key}/")
    person.sees("Rest, sideways")
    person.axe()
    version = Job.objects.get(pk=work.job_id).version
    work.does(lambda: person.touches(css=".bar .act"))
    assert Job.objects.get(pk=work.job_id).version == version + 1
    assert any(row.adjuster == "rest_out" for row in work.state().adjustments)
