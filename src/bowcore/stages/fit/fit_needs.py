"""What the fit asks of a job: which numbers, in which order, and what each has to be.

Common practice, no published source, unless a constant says "our figure".
"""

from collections.abc import Iterable, Mapping

from bowcore.accessories.arrow import too_light
from bowcore.accessories.centre_shot import USUAL_CENTRE_SHOT_IN
from bowcore.accessories.rest_cord import UP_BEFORE_FULL_DRAW_IN, UP_WANTED_IN
from bowcore.adjusters.nock_point import NockPoint
from bowcore.adjusters.rest_move import REST_OUT, REST_UP
from bowcore.bow.specification import STRING
from bowcore.evidence.facts import Facts
from bowcore.measurement.bands import Band, around, judge_as_shown
from bowcore.quantities.catalogue import FITTED_TO_SHOOT, QUANTITIES
from bowcore.quantities.changes import Change
from bowcore.quantities.inches import say_length
from bowcore.quantities.quantity import Fit
from bowcore.work_order.needs import NEW_SETUP
from bowcore.work_order.services import SHOOT_IN, Service, fits_of, ties_of

FIT_GAP_IN = (1 / 64, 1 / 32, 1 / 16)
"""Least, wanted, most free play of the nock."""
LEVEL_IN = (-1 / 32, 1 / 16, 1 / 8)
"""The nock is level with the rest, as near as that is seen, to an eighth high."""
FINISHED_LOOP_IN = (1 / 2, 9 / 16, 5 / 8)
_ORDER = (
    "nock_to_peep", "nock_height", "arrow_level", "nock_gap", "loop_length", "nock_to_kisser", "centre_shot",
    "front_back", "cord_up", "peep_turn", "loop_facing",
)  # fmt: skip
"""Peep before loop, level before lateral, the cord when the rest stands, the archer's eye last, and
the loop straight behind it."""
FIT_ORDER = (
    "Bolts back first; level before sideways, then lock the rest; its cord when the cams are timed."
)
SET_BY_TAPS: Mapping[str, tuple[str, ...]] = {
    NockPoint.kind: ("nock_height", "arrow_level"), REST_UP: ("nock_height", "arrow_level"),
    REST_OUT: ("front_back",),
}  # fmt: skip
"""What a tap at the paper sets by the tear; centre shot keeps its band, which limits those taps."""
MADE_BY_THE_TEAR = frozenset({
    Change.LOOP_OR_TIES, Change.REST, Change.YOKE_LEG, Change.OPPOSITE_LEGS, Change.SHIM, Change.CABLE,
})  # fmt: skip
"""What is changed while a bow is shot in."""
AFTER_A_STRING = ("loop_length", "nock_height", "arrow_level")
"""A new string has neither loop nor nock point: both are always set again, and the arrow levelled by them."""
NEVER_BEFORE = ("peep_turn", "loop_facing")
"""A new string turns both; nobody puts them back to a number."""


def is_fitted(facts: Facts) -> bool:
    """Whether this job has a fit: a new string, or any of it was asked for."""
    return _string_is_new(facts) or bool(fits_of(facts.services))


def fit_asks(facts: Facts) -> tuple[str, ...]:
    """Quantities of the fit on this bow, in the order of work; none where the job has no fit.

    Where a string went on and nothing else was asked, loop and nock height, what was read before it, and what
    is known of this bow: a peep that nobody measured is not put back.
    """
    asked, new = fits_of(facts.services), _string_is_new(facts)
    return tuple(
        key
        for key in _on_this_bow(facts)
        if key in asked or (new and (key in AFTER_A_STRING or _known_of(facts, key)))
    )


def ties_open(facts: Facts) -> tuple[Service, ...]:
    """What was asked to be tied or moved anew, whatever the numbers say, and has not been."""
    made = {change.change for change in facts.changes}
    if Change.LOOP in made:
        made.add(Change.LOOP_OR_TIES)
    return () if facts.replaced else tuple(
        one for one in ties_of(facts.services) if one.ties not in made
    )  # fmt: skip


def _string_is_new(facts: Facts) -> bool:
    return STRING in facts.replaced or STRING in facts.to_replace


def _on_this_bow(facts: Facts) -> tuple[str, ...]:
    """Numbers of the fit that this bow has what they are read on for, in the order of work."""
    has = facts.setup.features | facts.on_bow.features
    return tuple(key for key in _ORDER if QUANTITIES[key].needs in has)


def _known_of(facts: Facts, key: str) -> bool:
    """Whether a quantity was read at the start, or belongs to something that was written down."""
    before = facts.baseline(key)
    described = QUANTITIES[key].needs in {"drop_away", "ties", "gauged"} or key in NEVER_BEFORE
    return bool(before and before.summary) or described


def waits_for_arrow(facts: Facts, key: str) -> bool:
    """Whether a number has to wait until the arrow is named."""
    return QUANTITIES[key].fit is Fit.WITH_ARROW and facts.on_bow.arrow is None


def arrow_too_light(facts: Facts) -> str:
    """Why the bow is not shot with the arrow that it is set up for, in a sentence; "" if it may be, or if
    arrow or weight are not known."""
    arrow = facts.on_bow.arrow
    return "" if arrow is None else mass_too_light(facts, arrow.mass_gr)


def mass_too_light(facts: Facts, mass_gr: float) -> str:
    """Why an arrow of some mass is not shot from this bow, in a sentence; "" if it may be, or if the weight
    is not known: until it has been read, the sticker's counts."""
    peak = facts.current("peak_weight")
    weight = facts.sticker_lbf if peak is None or peak.summary is None else peak.summary.value
    return too_light(mass_gr, weight) if weight else ""


def fit_unread(facts: Facts) -> tuple[str, ...]:
    """What the fit still has to read, in order; what waits for the arrow is among it."""
    return tuple(
        key
        for key in fit_asks(facts)
        if not ((now := facts.current(key)) and now.settled) and not _still_up(facts, key)
    )


def fit_outside(facts: Facts, bands: Mapping[str, Band]) -> tuple[str, ...]:
    """What the fit has read and found outside its band; the edge belongs to it.

    What the tear has set since is not put back: the fit is where shooting in begins.
    """
    judged = (
        key
        for key in fit_asks(facts)
        if key in bands and key not in facts.left and key not in set_by_the_tear(facts)
    )
    return tuple(key for key in judged if _outside(facts, key, bands[key]))


def set_by_the_tear(facts: Facts) -> frozenset[str]:
    """Numbers of the fit that taps have moved since the bow was shot through paper."""
    begun = first_shot(facts)
    if begun is None:
        return frozenset()
    moved = {one.adjuster for one in facts.changes if one.seq > begun}
    return frozenset(key for tap, keys in SET_BY_TAPS.items() if tap in moved for key in keys)


def unread_before_the_tear(facts: Facts, unread: Iterable[str]) -> tuple[str, ...]:
    """Of numbers to be read, those that were open before the bow was shot: while it is shot in, what a tap
    has moved since waits until the tear is clean."""
    begun = first_shot(facts)
    if begun is None or any(one.replaced and one.seq > begun for one in facts.changes):
        return tuple(unread)

    def waits(key: str) -> bool:
        now = facts.current(key)
        stale = None if now is None else now.stale
        return stale is not None and stale.seq > begun and stale.change in MADE_BY_THE_TEAR

    return tuple(key for key in unread if not waits(key))


def first_shot(facts: Facts) -> int | None:
    """When the bow was first shot to be tuned; None before that."""
    return min((one.seq for one in facts.shots), default=None)


def fit_bands(facts: Facts, book_centre_in: float | None = None) -> dict[str, Band]:
    """What each number of the fit has to be, where nothing was put on record that is put back; at the paper
    they clear suspects, whether the fit was asked for or not. `book_centre_in` is the maker's centre shot
    from the riser's face, where one is published. [in]"""
    asked = fit_asks(facts) or (_on_this_bow(facts) if SHOOT_IN in facts.services else ())
    if not asked:
        return {}
    usual = {
        "nock_gap": _between(FIT_GAP_IN, f"{_ends(FIT_GAP_IN)} of free play"),
        "arrow_level": _between(LEVEL_IN, f"level to {say_length(LEVEL_IN[2])} nock-high"),
        "front_back": around(
            0, QUANTITIES["front_back"].tolerance, "policy", "front and back alike"
        ),
        "cord_up": _cord_band(facts),
        "peep_turn": around(0, QUANTITIES["peep_turn"].tolerance, "policy", "at full draw"),
        "loop_facing": around(
            0, QUANTITIES["loop_facing"].tolerance, "policy", "straight behind the peep"
        ),
    }
    if facts.path == NEW_SETUP:
        usual["loop_length"] = _between(
            FINISHED_LOOP_IN, f"{_ends(FINISHED_LOOP_IN)}; the release decides"
        )
    if facts.path == NEW_SETUP or SHOOT_IN in facts.services:
        usual["centre_shot"] = _centre_band(facts, book_centre_in)
    return {key: band for key, band in usual.items() if key in asked}


def _centre_band(facts: Facts, book_in: float | None) -> Band:
    """By the points that it was read between: on the string's plane, or out from the riser's face, where a
    published figure comes before the usual one."""
    tolerance = QUANTITIES["centre_shot"].tolerance
    read = facts.current("centre_shot")
    if read is not None and read.points[0] == "string_plane":
        return around(0.0, tolerance, "policy", "on the string's plane; shooting decides")
    if book_in is None:
        return around(USUAL_CENTRE_SHOT_IN, tolerance, "policy", "a usual start; shooting decides")
    return around(book_in, tolerance, "book", "published, as a start; shooting decides")


def _cord_band(facts: Facts) -> Band:
    clamp = facts.on_bow.clamp
    if clamp is not None and clamp.driver.is_limb:
        most = QUANTITIES["cord_up"].limits[1]
        least = UP_BEFORE_FULL_DRAW_IN[0]
        return Band(
            least, most, (least + most) / 2, "policy", "up before the last inch of the draw"
        )
    least, most = UP_BEFORE_FULL_DRAW_IN
    return Band(least, most, UP_WANTED_IN, "policy", "up within the last two inches of the draw")


def _between(ends: tuple[float, float, float], because: str) -> Band:
    least, wanted, most = ends
    return Band(least, most, wanted, "policy", because)


def _ends(ends: tuple[float, float, float]) -> str:
    return f"{say_length(ends[0])} to {say_length(ends[2])}"


def _still_up(facts: Facts, key: str) -> bool:
    """Whether the rest's arm, read before the last twist, still comes up where it should by the twin."""
    up = facts.estimates.get(key) if key == "cord_up" else None
    return up is not None and _cord_band(facts).judge(up).inside


def _outside(facts: Facts, key: str, band: Band) -> bool:
    now = facts.current(key)
    if now is None or not now.fresh or now.summary is None:
        return False
    best = facts.estimates.get(key, now.summary.value)
    return not judge_as_shown(facts.named(key), band, best).inside


assert set(_ORDER) == set(FITTED_TO_SHOOT), "every number of the fit has a place in its order"
