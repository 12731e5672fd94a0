"""What has to be on record before anything is loosened, by path, family and what is on the bow.

Readings come from the catalogue; marks are what is looked at and written down rather than measured.
"""

from collections.abc import Iterable
from dataclasses import dataclass

from bowcore.accessories.on_the_bow import REST
from bowcore.adjusters.adjuster import NOT_KNOWN, ON_THE_PHOTO, BowNow, written_down
from bowcore.adjusters.limb_bolt import BOLT_MARKS
from bowcore.adjusters.shim import SHIM_MARKS
from bowcore.bow.kits import read_pair
from bowcore.bow.lay import LIKE
from bowcore.bow.specification import CABLE_A, CABLE_B, STRING, Family
from bowcore.errors import BadInput
from bowcore.quantities.catalogue import QUANTITIES, shown
from bowcore.quantities.inches import parse_inches
from bowcore.quantities.quantity import Asked, Quantity
from bowcore.quantities.units import LengthUnit
from bowcore.work_order.services import (
    BACK_TO_SPEC,
    ON_THE_STRING_FIRST,
    is_whole,
    marks_of,
    parts_to_replace,
    reads_of,
    works_of,
)

CARRY_OVER, NEW_SETUP = "carry_over", "new_setup"
PATHS = {CARRY_OVER: "Put back as it was", NEW_SETUP: "New setup"}
PATH_ASKS = {
    CARRY_OVER: "Everything is read and marked now, so that it can be put back to the sixteenth.",
    NEW_SETUP: "Only what shows whether the bow is sound is read; peep, loop, rest and sight "
    "are set up anew.",
}
"""What each path will ask for, in a sentence."""


@dataclass(frozen=True)
class Fitting:
    """Something that may be fitted to a bow: what it is called, what is kept of it."""

    key: str
    name: str
    keep: str = ""


FITTED = (
    Fitting("rest", "Arrow rest", "fall-away or fixed, and where its cord is clamped"),
    Fitting("sight", "Sight"),
    Fitting("peep", "Peep"),
    Fitting("kisser", "Kisser"),
    Fitting("loop", "Loop"),
    Fitting("silencers", "Silencers or string weights"),
    Fitting("stabiliser", "Stabiliser"),
    Fitting("quiver", "Quiver"),
)
"""What customers' bows carry."""


@dataclass(frozen=True)
class Mark:
    """Something that is written down, not measured.

    `kind` is "turns" (a number of turns), "pair" (left / right in inches), "choice" (one of
    `choices`), "lay" (the same, each with its picture) or "words".
    """

    key: str
    name: str
    ask: str
    missed_later: str
    kind: str = "words"
    choices: tuple[tuple[str, str], ...] = ()
    thing: str = ""
    """The thing on the bow whose details say it better."""


LAYS = tuple((lay.value, words) for lay, words in LIKE.items())
REST_CORD = "rest_cord"
MODULE_MARKS = ("module_top", "module_bottom")
_WITH_LAY = (
    (STRING, "string"), (CABLE_A, "cable that the top cam takes up"),
    (CABLE_B, "cable that the bottom cam takes up"),
)  # fmt: skip
MARKS = (
    Mark("bolts_top", "Top limb bolt", "turns out from bottomed",
         "Nobody counts them later; weight and tiller depend on them.", "turns"),
    Mark("bolts_bottom", "Bottom limb bolt", "turns out from bottomed",
         "Nobody counts them later; weight and tiller depend on them.", "turns"),
    Mark("shims_top", "Shims, top cam", "left / right of the cam from behind the bow, in inches",
         "Which spacer sat on which side is known only until the axle is out.", "pair"),
    Mark("shims_bottom", "Shims, bottom cam",
         "left / right of the cam from behind the bow, in inches",
         "Which spacer sat on which side is known only until the axle is out.", "pair"),
    Mark("module_top", "Module and stop, top cam", "letter or hole of the module and of the stop",
         "A stop one hole off is a quarter inch of draw."),
    Mark("module_bottom", "Module and stop, bottom cam",
         "letter or hole of the module and of the stop",
         "Unlike holes top and bottom are the first suspect of timing."),
    *(Mark(f"lay_{role}", f"Lay, {name}", "how its threads run, seen from the side",
           "Twisting the wrong way takes twist out.", "lay", LAYS) for role, name in _WITH_LAY),
    Mark("paint", "Paint marks", "cams against limbs, bolts against pockets, screws",
         "It shows later whether anything has moved.", "choice",
         (("done", "Marks are on"), ("none", "Not wanted"))),
    Mark("routing", "Routing", "which cable runs on which side of what, from behind the bow",
         "The cables cross only one way that keeps the arrow clear."),
    Mark(REST_CORD, "Rest cord", "to which cable or limb, and where it is clamped",
         "The new serving may end elsewhere; then the clamp does not sit on it.", thing=REST),
    Mark("silencers", "Silencers and weights", "where each sits, from the nearer cam or nock",
         "Moving a string weight by half an inch changes the arrow's speed."),
    Mark("work_sight", "Sight and its axes", "bar upright, second axis, third axis up and down, windage",
         "An axis that is off shows only on a slope.", thing="sight"),
    Mark("work_arrow_cut", "Arrows cut", "how many, to which length from the nock groove",
         "The cut is checked against the rest and the least mass."),
    Mark("work_accessory", "Accessory put on", "what, where, and with which screws",
         "A quiver or a stabiliser turns the bow: the sight's level is looked at again."),
)  # fmt: skip

_MARKS_OF = {mark.key: mark for mark in MARKS}
_MARKS_WITH = {"rest": REST_CORD, "silencers": "silencers"}


@dataclass(frozen=True)
class BowSetup:
    """What decides how much is asked: path, family, what is on the bow, shims beside its cams, and what
    was asked for."""

    path: str = NEW_SETUP
    family: Family = Family.BINARY
    fitted: tuple[str, ...] = ("peep",)
    shimmed: bool = False
    services: tuple[str, ...] = (BACK_TO_SPEC,)

    @property
    def whole(self) -> bool:
        """Whether the whole bow is read and brought back to spec."""
        return is_whole(self.services)

    @property
    def string_comes_off(self) -> bool:
        return STRING in parts_to_replace(self.services)

    @property
    def one_cam(self) -> bool:
        return self.family is Family.SINGLE

    @property
    def features(self) -> frozenset[str]:
        """What it has that a quantity may need."""
        found = {"", *self.fitted}
        if not self.one_cam:
            found.add("two_cams")
        if self.shimmed or self.family in (Family.BINARY, Family.TWIN):
            found.add("bottom_lean")
        return frozenset(found)

    def asks(self, quantity: Quantity) -> bool:
        """Whether a quantity must be on record before the press."""
        if quantity.needs not in self.features:
            return False
        whole = quantity.asked is Asked.CARRY_OVER and self.path == CARRY_OVER
        return quantity.asked is Asked.ALWAYS or whole or self._goes_with_the_string(quantity)

    def must_read(self, quantity: Quantity) -> bool:
        """Whether a quantity that is asked for may not be skipped: every one of a small job's; of a whole one
        what no later reading replaces."""
        if not self.whole:
            return True
        return quantity.asked is Asked.ALWAYS or self._goes_with_the_string(quantity)

    def _goes_with_the_string(self, quantity: Quantity) -> bool:
        """Whether it is lost with the old string on a bow that is put back as it was."""
        kept = self.path == CARRY_OVER and self.string_comes_off
        return kept and quantity.key in ON_THE_STRING_FIRST


def readings_needed(setup: BowSetup) -> tuple[str, ...]:
    """Quantities that must be read before the press, in the order of work.

    A small job reads its own. A carry-over is read whole; a new setup only as far as it shows whether the
    bow is sound, its draw length first. The peep's height is asked on both: it cannot be found again.
    """
    if not setup.whole:
        asked = reads_of(setup.services, setup.family)
        return tuple(key for key in asked if QUANTITIES[key].needs in setup.features)
    found = tuple(key for key, one in QUANTITIES.items() if setup.asks(one))
    if setup.path == CARRY_OVER:
        return found
    return ("draw_length", *(key for key in found if key != "draw_length"))


def readings_welcome(setup: BowSetup) -> tuple[str, ...]:
    """Quantities worth reading that hold nothing up; on a small job all that others would need."""
    needed = readings_needed(setup)
    kinds = {Asked.WELCOME} if setup.whole else set(Asked) - {Asked.NEVER}
    return tuple(
        key
        for key, one in QUANTITIES.items()
        if one.asked in kinds and one.needs in setup.features and key not in needed
    )


def marks_needed(setup: BowSetup) -> tuple[str, ...]:
    """Marks that are asked for before the press, in the order of work."""
    if not setup.whole:
        shims = SHIM_MARKS.values() if setup.shimmed and "lean" in setup.services else ()
        return tuple(dict.fromkeys((*marks_of(setup.services), *shims)))
    found = [*marks_of(setup.services), *(SHIM_MARKS.values() if setup.shimmed else ())]
    if setup.path == CARRY_OVER:
        roles = (STRING, CABLE_B) if setup.one_cam else (STRING, CABLE_A, CABLE_B)
        found += [*(MODULE_MARKS[1:] if setup.one_cam else MODULE_MARKS)]
        found += [*(f"lay_{role}" for role in roles), "paint", "routing"]
        found += [_MARKS_WITH[key] for key in ("rest", "silencers") if key in setup.fitted]
    return tuple(dict.fromkeys(found))


def marks_welcome(setup: BowSetup) -> tuple[str, ...]:
    """Marks worth having that hold nothing up: the bolts are counted at the press, if at all."""
    return tuple(key for key in BOLT_MARKS["both"] if key not in marks_needed(setup))


def work_marks(setup: BowSetup) -> tuple[str, ...]:
    """Marks in which work is written down that is done by hand and not measured."""
    return tuple(one.work for one in works_of(setup.services))


def unlike_modules(now: BowNow) -> str:
    """That the two cams' modules or stops were written down differently, in a sentence; "" if alike.

    The first suspect of timing, before any twist (common practice).
    """
    top, bottom = (written_down(now, key) for key in MODULE_MARKS)
    if top is None or bottom is None or _plain(top) == _plain(bottom):
        return ""
    return (
        f"Module and stop: top cam “{top}”, bottom cam “{bottom}”. Unlike holes are the first suspect of "
        "timing: look there before you twist anything."
    )


def unknown_modules(now: BowNow) -> str:
    """That nobody wrote down which module and stop a cam has, in a sentence; "" if both are known."""
    if all(written_down(now, key) is not None for key in MODULE_MARKS):
        return ""
    return (
        "Nobody wrote down which module and stop each cam has. Look at both, top and bottom, before you "
        "twist anything: unlike holes are the first suspect of timing."
    )


def _plain(text: str) -> str:
    return " ".join(text.casefold().replace(",", " ").split())


def mark(key: str) -> Mark:
    """The mark of that key; BadInput if it does not exist."""
    if key not in _MARKS_OF:
        raise BadInput(f"There is no mark '{key}'.", "mark", ", ".join(_MARKS_OF))
    return _MARKS_OF[key]


def checked_mark(key: str, value: str, most_turns: float, photographed: bool = False) -> str:
    """What was written down, as it is kept.

    Parameters
    ----------
    key : str
        Which mark.
    value : str
        As typed.
    most_turns : float
        The maker's limit for a limb bolt.
    photographed : bool
        There is a photograph of it, which may be the answer.

    Returns
    -------
    str
        `NOT_KNOWN`, `ON_THE_PHOTO`, turns as a plain number, a pair of widths, a choice's key, or the words.

    Raises
    ------
    BadInput
        Empty, not a pair, not one of the choices, or more turns than the maker allows.
    """
    what, text = mark(key), value.strip()
    if not text:
        raise BadInput(f"{what.name}: write down {what.ask}.", key)
    if text == NOT_KNOWN:
        return NOT_KNOWN
    if text == ON_THE_PHOTO and not photographed:
        raise BadInput(f"{what.name}: take the photo first.", key)
    if text == ON_THE_PHOTO:
        return ON_THE_PHOTO
    if what.kind in ("choice", "lay") and text not in dict(what.choices):
        raise BadInput(f"{what.name}: choose one.", key, ", ".join(dict(what.choices).values()))
    if what.kind == "pair":
        left, right = read_pair(text)
        return f"{left:.3f}/{right:.3f}"
    return f"{turns_of(text, what, most_turns):g}" if what.kind == "turns" else text[:200]


def turns_of(text: str, what: Mark, most_turns: float) -> float:
    """Turns of a bolt, in quarters or decimals: `2`, `2 1/2`, `1.5`."""
    turns = float(parse_inches(text, plain=LengthUnit.INCHES).value)
    if turns < 0:
        raise BadInput(f"{what.name}: turns are counted out from bottomed.", what.key, "0 or more")
    if turns > most_turns:
        raise BadInput(
            f"{what.name}: {turns:g} turns is past the maker's limit of {most_turns:g}. "
            "If it really is that far out, turn it in before anything else.",
            what.key,
            f"0 to {most_turns:g} turns",
        )
    return turns


def why_missed(keys: Iterable[str], setup: BowSetup) -> list[tuple[str, str]]:
    """Name and reason of every missing reading or mark: why it will be missed later."""
    found = []
    for key in keys:
        what = _MARKS_OF[key] if key in _MARKS_OF else shown(key, setup.one_cam)
        found.append((what.name, what.missed_later))
    return found
