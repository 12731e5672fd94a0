"""What work costs at the bench, counted: keys, touches and screens of four whole pieces of work.

The limits are goals of the product (an act is a touch, or a field filled and entered); `bench/effort.py`
prints the figures.
"""

import json
import os
from pathlib import Path

import pytest
from django.utils import timezone

from bowcore.stages.replace.gates import gate_points
from shop.schema.accounts.models import Shop
from shop.schema.jobs.models import Job
from shop.schema.measurements.models import Reading
from tests.journeys.work import ENTER, SPACE, TAB, Work, with_alt

pytestmark = [pytest.mark.browser, pytest.mark.django_db(transaction=True)]


class Effort:
    """Counts while it types and touches."""

    def __init__(self, person, name):
        self.person, self.name = person, name
        self.keys = self.acts = self.screens = 0

    def types(self, *keys):
        """Keys to whatever has the focus."""
        text = "".join(keys)
        self.keys += len(text)
        self.person.types(*keys)

    def act(self, does, screen=True):
        """A touch, or a field filled and entered."""
        self.acts += 1
        self.screens += screen
        return does()

    def report(self, **limits):
        """Hold the goals, and leave the figures for the bench."""
        found = {name: getattr(self, name) for name in limits}
        if target := os.environ.get("FENNOCK_EFFORT_FILE"):
            line = json.dumps({"work": self.name, "found": found, "goals": limits})
            with Path(target).open("a") as file:
                file.write(line + "\n")
        over = {name: value for name, value in found.items() if value > limits[name]}
        assert not over, f"{self.name}: {found}, goals {limits}"


def test_a_timing_check_takes_few_acts(person, script):
    script.check_in(["timing_check"], fitted=[])
    person.logs_in()
    effort, work = Effort(person, "timing check, from the rack to handed over"), None
    effort.act(lambda: person.touches(words="R. Okafor"))
    person.sees("place by place")
    effort.act(lambda: person.touches(css="[data-rest]"), screen=False)
    work = Work(person)
    effort.act(lambda: work.does(lambda: person.types(ENTER)))
    while work.asked():
        effort.acts += len(person.all("#entry .line")) - 1  # each line is typed
        effort.act(work.read)
    if work.state().course.outside:
        return
    while work.state().course.next.step != "hand_over":
        effort.act(lambda: person.types(ENTER))
    person.goes(f"/jobs/{script.job.pk}/hand_over/")
    effort.act(lambda: work.does(lambda: person.types(ENTER)))
    assert Job.objects.get().handed_over_at
    effort.report(acts=12)


def test_a_restring_of_a_binary_takes_few_acts_and_screens(person, script):
    Shop.objects.update(replacement="one at a time, in one press")
    script.check_in(["whole_set"], fitted=["peep"])
    script.inspect()
    script.baseline()
    person.logs_in()
    person.goes(f"/jobs/{script.job.pk}/replace/")
    work, effort = Work(person), Effort(person, "restring of a binary, at the press")
    effort.act(lambda: person.types(ENTER))
    person.sees("Where does each new part come from")
    effort.act(lambda: work.does(lambda: person.touches(words="All from the shelf")))
    effort.act(lambda: work.does(lambda: person.types(ENTER)))
    for part in script.bow.spec.parts:
        work.lengths[part.role] = ""
    while person.all("#length"):
        field = person.find("#length")
        if not field.get_attribute("value"):
            field.send_keys("34 7/8")
        effort.act(lambda: work.does(lambda: person.types(ENTER)))
    person.sees("Gate, point by point")
    for number in range(1, len(gate_points(script.state().in_press)) + 1):
        effort.act(
            lambda n=number: person.touches(css=f".gate li:nth-child({n}) label"), screen=False
        )
    effort.act(lambda: work.does(lambda: person.types(ENTER)))
    assert not script.state().facts.still_to_replace
    effort.report(acts=35, screens=16)


def test_a_model_outside_the_book_takes_few_keys_to_its_first_reading(person, floor):
    person.logs_in()
    effort = Effort(person, "unknown model, from the rack to its first reading")
    effort.types(*with_alt("c"))
    person.sees("whose bow")
    effort.types("V. Li", ENTER)
    person.sees("No customer called")
    effort.types(TAB, TAB, ENTER)
    person.sees("Asked for")
    person.find("#id_customer_name").click()
    effort.types(TAB, TAB, TAB, ENTER)  # phone, model, "not in the book"
    effort.types("Ebber", TAB, "Wren", TAB, "h", TAB, "32", TAB, "7")
    effort.types(TAB, TAB, "55", TAB, "28", TAB, TAB, SPACE, ENTER)
    person.sees("place by place")
    effort.types("1" * 12)
    effort.types(ENTER)
    work = Work(person)
    person.wait(lambda d: work.asked(), words="the first reading")
    number = "32 1/16"
    effort.types(number, ENTER)
    person.wait(lambda d: work.asked() == "nock_to_peep", words="the next line")
    person.touches(css=".bar .act")
    person.wait(lambda d: Reading.objects.exists(), words="a reading")
    effort.keys -= len(number)  # the number's own
    assert Job.objects.get().bow.entry.guessed
    effort.report(keys=60)


def test_a_reading_takes_its_own_keys_and_one_more(person, script):
    script.check_in(["back_to_spec"])
    script.inspect()
    person.logs_in()
    person.goes(f"/jobs/{script.job.pk}/")
    work, effort = Work(person), Effort(person, "a reading, beyond its own keys")
    person.wait(lambda d: work.asked(), words="a reading")
    effort.types("31 1/4", ENTER)
    person.wait(lambda d: work.asked() == "nock_to_peep", words="the next line")
    person.touches(css=".bar .act")
    person.wait(lambda d: Reading.objects.exists(), words="a reading")
    effort.keys -= len("31 1/4")
    effort.report(keys=1)


SECONDS_AN_ACT = 5
"""To read a tool and type what it says, or to touch a button (common practice, no published source)."""


def test_the_baseline_of_a_known_bow_takes_under_three_minutes(person, script):
    script.check_in(["back_to_spec"], fitted=["peep", "loop", "rest"])
    script.inspect()
    script.baseline()
    script.read_asked()
    script.follow_plan()
    script.read_asked()
    before = Job.objects.get()
    Job.objects.update(handed_over_at=timezone.now())
    person.logs_in()
    person.goes(f"/jobs/new/?bow={before.bow_id}")
    person.touches(words="Back to spec")
    person.touches(css=".bar .act")
    person.sees("place by place")
    work = Work(person)
    person.touches(css="[data-rest]")
    work.does(lambda: person.types(ENTER))
    effort = Effort(person, "baseline of a known bow")
    while work.asked():
        effort.acts += len(person.all("#entry .line")) - 1  # each line is typed
        effort.act(work.read)
    assert work.value_of("#note input[name=mark]")
    effort.act(lambda: work.does(lambda: person.touches(words="as last time")))
    assert not work.state().course.unmarked and not work.state().course.unread
    effort.report(acts=180 // SECONDS_AN_ACT)
