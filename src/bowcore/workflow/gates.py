"""The groove gate: what must be seen, point by point, before the press is let down."""

from collections.abc import Collection, Iterable
from dataclasses import dataclass

from bowcore.adjusters.registry import KINDS
from bowcore.errors import Refused
from bowcore.mechanics.specification import BowSpec
from bowcore.quantities.changes import Change


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


def gate_points(spec: BowSpec, in_use: Collection[Change] = ()) -> tuple[GatePoint, ...]:
    """What the gate asks for on a bow.

    Parameters
    ----------
    spec : BowSpec
        The bow.
    in_use : collection of Change
        Kinds of adjuster that are in now, such as spacers.

    Returns
    -------
    tuple of GatePoint
        The points of every bow, then those of the adjusters that it has.
    """
    texts = {
        kind.kind: kind.gate_point(spec, any(change.value == kind.kind for change in in_use))
        for kind in KINDS.values()
    }
    own = tuple(GatePoint(f"{name}_seated", text) for name, text in texts.items() if text)
    return _EVERY + own


def require_gate(spec: BowSpec, confirmed: Iterable[str], in_use: Collection[Change] = ()) -> None:
    """Refuse to let down while a point is not confirmed.

    Raises
    ------
    Refused
        Names every point that is missing. It cannot be skipped.
    """
    seen = set(confirmed)
    missing = [point.text for point in gate_points(spec, in_use) if point.key not in seen]
    if missing:
        raise Refused("Do not let down yet. Not confirmed: " + "; ".join(missing) + ".")
