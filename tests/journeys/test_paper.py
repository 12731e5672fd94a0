"""The paper in a real browser: holes by touch on a tablet and by arrow keys, to a clean one."""

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from bowcore.work_order.services import SHOOT_IN
from shop.demo.scenes import OWN_ARROW
from shop.schema.tuning.models import ShotFired, SuspectLookedAt
from tests.journeys.work import Work

pytestmark = [pytest.mark.browser, pytest.mark.django_db(transaction=True)]


def at_the_paper(person, script):
    script.check_in([SHOOT_IN])
    script.inspect()
    script.baseline()
    script.back_to_spec()
    script.on_the_bow("arrow", **OWN_ARROW)
    person.logs_in()
    person.goes(f"/jobs/{script.job.pk}/")
    person.sees("Next at the paper")
    return Work(person)


def taps_holes(person, right, up):
    """Tap the point's hole in the middle of the sheet, then the nock's, so many inches off."""
    sheet = person.find("[data-sheet]")
    inch = sheet.rect["width"] / float(sheet.get_dom_attribute("viewBox").split()[2])
    for x, y in ((0, 0), (right, up)):
        ActionChains(person.driver).move_to_element_with_offset(
            sheet, round(x * inch), round(-y * inch)
        ).click().perform()


def test_a_tear_is_tapped_a_suspect_looked_at_and_the_next_shots_are_clean(person, script):
    person.size(768, 1024)
    work = at_the_paper(person, script)
    for _ in range(2):
        taps_holes(person, -0.25, 0.5)
        person.wait(lambda d: person.find("#said").text == "nock 1/2 in high, 1/4 in left")
        work.does(lambda: person.touches(words="Save the shot"))
    first = ShotFired.objects.first()
    assert (first.x_in, first.y_in) == pytest.approx((-0.25, 0.5), abs=0.04)
    person.sees("Contact with rest or cables")
    person.axe()
    while not SuspectLookedAt.objects.exists():
        answer = ".bar [data-answer]:not([name])"
        work.does(lambda c=answer: person.touches(css=c if person.all(c) else ".bar .act"))
    person.sees("looked at")
    assert person.console() == []


def test_holes_are_set_by_arrow_keys_and_enter_saves_them(person, script):
    work = at_the_paper(person, script)
    for _ in range(2):
        person.driver.execute_script("document.querySelector('[data-sheet]').focus()")
        person.types(Keys.ARROW_UP)
        person.wait(lambda d: person.find("#said").text == "nock 1/16 in high")
        work.does(lambda: person.types(Keys.ENTER))
    assert {(row.x_in, row.y_in) for row in ShotFired.objects.all()} == {(0.0, 0.0625)}
    person.sees("Everything that is required")
    assert work.state().course.next.step == "hand_over"
    assert person.console() == []
