"""Figures beside the numbers of the fit that arithmetic gives, in words: what two readings say together."""

from bowcore.accessories.at_the_nock import NOCK_TO_REST_IN
from bowcore.accessories.centre_shot import (
    ArrowLine,
    angle_of_offset_deg,
    blade_in,
    offset_of_angle_in,
)
from bowcore.accessories.on_the_bow import FIXED, REST, TIES, NockHold
from bowcore.accessories.peep import sight_shift_in
from bowcore.adjusters.rest_move import GAUGED_APART_IN
from bowcore.evidence.facts import Facts
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.quantities.inches import say_length

SIGHTED_YD, INCHES_A_YARD = 20, 36
NOCK_THAT_DOES_NOT_CLICK = {
    NockHold.FALLS: "It falls off at a tap: serve the middle thicker, or take another nock.",
    NockHold.TIGHT: "It holds too tight: serve the middle thinner, or take another nock.",
}
"""What a nock that does not click on and off asks for (common practice, no published source)."""


def plain_figures(facts: Facts) -> dict[str, str]:
    """Sentences by the quantity that they are about; none where nothing follows from what was read."""
    found = {
        "nock_to_peep": _say_sight_shift(facts),
        "nock_height": _say_rest_height(facts),
        "nock_gap": _say_hold(facts),
        "centre_shot": " ".join(filter(None, (_say_off_plane(facts), _say_blade(facts)))),
        "front_back": _say_front_back(facts),
    }
    return {key: words for key, words in found.items() if words}


def _read(facts: Facts, key: str) -> float | None:
    now = facts.current(key)
    return now.summary.value if now and now.fresh and now.summary else None


def _say_sight_shift(facts: Facts) -> str:
    """Where the old pins hit with a peep that sits higher or lower than it did."""
    before, now, sight = (
        facts.baseline("nock_to_peep"),
        _read(facts, "nock_to_peep"),
        facts.on_bow.sight,
    )
    if before is None or before.summary is None or now is None or sight is None:
        return ""
    moved = now - before.summary.value
    if not QUANTITIES["nock_to_peep"].shows(moved):
        return ""
    hits = sight_shift_in(moved, SIGHTED_YD * INCHES_A_YARD, sight.peep_to_pin_in)
    way = "higher" if moved > 0 else "lower"
    return (
        f"{say_length(abs(moved))} {way} than it was: by the old pins the arrow hits {abs(hits):.1f} in "
        f"{way} at {SIGHTED_YD} yd."
    )


def _say_rest_height(facts: Facts) -> str:
    """Where the arrow lies at the rest, from the nock's height and the level, by the same points."""
    height, level = _read(facts, "nock_height"), _read(facts, "arrow_level")
    if height is None or level is None:
        return ""
    at_rest = QUANTITIES["nock_height"].say(height - level)
    return f"At the rest the arrow is {at_rest}, by the same points: nock height less level."


def _say_hold(facts: Facts) -> str:
    hold = facts.on_bow.of(TIES).get("hold")
    return NOCK_THAT_DOES_NOT_CLICK.get(NockHold(hold), "") if hold else ""


def _say_off_plane(facts: Facts) -> str:
    """The arrow's angle from how far the rest is off the string's plane."""
    now, plane = facts.current("centre_shot"), facts.places.get("string_plane")
    value = _read(facts, "centre_shot")
    if now is None or value is None or (now.points[0] != "string_plane" and plane is None):
        return ""
    off = value if now.points[0] == "string_plane" else value - (plane or 0.0)
    angle = angle_of_offset_deg(off, NOCK_TO_REST_IN)
    way = "out from" if off > 0 else "in from"
    return (
        f"{say_length(abs(off))} {way} the string's plane: the arrow points {abs(angle):.1f} degrees "
        f"{'out' if off > 0 else 'in'}."
    )


def _say_front_back(facts: Facts) -> str:
    """The arrow's angle from front and back, and how far off the string's plane the rest is by it."""
    value = _read(facts, "front_back")
    if value is None or not QUANTITIES["front_back"].shows(value):
        return ""
    angle = ArrowLine(value, 0.0, GAUGED_APART_IN).angle_deg
    off = abs(offset_of_angle_in(angle, NOCK_TO_REST_IN))
    way = "out" if angle > 0 else "in"
    return (
        f"The arrow points {abs(angle):.1f} degrees {way}: its rest is about {say_length(off, 64)} too far "
        f"{way}, the nock staying where it is."
    )


def _say_blade(facts: Facts) -> str:
    """Which blade a fixed rest wants for this arrow."""
    arrow, rest = facts.on_bow.arrow, facts.on_bow.of(REST)
    if arrow is None or rest.get("kind") != FIXED:
        return ""
    thick = f"{blade_in(arrow.mass_gr):.3f}".lstrip("0")
    return (
        f"A blade of {thick} in suits {arrow.mass_gr:g} grains; softer for a nock that stays high."
    )
