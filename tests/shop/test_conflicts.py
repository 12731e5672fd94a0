"""An act that the database could not finish is done once more as a whole, and is one fact."""

import uuid

import pytest
from django.db import OperationalError
from django.urls import reverse

from shop.casework.conflicts import TRIES, as_a_whole
from shop.schema.measurements.models import Reading
from tests.shop.posting import line

TRANSACTION = pytest.mark.django_db(transaction=True)
DEADLOCK = OperationalError(1213, "Deadlock found when trying to get lock")


class Failing:
    """An act that fails so many times before it succeeds."""

    def __init__(self, times, error=DEADLOCK):
        self.left, self.error, self.calls, self.rewound = times, error, 0, 0

    def __call__(self):
        self.calls += 1
        if self.left:
            self.left -= 1
            raise self.error
        return "done"

    def run(self):
        waits = []
        return as_a_whole(
            self, lambda: setattr(self, "rewound", self.rewound + 1), waits.append
        ), waits


@TRANSACTION
@pytest.mark.parametrize("number", [1205, 1213, 1047])
def test_a_conflict_is_tried_again_ever_later(number):
    act = Failing(3, OperationalError(number, "…"))
    answer, waits = act.run()
    assert answer == "done" and act.calls == 4 and act.rewound == 3
    assert waits == sorted(waits) and all(0 < wait < 5 for wait in waits)


@TRANSACTION
def test_not_for_ever():
    act = Failing(99)
    with pytest.raises(OperationalError):
        act.run()
    assert act.calls == TRIES


@TRANSACTION
def test_what_does_not_pass_by_itself_is_not_tried_again():
    act = Failing(1, OperationalError(1146, "Table 'x' doesn't exist"))
    with pytest.raises(OperationalError):
        act.run()
    assert act.calls == 1


def test_nothing_is_tried_again_inside_of_a_transaction(db):
    act = Failing(1)
    with pytest.raises(OperationalError):
        act.run()
    assert act.calls == 1


@TRANSACTION
def test_a_post_that_meets_a_deadlock_is_one_fact(page, script, monkeypatch):
    script.check_in(["back_to_spec"])
    script.inspect()
    save, met = Reading.save, []

    def once_refused(self, *args, **kwargs):
        save(self, *args, **kwargs)
        if not met:
            met.append(self)
            raise DEADLOCK

    monkeypatch.setattr(Reading, "save", once_refused)
    data = line("axle_to_axle", text="31 1/4", start="axle_centre", end="axle_centre")
    data["key"] = uuid.uuid4()
    seen = type(script.job).objects.get(pk=script.job.pk).version
    answer = page.post(
        reverse("take_readings", args=[script.job.pk, "baseline"]), data | {"seen": seen}
    )
    assert answer.status_code == 302 and met
    assert Reading.objects.count() == 1
