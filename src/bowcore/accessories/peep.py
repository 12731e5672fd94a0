"""The peep: where it belongs for another string angle, and how it is turned to face the eye.

Derived in docs/derivations/fit.md. An angle is seen from above, clockwise positive. [deg]
"""

from dataclasses import dataclass
from math import cos, hypot, radians, sin

from bowcore.accessories.at_the_nock import StringAngles
from bowcore.bow.lay import Lay
from bowcore.bow.layout import LOWER, UPPER
from bowcore.bow.specification import STRING
from bowcore.bow.twin import Twin

HALF_TURN_DEG = 180.0
DEGREES_A_MINUTE = 6.0
"""A turn is said in minutes of a clock's face."""
MOST_AT_ONE_END = 3
"""Half twists at one end; past one twist it is the wrong string or has not settled (common practice)."""
NEAR_ENOUGH_DEG = 18.0
"""Three minutes: what the eye does not mind; our figure."""
LENGTH_COST_DEG = 25.0
"""A half twist of length is worth so much of angle left over: brace, draw and timing move; our figure."""
EFFORT_COST_DEG = 6.0
TURNED_AWAY_COST_DEG = 90.0
"""A peep that still does not face the eye is pressed for once more; our figure."""


def share_from_top(twin: Twin, nock_to_peep_in: float) -> float:
    """Place of the peep as a share of the string, from its top end; of a single cam, from the end that comes
    over the idler, which is taken to let a twist through."""
    length = twin.machine.length[0]
    nock = float(length[UPPER] / (length[UPPER] + length[LOWER]))
    return nock - nock_to_peep_in / twin.spec.part(STRING).length_in


@dataclass(frozen=True)
class PeepTurn:
    """Half twists in at each end of the string (out if negative), and what they do.

    `turned_deg` is how far the peep turns, `left_deg` what is still missing then, -180 to 180.
    """

    bottom: int
    top: int
    turned_deg: float
    left_deg: float

    @property
    def net(self) -> int:
        """Half twists by which the whole string is shorter."""
        return self.bottom + self.top

    @property
    def hands(self) -> int:
        """Half twists that are made."""
        return abs(self.bottom) + abs(self.top)

    @property
    def faces(self) -> bool:
        """Whether the eye sees through it afterwards."""
        return abs(self.left_deg) <= NEAR_ENOUGH_DEG


def turned_deg(share: float, bottom: int, top: int, lay: Lay) -> float:
    """How far the peep turns for half twists in at each end, clockwise seen from above. [deg]

    A string is a uniform torsion spring between its ends: half a turn of one end arrives at the peep in
    proportion to its distance from the other end. In is counter-clockwise on threads like a Z, looking at
    the end that is turned: seen from above, the bottom end then turns clockwise and the top end
    counter-clockwise.
    """
    by_bottom, by_top = HALF_TURN_DEG * share, HALF_TURN_DEG * (1 - share)
    sign = 1 if lay is Lay.Z else -1
    return sign * (bottom * by_bottom - top * by_top)


def plan_turn(share: float, wanted_deg: float, lay: Lay) -> list[PeepTurn]:
    """Ways to turn a peep by an angle, the best first.

    Parameters
    ----------
    share : float
        Its place on the string, from the top, 0 to 1.
    wanted_deg : float
        How far it should turn, clockwise seen from above. [deg]
    lay : Lay
        How the string's threads run.

    Returns
    -------
    list of PeepTurn
        Each with other half twists; leaving the string alone is one of them. The best leaves the least
        angle, where a half twist of length counts as `LENGTH_COST_DEG`.
    """
    ends = range(-MOST_AT_ONE_END, MOST_AT_ONE_END + 1)
    found = [_turn(share, wanted_deg, bottom, top, lay) for bottom in ends for top in ends]
    return sorted(found, key=_cost)


def best_of_each_kind(turns: list[PeepTurn], most: int = 3) -> list[PeepTurn]:
    """The best turn, and the next best that change the string's length by another amount."""
    chosen: dict[int, PeepTurn] = {}
    for one in turns:
        chosen.setdefault(one.net, one)
    return sorted(chosen.values(), key=_cost)[:most]


def _turn(share: float, wanted_deg: float, bottom: int, top: int, lay: Lay) -> PeepTurn:
    turned = turned_deg(share, bottom, top, lay)
    return PeepTurn(bottom, top, turned, _within_half_a_turn(wanted_deg - turned))


def _cost(one: PeepTurn) -> float:
    turned_away = 0.0 if one.faces else TURNED_AWAY_COST_DEG
    moved = LENGTH_COST_DEG * abs(one.net) + EFFORT_COST_DEG * one.hands
    return abs(one.left_deg) + moved + turned_away


def _within_half_a_turn(angle: float) -> float:
    return (angle + HALF_TURN_DEG) % (2 * HALF_TURN_DEG) - HALF_TURN_DEG


@dataclass(frozen=True)
class PeepHeight:
    """Nock to peep along the string for another draw or bow, how sure, and how far it is then moved
    toward or from the eye. [in]"""

    nock_to_peep_in: float
    sigma_in: float
    nearer_in: float


def transferred(
    nock_to_peep_in: float, before: StringAngles, now: StringAngles, read_sigma_in: float,
    angle_sigma_deg: float = 0.0,
) -> PeepHeight:  # fmt: skip
    """The height at which the peep stands before the same eye at another string angle.

    Parameters
    ----------
    nock_to_peep_in : float
        As it was, along the string. [in]
    before : StringAngles
        Of the bow or draw that it was read on.
    now : StringAngles
        Of this one.
    read_sigma_in : float
        Standard deviation of that reading. [in]
    angle_sigma_deg : float
        Of the difference of the two angles. [deg]

    Returns
    -------
    PeepHeight
        At anchor the nock is at the face, so that the peep keeps its height above it.
    """
    height = nock_to_peep_in * cos(before.upper)
    along = height / cos(now.upper)
    by_angle = along * sin(now.upper) / cos(now.upper) * radians(angle_sigma_deg)
    nearer = nock_to_peep_in * sin(before.upper) - along * sin(now.upper)
    return PeepHeight(along, hypot(read_sigma_in * along / nock_to_peep_in, by_angle), nearer)


def sight_shift_in(peep_moved_in: float, distance_in: float, peep_to_pin_in: float) -> float:
    """How far the impact moves on the target for a peep that was moved. [in]

    A higher peep looks steeper down over the pin: the bow comes up by similar triangles.
    """
    return peep_moved_in * (distance_in - peep_to_pin_in) / peep_to_pin_in
