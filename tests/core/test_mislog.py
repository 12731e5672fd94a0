"""A change that was written down wrongly: the readings after it say so, and only then."""

import numpy as np
import pytest

from bowcore.adjusters.steps import Steps
from bowcore.bow.specification import Family
from bowcore.learning.history import Read, Turned, learn
from bowcore.learning.prior import prior_of_twins
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.simulation.simulated_bow import Faults, SimulatedBow
from tests.core.bows import twin_of

NAMES = ("axle_to_axle", "brace_height", "draw_length", "peak_weight", "stop_gap")
PRIOR = prior_of_twins(twin_of(Family.BINARY), [])


def after(turned, logged, seed=1):
    """What is doubted when one thing was turned and another written down."""
    bow = SimulatedBow(twin_of(Family.BINARY), Faults(), np.random.default_rng(seed))

    def reads():
        return [Read(n, tuple(bow.take(n) for _ in range(QUANTITIES[n].takes))) for n in NAMES]

    events = reads()
    bow.turn(Steps(turned))
    return learn(PRIOR, [*events, Turned(Steps(logged)), *reads()]).doubted


@pytest.mark.parametrize(
    ("turned", "logged"),
    [
        ({"cable_a": 3}, {"cable_a": -3}),
        ({"cable_a": 3}, {"cable_b": 3}),
        ({"cable_b": -4, "string": 2}, {"cable_b": 4, "string": 2}),
    ],
)
def test_the_wrong_way_and_the_wrong_part_are_asked_about(turned, logged):
    found = [after(turned, logged, seed) for seed in range(5)]
    assert sum(one is not None and dict(one.moved_as) == turned for one in found) >= 4


@pytest.mark.parametrize("turned", [{"cable_a": 2}, {"cable_a": -3, "cable_b": 1}, {"string": 4}])
def test_what_was_written_down_rightly_is_not_doubted(turned):
    assert not any(after(turned, turned, seed) for seed in range(8))


def test_one_reading_alone_doubts_nothing():
    gap = Read("stop_gap", (0.0, 0.0))
    known = learn(PRIOR, [gap, Turned(Steps({"cable_a": 4})), Read("stop_gap", (-0.08, -0.08))])
    assert known.doubted is None


def test_a_change_that_is_no_twist_is_not_doubted():
    assert learn(PRIOR, [Turned(Steps({"limb_bolts": 2}))]).doubted is None
