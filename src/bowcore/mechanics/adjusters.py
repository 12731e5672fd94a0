"""Everything that can be turned on a bow, and what one step of it is.

Each comes with a trial change of the twin, from which its answer is found by differences, and with
what the plane model does not have: how far it tilts a cam, how far it raises the nock.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field

from bowcore.mechanics.bundle import Bundle
from bowcore.mechanics.kits import (
    SHIM_STEP_IN,
    SPACER_STEP_IN,
    shim_positions,
    spacer_positions,
)
from bowcore.mechanics.lean import Lean, degrees_per_leg_step, degrees_per_shim
from bowcore.mechanics.response import Adjuster
from bowcore.mechanics.specification import BowSpec, PartSpec
from bowcore.mechanics.twin import Changes

TRIAL_IN = 0.004  # shortening tried on each side for a central difference
TRIAL_TURNS = 0.1
YOKE_TENSION_LBF = 300.0  # of a yoked cable at full draw; its size is uncertain anyway
CAM_TENSION_LBF = 2 * YOKE_TENSION_LBF  # both cables on one cam at full draw
LEG = Bundle(5.0, 16, 3.0)  # one leg of a yoke: length, strands, twists; common practice
SPACER_DOUBT = 0.3  # plausible, not validated
SIDES = ("top", "bottom")
LEAN_AT = {"top": "lean", "bottom": "lean_bottom"}
"""The reading that shows how the cam at each axle leans."""


@dataclass(frozen=True)
class Handle:
    """One thing that is turned: what its trial change is, and what one step of it is."""

    adjuster: Adjuster
    trial: Changes
    per_step: float
    """Steps' worth of the trial change: one step is this many trials."""
    beside: Mapping[str, float] = field(default_factory=dict)
    """What one step moves that the plane model does not have, by quantity. [in]"""


def handles(spec: BowSpec, twisted: Mapping[str, int] | None = None) -> list[Handle]:
    """Everything that can be turned on a bow.

    Parameters
    ----------
    spec : BowSpec
        With its parts.
    twisted : mapping of str to int, optional
        Half twists already in each role.

    Returns
    -------
    list of Handle
        Parts in the book's order, yoke legs, spacers, shims, the nock point, then the limb bolts
        together and each for itself.
    """
    found = [_part(part, (twisted or {}).get(part.role, 0)) for part in spec.parts]
    for role in spec.yokes:
        found += _legs(spec.part(role))
    cables = [part for part in spec.parts if part.role != "string"]
    found += [_spacer(spec, part) for part in cables if spec.spacers_in and part.strands % 2 == 0]
    if spec.shim_kits:
        found += [_shim(spec, side) for side in SIDES]
    if spec.nock_step_in:
        nock = Adjuster("nock_point", "Nock point", "loop_or_ties", "one step up", 0.0)
        trial = Changes(nock_up_in=TRIAL_IN)
        raised = {"nock_height": spec.nock_step_in}
        found.append(Handle(nock, trial, spec.nock_step_in / TRIAL_IN, raised))
    return found + _bolts()


def adjusters_of(spec: BowSpec) -> tuple[Adjuster, ...]:
    """Everything that can be turned on a bow, by its name and its step."""
    return tuple(handle.adjuster for handle in handles(spec))


def yoke_side(role: str) -> str:
    """At which axle a cable's yoke sits: what the top cam takes up ends at the bottom one."""
    return "bottom" if role == "cable_a" else "top"


def lean_of(key: str) -> str:
    """Which lean a yoke leg or a shim moves; "" for an adjuster that tilts no cam."""
    role, _, what = key.partition(".")
    if what in ("left", "right"):
        return LEAN_AT[yoke_side(role)]
    return LEAN_AT[key.removeprefix("shim_")] if key.startswith("shim_") else ""


def half_split_in(part: PartSpec) -> float:
    """From a spacer to where the halves meet again: half the length of one twist. [in]"""
    return max(0.5 / max(part.twists_per_in, 0.2), 0.5)


def _part(part: PartSpec, twisted: int) -> Handle:
    step = part.bundle(twisted).shortening_in(1)
    change = "string" if part.role == "string" else "cable"
    adjuster = Adjuster(part.role, part.label, change, "half a twist", step)
    return Handle(adjuster, Changes({part.role: TRIAL_IN}), step / TRIAL_IN)


def _legs(part: PartSpec) -> list[Handle]:
    """Both legs of a yoke. Each carries half of its cable's length; they tilt the cam apart.

    A shorter right leg brings a shaft back that ran off to the right (common practice).
    """
    tilt = Lean(degrees_per_leg_step(YOKE_TENSION_LBF, LEG)).off_in()
    handles_of = []
    for side, way in (("left", 1.0), ("right", -1.0)):
        key = f"{part.role}.{side}"
        step = LEG.shortening_in(1)
        adjuster = Adjuster(key, f"{part.label}, {side} leg", "yoke_leg", "half a twist", step)
        trial = Changes({part.role: TRIAL_IN})
        leans = {lean_of(key): way * tilt}
        handles_of.append(Handle(adjuster, trial, step / 2 / TRIAL_IN, leans))
    return handles_of


def _spacer(spec: BowSpec, part: PartSpec) -> Handle:
    """Spacers between the halves of a cable. An odd strand has no halves, so no spacer."""
    positions = spacer_positions(spec.spacers_in, half_split_in(part))
    adjuster = Adjuster(
        f"{part.role}.spacer", f"{part.label}, spacer", "spacer", "0.001 in of spacer",
        SPACER_STEP_IN, positions, SPACER_DOUBT,
    )  # fmt: skip
    return Handle(adjuster, Changes({part.role: TRIAL_IN}), SPACER_STEP_IN / TRIAL_IN)


def _shim(spec: BowSpec, side: str) -> Handle:
    """Shims beside a cam. The ropes pull it over toward the side to which it is moved, as a shorter
    yoke leg on that side would: the far end of a shaft laid on it runs off to the other side."""
    moved = SHIM_STEP_IN / 2
    key, tilt = f"shim_{side}", Lean(degrees_per_shim(CAM_TENSION_LBF, moved)).off_in()
    adjuster = Adjuster(
        key, f"Shims, {side} cam", "shim", "0.001 in more right than left", 0.0,
        shim_positions(spec.shim_kits),
    )  # fmt: skip
    return Handle(adjuster, Changes(), 1.0, {lean_of(key): tilt})


def _bolts() -> list[Handle]:
    """Both limb bolts by half turns, and each for itself."""
    each = (("limb_bolts", "Both limb bolts", (1.0, 1.0)), ("bolt_top", "Top limb bolt", (1.0, 0.0)),
            ("bolt_bottom", "Bottom limb bolt", (0.0, 1.0)))  # fmt: skip
    return [
        Handle(
            Adjuster(key, label, "limb_bolt", "half a turn out", 0.0),
            Changes(bolts_out=(TRIAL_TURNS * top, TRIAL_TURNS * bottom)), 0.5 / TRIAL_TURNS,
        )
        for key, label, (top, bottom) in each
    ]  # fmt: skip
