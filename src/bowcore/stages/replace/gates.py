"""The groove gate: what must be seen, point by point, before the press is let down."""

from collections.abc import Collection, Iterable
from dataclasses import dataclass

from bowcore.adjusters.registry import KINDS
from bowcore.bow.specification import BowSpec
from bowcore.errors import Refused
from bowcore.quantities.changes import Change


@dataclass(frozen=True)
class GatePoint:
    """One thing that is looked at and confirmed."""

    key: str
    text: str


@dataclass(frozen=True)
class BowInPress:
    """What decides which points the gate asks for.

    Attributes
    ----------
    spec : BowSpec
        The bow.
    in_use : collection of Change
        Kinds of adjuster that are in now, such as spacers.
    bolts_out : bool
        The limb bolts were backed off for this press.
    tray : sequence of str
        Small parts of this bow that are out of it.
    replaced : sequence of str
        Roles of the parts that this press was opened for.
    """

    spec: BowSpec
    in_use: Collection[Change] = ()
    bolts_out: bool = False
    tray: tuple[str, ...] = ()
    replaced: tuple[str, ...] = ()


_EVERY = (
    GatePoint("string_grooves", "String lies in its groove on both cams"),
    GatePoint("cable_grooves", "Every cable lies in its own groove, take-up and let-out"),
    GatePoint("loops_seated", "End loops and tear-drops are seated on their pegs"),
    GatePoint("clips_in", "Axle clips and set screws are in"),
    GatePoint("axles_clear", "Nothing is caught between axle, spacer and limb"),
    GatePoint("rest_cord_free", "Rest cord is free, nothing caught between limb and string"),
)
_GUARD = GatePoint("guard_side", "Cables are on the right side of the guard or in their rollers")
_NO_GUARD = GatePoint("guard_side", "Each cable is on its own side of the cam, top and bottom")
_HARNESS = GatePoint("harness_closed", "Every yoke connector is closed, its cable in the groove")
_AXLE = GatePoint(
    "axle_in", "The axle is in and centred, its spacers on the sides they came from, clips in"
)
_LIMBS = GatePoint("limbs_seated", "Both limbs are seated in their pockets: the bolts were out")
_TRAY = GatePoint("tray_empty", "The small-parts tray is empty")


def gate_points(bow: BowInPress) -> tuple[GatePoint, ...]:
    """What the gate asks for on a bow: what every bow has, then what this one has, the tray last."""
    texts = {
        kind.kind: kind.gate_point(bow.spec, any(c.value == kind.kind for c in bow.in_use))
        for kind in KINDS.values()
    }
    own = [GatePoint(f"{name}_seated", text) for name, text in texts.items() if text]
    limbs = [_LIMBS] if bow.bolts_out else []
    guard = _NO_GUARD if bow.spec.guardless else _GUARD
    harness = [_HARNESS] if bow.spec.harnesses else []
    axle = [_AXLE] if any(bow.spec.part(role).axle_out for role in bow.replaced) else []
    out = [GatePoint(f"back_{n}", f"Back on the bow: {part}") for n, part in enumerate(bow.tray, 1)]
    return (*_EVERY, guard, *harness, *own, *axle, *limbs, *out, _TRAY)


def require_gate(bow: BowInPress, confirmed: Iterable[str]) -> None:
    """Refuse to let down while a point is not confirmed.

    Raises
    ------
    Refused
        Names every point that is missing. It cannot be skipped.
    """
    seen = set(confirmed)
    missing = [point.text for point in gate_points(bow) if point.key not in seen]
    if missing:
        raise Refused("Do not let down yet. Not confirmed: " + "; ".join(missing) + ".")
