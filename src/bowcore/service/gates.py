"""The groove gate: what must be seen, point by point, before the press is let down."""

from collections.abc import Iterable
from dataclasses import dataclass

from bowcore.errors import Refused
from bowcore.mechanics.specification import Family


@dataclass(frozen=True)
class GatePoint:
    """One thing that is looked at and confirmed."""

    key: str
    text: str


_EVERY = (
    GatePoint("string_grooves", "String lies in its groove on both cams"),
    GatePoint("cable_grooves", "Every cable lies in its own groove, take-up and let-out"),
    GatePoint("loops_seated", "End loops and tear-drops are seated on their pegs"),
    GatePoint("clips_in", "Axle clips and set screws are in"),
    GatePoint("guard_side", "Cables are on the right side of the guard or in their rollers"),
    GatePoint("rest_cord_free", "Rest cord is free, nothing caught between limb and string"),
)
_YOKES = GatePoint("yokes_seated", "Both yoke legs are seated and even")
_SPACERS = GatePoint(
    "spacers_in", "Every spacer still sits between its halves: the press may free it"
)


def gate_points(family: Family, spacers: bool = False) -> tuple[GatePoint, ...]:
    """What the gate asks for on a bow of this family, with or without spacers in its cables."""
    points = _EVERY if family is Family.BINARY else (*_EVERY, _YOKES)
    return (*points, _SPACERS) if spacers else points


def require_gate(family: Family, confirmed: Iterable[str], spacers: bool = False) -> None:
    """Refuse to let down while a point is not confirmed.

    Raises
    ------
    Refused
        Names every point that is missing. There is no way round it.
    """
    seen = set(confirmed)
    missing = [point.text for point in gate_points(family, spacers) if point.key not in seen]
    if missing:
        raise Refused("Do not let down yet. Not confirmed: " + "; ".join(missing) + ".")
