"""Where the hands go next: what is opened is in view and focused, and an error focuses its own box."""

import pytest

from tests.journeys.test_keys import reading  # noqa: F401  (a fixture)
from tests.journeys.work import Work

pytestmark = [pytest.mark.browser, pytest.mark.django_db(transaction=True)]
IN_VIEW = """
const box = document.activeElement.getBoundingClientRect();
const bar = document.querySelector(".bar");
const end = bar.contains(document.activeElement) ? innerHeight : bar.getBoundingClientRect().top;
return box.height > 0 && box.top >= 0 && box.bottom <= end;
"""


def named(person):
    return person.driver.execute_script("return document.activeElement.name")


def in_view(person):
    return person.driver.execute_script(IN_VIEW)


def test_replace_by_mouse_goes_to_its_note(person, script):
    script.check_in(["back_to_spec"])
    person.logs_in()
    person.goes(f"/jobs/{script.job.pk}/inspection/")
    for choice in person.all("input[value=replace]")[:3]:
        label = choice.find_element("xpath", "./ancestor::label")
        person.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", label)
        label.click()
        row = choice.get_attribute("name").rsplit("-", 1)[0]
        person.wait(lambda d, row=row: named(person) == f"{row}-note", words="its note")
        assert in_view(person)


def test_cannot_be_read_goes_to_its_reason(person, reading):  # noqa: F811
    person.touches(words="Cannot be read")
    person.wait(lambda d: named(person) == "reason", words="the reason")
    assert in_view(person)


def test_a_row_far_down_opens_in_view_with_its_field_in_focus(person, reading):  # noqa: F811
    for width, height in ((1280, 800), (390, 844)):
        person.size(width, height)
        for name in ("nock_to_kisser", "holding_weight", "timing_tips"):
            person.goes(f"/jobs/{reading.job_id}/baseline/?at={name}")
            person.wait(lambda d, name=name: reading.asked() == name, words=name)
            person.settles()
            person.wait(lambda d: named(person).endswith("-text"), words="its field")
            person.wait(lambda d: in_view(person), words=f"{name} in view at {width}")
    person.size(1280, 800)


def test_an_error_focuses_the_wrong_fields_own_box(person, floor):
    person.logs_in()
    person.goes("/jobs/new/?new=Q.%20Marsh")
    person.find("#id_marked_weight_lbf").send_keys("sixty")
    person.touches(words="Check it in")
    person.sees("was not understood")
    wrong = person.all(".field.wrong input, .field.wrong select, fieldset.wrong input")
    first = wrong[0].get_attribute("name")
    person.wait(lambda d: named(person) == first, words=first)
    assert in_view(person)


def test_a_pull_on_the_board_is_filled_from_top_to_bottom(person, reading):  # noqa: F811
    person.goes(f"/jobs/{reading.job_id}/baseline/?at=peak_weight")
    person.wait(lambda d: reading.asked() == "peak_weight")
    person.types("p")
    person.sees("One pull on the board")
    person.settles()
    fields = [one for one in person.all("#work input[type=text]") if one.is_displayed()]
    tops = [one.rect["y"] for one in fields]
    assert len(fields) > 2 and tops == sorted(tops)
    assert Work(person).job.version == reading.job.version
