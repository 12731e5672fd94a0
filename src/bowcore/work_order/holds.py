"""Holds: why a job waits, and what it may not do meanwhile."""

from collections.abc import Collection
from dataclasses import dataclass

from bowcore.work_order import cautions


@dataclass(frozen=True)
class HoldKind:
    """Why a job waits.

    `stops` lists what may not be done: draw, press, replace, shoot, hand_over. `lifted_at` is the key of
    the step where the wait ends, if that is not the step that waits.
    """

    key: str
    name: str
    stops: tuple[str, ...]
    caution: str
    lifted_at: str = ""

    @property
    def danger(self) -> bool:
        """Whether it is about safety: a bow that is not to be drawn."""
        return "draw" in self.stops


ARROWS = "arrows"
SIGNATURE = "signature"
"""A technician or a manager decides: what an apprentice may not sign."""

HOLDS = {
    hold.key: hold
    for hold in (
        HoldKind("do_not_draw", "Do not draw", ("draw", "hand_over"), cautions.DO_NOT_DRAW),
        HoldKind(
            "service", "Authorised service", ("draw", "press", "hand_over"),
            f"{cautions.DO_NOT_DRAW} {cautions.SERVICE}",
        ),
        HoldKind("set", "Waits for its string set", ("replace",), "Lift it when the set is here.",
                 "string_set"),
        HoldKind(ARROWS, "Waits for the arrows", ("shoot",),
                 "Ask for the arrow; nothing is shot without it."),
        HoldKind("customer", "Waits for the customer", (), ""),
        HoldKind(SIGNATURE, "Waits for a signature", (), ""),
    )
}  # fmt: skip


def may_be_lifted(parts: Collection[str], new: Collection[str], press_open: bool) -> bool:
    """Whether lifting a hold is offered: every part that it names is a new one, and the press is let
    down through its gate."""
    return bool(parts) and set(parts) <= set(new) and not press_open


def stopped_by(holds: tuple[str, ...], act: str) -> HoldKind | None:
    """The first active hold that stops an act ("draw", "press", "hand_over"), or None."""
    for key in holds:
        if act in HOLDS[key].stops:
            return HOLDS[key]
    return None
