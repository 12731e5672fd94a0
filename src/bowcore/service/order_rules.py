"""What comes before what, as reasons rather than locks: a technician may have his own.

Gates and holds are the locks; these are what an old hand would say when he sees the order.
"""

from collections.abc import Mapping
from dataclasses import dataclass


@dataclass(frozen=True)
class OrderRule:
    """`first` before `then`, and why."""

    first: str
    then: str
    why: str


RULES = (
    OrderRule("peep_in", "loop_tied",
              "Splitting the string for the peep turns the loop; tie it afterwards."),
    OrderRule("bolts_back", "levelled",
              "Levels and static marks mean nothing while the bolts stand out."),
    OrderRule("bolts_back", "timing_at_rest",
              "Timing read at rest needs both limb bolts where they belong."),
    OrderRule("lean", "fine_timing",
              "A yoke leg moves lean and timing together; lean first, or timing is done twice."),
    OrderRule("timing", "rest_cord",
              "Every twist moves when the rest comes up; set its cord when the timing stands."),
    OrderRule("cables", "string_length",
              "Cables are the sensitive part; the string is set last."),
)  # fmt: skip


def said_against(done: Mapping[str, bool], about_to: str) -> list[str]:
    """What an old hand would say against doing something now, given what is done."""
    return [r.why for r in RULES if r.then == about_to and not done.get(r.first, False)]
