"""Which press for which bow, what comes off first, and how far the limb bolts go out.

Press kinds and limb kinds are general descriptions; the bow maker's manual and the press maker's
instructions outrank all of it. Usual figures are common practice with no published source.
"""

from dataclasses import dataclass
from enum import StrEnum
from math import floor

from bowcore.adjusters.limb_bolt import LimbBolt
from bowcore.errors import Refused
from bowcore.work_order import cautions

USUAL_BACK_OFF = 6.0
"""Turns out from bottomed that presses and makers usually ask for."""


class LimbKind(StrEnum):
    """How far a bow's limbs lie over."""

    ORDINARY = "ordinary"
    PARALLEL = "parallel"
    BEYOND = "beyond parallel"


class PressKind(StrEnum):
    """What kind of press a shop has."""

    LIMB_TIP = "limb tip"
    LINEAR = "limb belly"
    PORTABLE = "portable"


USUALLY_OUT = (
    "string stop", "limb pads", "axle clip", "set screw", "cable slide screw", "retaining pin",
)  # fmt: skip
"""Small parts that often come off for the press; what is out has to be back before the let-down."""

_ONE_GO = (
    "Limb tips supported, axles parallel to the arms, fingers 1/4 to 1/2 in off the cams.",
    "A little load: look at both axles and both sides again.",
    "Full load, only as much as frees the string: look again.",
)
_TWO_STAGE = (
    "Pads off where the press bears on the limbs. Draw a map of the string and both cables.",
    "First press: until the string is slack. Take off the string and one cable.",
    "Let the limbs down slowly. They relax on the last cable.",
    "Rig the press anew, as for ordinary limbs: bolt heads in their pockets, frames centred, bow flat, "
    "turnbuckle near its end.",
    "Second press: a little load, look at both axles, then as much as frees the last cable. Take it off.",
    "Tape the loose limbs into their pockets.",
)
_TWO_STAGE_BACK = (
    "The same way back: last cable first, let down, rig the press for the string side, then the other "
    "cable and the string. Look at the map.",
)

PRESSES = {
    PressKind.LIMB_TIP: "fingers hold the limb tips, arms travel in line with the limbs",
    PressKind.LINEAR: "rollers push on the bellies of the limbs",
    PressKind.PORTABLE: "a cable press between the limb tips, in the field",
}
"""What each kind is, for those who know it by another name."""


class PressFit(StrEnum):
    """Whether a press may be used for a bow."""

    YES = "yes"
    TWO_STAGE = "in two stages"
    NO = "no"


@dataclass(frozen=True)
class PressBow:
    """What the press plan needs to know of a bow.

    `two_stage` says that the maker allows relaxing it on one cable with a portable press, re-rigging
    and pressing again; `back_off` that its maker, or the shop, wants the bolts backed off in any press;
    `bolts_out` counts both limb bolts' turns from bottomed, as they are now; None if nobody has
    counted them.
    """

    limbs: LimbKind
    two_stage: bool
    bolts_out: tuple[float, float] | None
    most_turns: float
    back_off: bool = False
    string_stop: bool = True


@dataclass(frozen=True)
class BoltMove:
    """One limb bolt: where it is, how many turns it goes out."""

    name: str
    now: float
    out: float

    @property
    def words(self) -> str:
        """`Top bolt: 5 out already, 1 more; comes back in 1.`"""
        if not self.out:
            return f"{self.name}: {self.now:g} out already, leave it."
        more = "more" if self.now else "out"
        before = f"{self.now:g} out already, " if self.now else ""
        return f"{self.name}: {before}{self.out:g} {more}; {self.out:g} back in afterwards."


@dataclass(frozen=True)
class PressPlan:
    """How this bow is pressed: allowed or not and why, bolts, steps, what goes back on."""

    fit: PressFit
    because: str
    bolts: tuple[BoltMove, ...]
    steps: tuple[str, ...]
    back_on: tuple[str, ...]
    cautions: tuple[str, ...]
    to_count: bool = False
    """The bolts go out, and nobody has counted where they are: that comes first."""


def fit_of(press: PressKind, limbs: LimbKind, two_stage: bool) -> tuple[PressFit, str]:
    """Whether a kind of press suits a kind of limb, and why."""
    if press is PressKind.LIMB_TIP:
        return PressFit.YES, "It holds the limb tips and follows them, however far they lie over."
    if limbs is LimbKind.BEYOND:
        if press is PressKind.PORTABLE and two_stage:
            return PressFit.TWO_STAGE, (
                "Limbs beyond parallel slip out of a press in one go; this bow's maker allows it in "
                "two: relaxed on one cable, rigged anew, then pressed again."
            )
        return PressFit.NO, (
            "Limbs beyond parallel need a press that holds the limb tips; on this one they slip out."
        )
    if press is PressKind.LINEAR and limbs is LimbKind.PARALLEL:
        return PressFit.NO, "Rollers have nothing to push against on parallel limbs."
    return PressFit.YES, f"The {press} press suits {limbs} limbs."


def press_plan(press: PressKind, bow: PressBow) -> PressPlan:
    """The plan for one bow in one press.

    Parameters
    ----------
    press : PressKind
        What the shop has.
    bow : PressBow
        The bow as it is.

    Returns
    -------
    PressPlan
        With `fit` NO there are no steps.
    """
    fit, because = fit_of(press, bow.limbs, bow.two_stage)
    if fit is PressFit.NO:
        return PressPlan(fit, because, (), (), (), (cautions.MANUAL,))
    two_stage = fit is PressFit.TWO_STAGE
    go_out = bow.back_off or press is not PressKind.LIMB_TIP
    bolts = _bolts(bow, two_stage) if go_out else ()
    off = ["Rest cord free, sight and quiver clear of the press arms."]
    on: list[str] = []
    if bow.string_stop:
        off.append("String stop and limb pads off, where the press would touch them.")
        on.append("String stop and limb pads back on, the stop a card's width off the string.")
    on[:0] = [f"{m.name}: {m.out:g} turns back in, to {m.now:g} out." for m in bolts if m.out]
    steps = _TWO_STAGE if two_stage else _ONE_GO
    on[:0] = _TWO_STAGE_BACK if two_stage else ()
    bolt_steps = tuple(move.words for move in bolts)
    every = (*cautions.PRESS_OPEN, *(LimbBolt.cautions if bolts else ()))
    every_step = (*off, *bolt_steps, *steps)
    to_count = go_out and bow.bolts_out is None
    return PressPlan(fit, because, bolts, every_step, tuple(on), every, to_count)


def require_press(plan: PressPlan) -> None:
    """Refuse to open a press that does not suit the bow.

    Raises
    ------
    Refused
        With the reason; it cannot be skipped.
    """
    if plan.fit is PressFit.NO:
        raise Refused(f"Not in this press. {plan.because} {cautions.MANUAL}")
    if plan.to_count:
        raise Refused("Count the limb bolts first: they go out for this press.")


def _bolts(bow: PressBow, right_down: bool) -> tuple[BoltMove, ...]:
    """Both bolts to the same count out, never past the limit; whole and half turns only. None while
    nobody has counted them.

    `right_down`: as far as the maker allows, which a press in two stages wants.
    """
    if bow.bolts_out is None:
        return ()
    target = bow.most_turns if right_down else min(USUAL_BACK_OFF, bow.most_turns)
    names = ("Top bolt", "Bottom bolt")
    return tuple(
        BoltMove(name, now, floor(2 * max(target - now, 0.0)) / 2)
        for name, now in zip(names, bow.bolts_out, strict=True)
    )
