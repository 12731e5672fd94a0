"""What a tool on the bench shows: taken when it is well, said so when it is not."""

from math import nan

import pytest

from bowcore.measurement.tool_stream import ToolHealth, judge_stream
from bowcore.quantities.catalogue import QUANTITIES

PEAK = QUANTITIES["peak_weight"]


def test_a_well_tool_gives_the_median_of_its_last_three():
    live = judge_stream([10.0, 60.2, 60.1, 60.4], PEAK)
    assert (live.value, live.health, live.message) == (60.2, ToolHealth.WELL, "")


@pytest.mark.parametrize(
    ("samples", "health"),
    [
        ([], ToolHealth.SILENT),
        ([60.1, nan], ToolHealth.ABSURD),
        ([60.1, 1060.1], ToolHealth.ABSURD),
        ([60.1] * 6, ToolHealth.FROZEN),
    ],
)
def test_a_tool_that_is_not_well_gives_no_value_and_says_why(samples, health):
    live = judge_stream(samples, PEAK)
    assert live.value is None and live.health is health and live.message


def test_five_alike_are_chance_and_six_are_not():
    assert judge_stream([60.1] * 5, PEAK).health is ToolHealth.WELL
    assert judge_stream([60.0] + [60.1] * 5, PEAK).health is ToolHealth.WELL
