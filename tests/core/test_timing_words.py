"""What a timing plan says: what is seen follows the gap's sign, what is done the way to its target."""

import pytest

from bowcore.bow.specification import CABLE_A, CABLE_B
from bowcore.deciding.reasons import say_timing

LABELS = {CABLE_A: "Top take-up cable", CABLE_B: "Bottom take-up cable"}


@pytest.mark.parametrize(
    ("gap_in", "target_in", "seen", "first_in"),
    [
        (0.0625, 0.0, "The bottom stop touches first: the bottom cam is ahead.", CABLE_B),
        (-0.0625, 0.0, "The top stop touches first: the top cam is ahead.", CABLE_A),
        (0.0, -0.0625, "Both stops touch together; wanted is bottom 1/16 open.", CABLE_B),
        (0.03125, -0.0625, "The bottom stop touches first: the bottom cam is ahead.", CABLE_B),
        (-0.03125, -0.125, "The top stop touches first, by less than wanted: bottom 1/8 open.", CABLE_B),
        (-0.1875, -0.0625, "The top stop touches first: the top cam is ahead.", CABLE_A),
    ],
)  # fmt: skip
def test_the_reason_agrees_with_the_gap_and_with_what_is_turned(gap_in, target_in, seen, first_in):
    said = say_timing(gap_in, LABELS, target_in)
    assert said.startswith(seen)
    assert f"Twist the {LABELS[first_in].lower()} in" in said
