"""What a tool on the bench is showing: a live value, or why it is not to be believed."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from math import isfinite
from statistics import median

from bowcore.quantities.catalogue import Quantity

FROZEN_AFTER = 6
"""So many samples alike to the last digit: a force or a jaw in a hand never stands that still."""


class Health(StrEnum):
    """How a tool behaves."""

    WELL = "well"
    SILENT = "silent"
    FROZEN = "frozen"
    ABSURD = "absurd"


SAID = {
    Health.WELL: "",
    Health.SILENT: "says nothing: is it plugged in and switched on?",
    Health.FROZEN: "has not moved at all: switch it off and on, then read again.",
    Health.ABSURD: "shows what no bow has: is it zeroed, and in the right unit?",
}
"""What the technician is told."""


@dataclass(frozen=True)
class Live:
    """The newest value, None where there is none to take, and the tool's health."""

    value: float | None
    health: Health

    @property
    def said(self) -> str:
        return SAID[self.health]


def judge_stream(samples: Sequence[float], quantity: Quantity) -> Live:
    """Judge the last samples of a tool.

    Parameters
    ----------
    samples : sequence of float
        Newest last, in the quantity's unit; empty when the tool is silent.
    quantity : Quantity
        What is being measured.

    Returns
    -------
    Live
        The median of the last three samples when the tool is well; no value otherwise.
    """
    if not samples or not all(map(isfinite, samples)):
        return Live(None, Health.ABSURD if samples else Health.SILENT)
    low, high = quantity.sane
    if not low <= samples[-1] <= high:
        return Live(None, Health.ABSURD)
    if len(samples) >= FROZEN_AFTER and len(set(samples[-FROZEN_AFTER:])) == 1:
        return Live(None, Health.FROZEN)
    return Live(float(median(samples[-3:])), Health.WELL)
