"""Inspecting a bow: what is looked at, what each finding means for the job."""

from collections.abc import Collection, Iterable
from dataclasses import dataclass

from bowcore.bow.specification import CABLE_A, CABLE_B, HARNESS_A, HARNESS_B, STRING, BowSpec
from bowcore.errors import BadInput
from bowcore.work_order.holds import HOLDS, HoldKind


@dataclass(frozen=True)
class Place:
    """Something to look at on a bow.

    `at` lists where it lies on the drawn bow, as shares of its width and height seen from the
    bow's right side. `danger` is the hold that a stop-finding puts on the job, if any; `parts` are
    the roles that a replace-finding asks to replace, `order` the small part that it asks to order.
    """

    key: str
    name: str
    look_for: str
    bad_words: str
    at: tuple[tuple[float, float], ...]
    danger: str = ""
    parts: tuple[str, ...] = ()
    order: str = ""


PLACES = (
    Place("limbs_top", "Top limb and pocket", "cracks, splinters, lifting edges", "Limb crack",
          ((0.42, 0.17),), "service"),
    Place("cam_top", "Top cam, axle, clips", "nicks, bent axle, cam rubbing, clips in",
          "Cam or axle damage", ((0.62, 0.06),), "service"),
    Place("string", "String", "cut or broken strands, fuzz, dry wax", "Broken strand",
          ((0.76, 0.34), (0.76, 0.66)), "do_not_draw", (STRING,)),
    Place("cables", "Cables and yoke", "broken strands, wear at the guard", "Broken strand",
          ((0.6, 0.42),), "do_not_draw", (CABLE_A, CABLE_B, HARNESS_A, HARNESS_B)),
    Place("servings", "Servings", "separated, slipped, worn through", "Serving open",
          ((0.7, 0.13), (0.7, 0.87)), "", (STRING, CABLE_A, CABLE_B)),
    Place("peep", "Peep and kisser", "turning, tied ends loose", "Peep loose", ((0.76, 0.24),),
          order="peep"),
    Place("loop", "Loop and nock ties", "worn, slipped, one leg longer", "Loop worn",
          ((0.79, 0.5),), order="loop cord"),
    Place("rest", "Rest and its cord", "loose screws, cord frayed, clamp slipped", "Rest cord frayed",
          ((0.38, 0.47),), order="rest cord"),
    Place("guard", "Cable guard", "roller worn, bar loose", "Guard worn", ((0.5, 0.52),),
          order="guard roller"),
    Place("screws", "Sight, stabiliser, quiver screws", "no screw loose, none missing",
          "Screw missing", ((0.24, 0.4), (0.14, 0.58)), order="screw"),
    Place("limbs_bottom", "Bottom limb and pocket", "cracks, splinters, lifting edges", "Limb crack",
          ((0.42, 0.83),), "service"),
    Place("cam_bottom", "Bottom cam, axle, clips", "nicks, bent axle, cam rubbing, clips in",
          "Cam or axle damage", ((0.62, 0.94),), "service"),
)  # fmt: skip

GUARD = "guard"
"""The place that a guardless bow does not have."""

OUTCOMES = {"fine": "Fine", "watch": "Watch", "replace": "Replace", "stop": "Stop"}
ASKS_FOR_PARTS = ("replace", "stop")
OUTCOME_DOES = {
    "fine": "Goes on record, nothing more.",
    "watch": "Goes on the customer's sheet as something to look at again.",
    "replace": "Goes on this job's list: a string or cable to be replaced, a small part to order.",
    "stop": "Holds the job where it can hurt someone: the bow is not drawn, or goes to authorised service.",
}
"""What each outcome does to the job, in a sentence."""


def places_on(spec: BowSpec) -> tuple[Place, ...]:
    """What is looked at on this bow: one without a cable guard has none to look at."""
    return tuple(one for one in PLACES if not (spec.guardless and one.key == GUARD))


def place(key: str) -> Place:
    """The place of that key; BadInput if it does not exist."""
    for candidate in PLACES:
        if candidate.key == key:
            return candidate
    raise BadInput(f"There is no place '{key}'.", "place", ", ".join(p.key for p in PLACES))


def hold_for(place_key: str, outcome: str) -> HoldKind | None:
    """The hold that a finding puts on the job, or None.

    Parameters
    ----------
    place_key : str
        Where it was seen.
    outcome : str
        A key of OUTCOMES.

    Returns
    -------
    HoldKind or None
        Only a stop-finding at a dangerous place holds the job.
    """
    if outcome not in OUTCOMES:
        raise BadInput(f"'{outcome}' is not an outcome.", "outcome", ", ".join(OUTCOMES))
    danger = place(place_key).danger
    return HOLDS[danger] if outcome == "stop" and danger else None


def parts_at(place_key: str, roles: Collection[str]) -> tuple[str, ...]:
    """Roles of the strings and cables of this bow that are looked at in one place."""
    return tuple(role for role in place(place_key).parts if role in roles)


def bad_parts(
    place_key: str, outcome: str, named: Collection[str], roles: Collection[str]
) -> tuple[str, ...]:
    """Which parts a finding asks to replace.

    Parameters
    ----------
    place_key : str
        Where it was seen.
    outcome : str
        A key of OUTCOMES.
    named : collection of str
        Roles that were named; may be empty where only one is looked at.
    roles : collection of str
        Those that this bow has.

    Raises
    ------
    BadInput
        Several parts are looked at in that place, and none was named.
    """
    here = parts_at(place_key, roles)
    if outcome not in ASKS_FOR_PARTS or not here:
        return ()
    chosen = tuple(role for role in here if role in named)
    if not chosen and len(here) > 1:
        raise BadInput(f"{place(place_key).name}: which of them?", place_key)
    return chosen or here


def to_order(findings: Iterable[tuple[str, str]]) -> list[str]:
    """Small parts that the findings ask to order, each once, in the order of the inspection."""
    wanted = [place(key).order for key, outcome in findings if outcome in ASKS_FOR_PARTS]
    return [part for part in dict.fromkeys(wanted) if part]
