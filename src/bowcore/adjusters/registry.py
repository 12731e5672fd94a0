"""The kinds of adjuster. A new kind is a module beside this one and a line here."""

from collections.abc import Iterable, Mapping
from dataclasses import asdict
from typing import Any

from bowcore.adjusters.adjuster import Adjuster, Position
from bowcore.adjusters.limb_bolt import LimbBolt
from bowcore.adjusters.loop_turn import LoopTurn
from bowcore.adjusters.nock_point import NockPoint
from bowcore.adjusters.peep_pair import PeepPair
from bowcore.adjusters.rest_move import RestMove
from bowcore.adjusters.shim import Shim
from bowcore.adjusters.spacer import Spacer
from bowcore.adjusters.string_or_cable import StringOrCable
from bowcore.adjusters.yoke_leg import YokeLeg
from bowcore.bow.bundle import Bundle
from bowcore.bow.lay import Lay
from bowcore.bow.specification import BowSpec
from bowcore.errors import BadInput

KINDS: dict[str, type[Adjuster]] = {
    kind.kind: kind for kind in (StringOrCable, YokeLeg, Spacer, Shim, NockPoint, LimbBolt)
}
"""In the order in which a plan considers them."""


def adjusters_of(spec: BowSpec, twisted: Mapping[str, int] | None = None) -> tuple[Adjuster, ...]:
    """Everything that can be turned or set on a bow.

    Parameters
    ----------
    spec : BowSpec
        With its parts.
    twisted : mapping of str to int, optional
        Half twists already in each part, by role.

    Returns
    -------
    tuple of Adjuster
        Kind by kind, parts in the book's order.
    """
    return tuple(one for kind in KINDS.values() for one in kind.all_on(spec, twisted or {}))


def fit_adjusters_of(spec: BowSpec, lay: Lay | None = None) -> tuple[Adjuster, ...]:
    """What is moved to make a bow ready to shoot: nock point, loop, rest, the string's two ends.

    Nothing that is planned back to spec knows them: they move no length. `lay` is the string's.
    """
    ends = PeepPair.of(lay or Lay.Z)
    return (
        NockPoint.to_be_tied(spec),
        *LoopTurn.all_on(spec, {}),
        *RestMove.all_on(spec, {}),
        ends,
    )


def adjuster_in(adjusters: Iterable[Adjuster], key: str) -> Adjuster:
    """The adjuster of that key.

    Raises
    ------
    BadInput
        This bow does not have it.
    """
    found = {one.key: one for one in adjusters}
    if key not in found:
        raise BadInput(f"This bow has no '{key}'.", "adjuster", ", ".join(found))
    return found[key]


def adjuster_to_json(adjuster: Adjuster) -> dict[str, Any]:
    """An adjuster as plain values, with its kind."""
    return {"kind": adjuster.kind} | asdict(adjuster)


def adjuster_from_json(row: Mapping[str, Any]) -> Adjuster:
    """The adjuster that `adjuster_to_json` wrote.

    Raises
    ------
    BadInput
        An unknown kind, or other fields than an adjuster's.
    """
    values = dict(row)
    name = values.pop("kind", "")
    if name not in KINDS:
        raise BadInput(f"There is no kind of adjuster '{name}'.", "adjusters", ", ".join(KINDS))
    try:
        positions = tuple(Position(**one) for one in values.pop("positions", ()))
        if values.get("bundle"):
            values["bundle"] = Bundle(**values["bundle"])
        return KINDS[name](**values, positions=positions)
    except TypeError as error:
        raise BadInput(f"This is not an adjuster: {error}.", "adjusters") from None
