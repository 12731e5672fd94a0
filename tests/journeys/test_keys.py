"""Every key of the list of keys does in a real browser what the list says."""

import pytest
from selenium.webdriver.common.keys import Keys

from shop.schema.accounts.models import Shop
from shop.schema.jobs.models import Job
from shop.schema.measurements.models import MarkEntry, Reading
from tests.journeys.work import Work, with_alt

pytestmark = [pytest.mark.browser, pytest.mark.django_db(transaction=True)]


@pytest.fixture
def reading(person, script):
    """A job whose baseline is being read, the field of its first reading in focus."""
    script.check_in(["back_to_spec"], fitted=["peep", "kisser"])
    script.inspect()
    person.logs_in()
    person.goes(f"/jobs/{script.job.pk}/")
    work = Work(person)
    person.wait(lambda d: work.asked(), words="a reading")
    return work


def focus(person):
    return person.driver.execute_script("return document.activeElement.id")


def test_keys_that_lead_from_screen_to_screen(person, script):
    script.check_in(["back_to_spec"])
    script.inspect()
    job = script.job.pk
    person.logs_in()
    person.types("c")  # a single key leaves no page
    person.types(*with_alt("c"))
    person.sees("whose bow")
    person.types(Keys.ESCAPE, *with_alt("r"))
    person.sees("in hand")
    person.types("/")
    person.wait(lambda d: focus(person) == "find", words="the search")
    person.types(Keys.ESCAPE)
    person.types("j")
    person.wait(lambda d: "data-row" in d.switch_to.active_element.get_attribute("outerHTML")[:400])
    person.types("?")
    person.sees("the next action, bottom right")
    person.types(Keys.ESCAPE)
    person.goes(f"/jobs/{job}/inspection/")
    for key, words in (("l", "Log and changes"), ("v", "Force"), ("1", "Checked in")):
        person.types(*with_alt(key))
        person.sees(words)
    person.goes(f"/jobs/{job}/log/")
    person.types(*with_alt("3"))
    person.sees("before anything is loosened")


def test_digits_go_to_the_field_wherever_the_focus_is(person, reading):
    person.types(Keys.ESCAPE)
    person.wait(lambda d: focus(person) != "axle_to_axle-text", words="no focus")
    person.types("3")
    person.types("1 1/4", Keys.ENTER)
    person.wait(lambda d: reading.asked() != "axle_to_axle", words="the next line")
    person.touches(css=".bar .act")
    person.wait(lambda d: Reading.objects.exists(), words="a reading")
    assert Reading.objects.get().raw == "31 1/4"


def test_skip_and_cannot_be_read(person, reading):
    person.goes(f"/jobs/{reading.job_id}/baseline/?at=nock_to_kisser")
    person.wait(lambda d: reading.asked() == "nock_to_kisser")
    reading.does(lambda: person.types("s"))
    assert Reading.objects.get().reason == "skipped"
    person.goes(f"/jobs/{reading.job_id}/baseline/?at=axle_to_axle")
    person.wait(lambda d: reading.asked() == "axle_to_axle")
    person.types("n")
    person.wait(lambda d: person.find("details.unreadable").get_attribute("open"), words="why not")


def test_what_cannot_be_read_is_the_line_that_is_open(person, reading):
    reading.field().send_keys("31 1/4", Keys.ENTER)
    person.wait(lambda d: reading.asked() == "nock_to_peep", words="the next line")
    person.types(Keys.ESCAPE)
    person.types("n")
    person.wait(lambda d: person.find("details.unreadable").get_attribute("open"), words="why not")
    person.find("details.unreadable input[name=reason]").send_keys("the peep has slipped")
    reading.does(lambda: person.touches(css="details.unreadable button"))
    row = Reading.objects.get()
    assert (row.quantity, row.reason) == ("nock_to_peep", "the peep has slipped")
    assert reading.value_of("#axle_to_axle-text") == "31 1/4"  # what was typed is still there


@pytest.mark.parametrize(("keys", "value"), [("t1/16", -1 / 16), ("b1/16", 1 / 16), ("0", 0)])
def test_cam_timing_by_a_letter_and_its_size(person, reading, keys, value):
    person.goes(f"/jobs/{reading.job_id}/baseline/?at=stop_gap")
    person.wait(lambda d: reading.asked() == "stop_gap")
    person.types(*keys)
    reading.does(lambda: person.touches(css=".bar .act"))
    assert float(Reading.objects.get().value) == value


def test_marks_as_last_time(person, script):
    script.check_in(["back_to_spec"], fitted=["peep"])
    script.inspect()
    script.baseline()
    first = script.job
    Job.objects.update(cancelled_at=first.opened_at)
    script.check_in(["back_to_spec"], fitted=["peep"], bow=first.bow)
    script.inspect()
    person.logs_in()
    person.goes(f"/jobs/{script.job.pk}/baseline/?at=module_top")
    person.sees("At its last visit")
    work = Work(person)
    person.types(Keys.ESCAPE)
    work.does(lambda: person.types("a"))
    assert not work.state().course.unmarked
    old, new = (set(MarkEntry.objects.filter(job=j).values_list("mark", "value"))
                for j in (first, script.job))  # fmt: skip
    assert new <= old


def test_a_metric_key_takes_the_place_of_the_one_before(person, reading):
    Shop.objects.update(lengths="millimetres")
    person.goes(f"/jobs/{reading.job_id}/baseline/?at=stop_gap")
    person.wait(lambda d: reading.asked() == "stop_gap")
    person.touches(words="Top")
    for size in ("1.5", "2"):
        person.touches(css=f".pad button[data-value='{size}']")
    assert reading.value_of("#stop_gap-text") == "2"
    reading.does(lambda: person.touches(css=".bar .act"))
    assert float(Reading.objects.get().value) == pytest.approx(-2 / 25.4, abs=1e-5)


@pytest.mark.parametrize("width", [390, 768])
def test_no_page_scrolls_sideways_and_the_bar_stays_low(person, reading, width):
    person.size(width, 900)
    job = reading.job_id
    for path in ("/", f"/jobs/{job}/inspection/", f"/jobs/{job}/baseline/?at=tiller", f"/jobs/{job}/log/",
                 f"/jobs/{job}/check_in/", f"/jobs/{job}/sheet/", "/people/", "/people/log/", "/shop/",
                 "/book/", "/jobs/sets/", "/find/?q=okafor", "/jobs/new/?new=V"):  # fmt: skip
        person.goes(path)
        wide, bar = person.driver.execute_script(
            "return [document.documentElement.scrollWidth, document.querySelector('.bar')?.offsetHeight || 0]"
        )
        assert wide <= width and bar <= 80, (path, wide, bar)
