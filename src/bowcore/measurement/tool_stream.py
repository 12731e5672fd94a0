"""What a tool on the bench is showing: a live value, or why it is not to be believed."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from math import isfinite
from statistics import median

from bowcore.quantities.quantity import Quantity

FROZEN_AFTER = 6
"""So many samples alike to the last digit: a force or a jaw in a hand is never that still."""


class ToolHealth(StrEnum):
    """How a tool behaves."""

    WELL = "well"
    SILENT = "silent"
    FROZEN = "frozen"
    ABSURD = "absurd"


MESSAGES = {
    ToolHealth.WELL: "",
    ToolHealth.SILENT: "does not answer: is it plugged in and switched on?",
    ToolHealth.FROZEN: "has not moved at all: switch it off and on, then read again.",
    ToolHealth.ABSURD: "shows what no bow has: is it zeroed, and in the right unit?",
}
"""What the technician reads; the tool's name comes before it."""


@dataclass(frozen=True)
class ToolReading:
    """The newest value, None where there is nothing to take, and the tool's health."""

    value: float | None
    health: ToolHealth

    @property
    def message(self) -> str:
        return MESSAGES[self.health]


def judge_stream(samples: Sequence[float], quantity: Quantity) -> ToolReading:
    """Judge the last samples of a tool.

    Parameters
    ----------
    samples : sequence of float
        Newest last, in the quantity's unit; empty when the tool is silent.
    quantity : Quantity
        What is being measured.

    Returns
    -------
    ToolReading
        The median of the last three samples when the tool is well; no value otherwise.
    """
    if not samples or not all(map(isfinite, samples)):
        return ToolReading(None, ToolHealth.ABSURD if samples else ToolHealth.SILENT)
    low, high = quantity.limits
    if not low <= samples[-1] <= high:
        return ToolReading(None, ToolHealth.ABSURD)
    if len(samples) >= FROZEN_AFTER and len(set(samples[-FROZEN_AFTER:])) == 1:
        return ToolReading(None, ToolHealth.FROZEN)
    return ToolReading(float(median(samples[-3:])), ToolHealth.WELL)
