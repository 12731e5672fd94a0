"""An arrow from its parts: mass, balance, where to cut it, which class of spine to ask for, and sets by mass.

Lengths from the nock's groove [in], masses in grains. Places of the parts' own balance are our figures, so a
balance by parts has a doubt; a balance on an edge outranks it.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from math import hypot, sqrt

from bowcore.errors import BadInput, require_within

THROAT_TO_DRAW_LENGTH_IN = 1.75
"""Draw length is measured to the throat plus this (the trade's own standard, from memory)."""
GROOVE_TO_SHAFT_IN = 0.4
"""From the nock's groove to the shaft's end: our figure."""
INSERT_BEHIND_CUT_IN = 0.5
POINT_AHEAD_OF_CUT_IN = 0.2
NOCK_AT_IN = 0.15
FLETCHING_AT_IN, WRAP_AT_IN = 2.3, 2.4
"""Where nock, fletching and wrap balance: our figures; how far off each may be is `PLACE_SIGMA_IN`."""
PLACE_SIGMA_IN = 0.4
LEAST_CLEARANCE_IN, MOST_CLEARANCE_IN = 0.5, 1.0
"""Ahead of the rest's contact at full draw: our figures, the shop's choice."""
ANCHOR_LBF, ANCHOR_IN, ANCHOR_SPINE, ANCHOR_POINT_GR = 60.0, 28.0, 400.0, 100.0
"""One arrow that is commonly right: 60 lbf, cut to 28 in, a point of 100 grains, class 400 (common practice,
no published source)."""
POINT_GR_PER_LBF = 25 / 4
"""Twenty-five grains of point soften an arrow like four pounds of weight: our figure."""
SPINE_SHARE = 0.15
"""How far off the hint may be, as a share of the class, one standard deviation: our figure."""
BEST_OF = 6


@dataclass(frozen=True)
class ArrowParts:
    """What an arrow is made of. [gr, in]

    `length_in` is from the nock's groove to the cut; `shaft_gr_per_in` the bare shaft's mass an inch.
    """

    length_in: float
    shaft_gr_per_in: float
    point_gr: float
    insert_gr: float = 0.0
    nock_gr: float = 0.0
    fletching_gr: float = 0.0
    wrap_gr: float = 0.0

    def __post_init__(self) -> None:
        """Refuse what no arrow is made of.

        Raises
        ------
        BadInput
            A figure outside of what parts have.
        """
        require_within("Length", self.length_in, (15, 40), "in")
        require_within("Bare shaft", self.shaft_gr_per_in, (3, 20), "gr an inch")
        require_within("Point", self.point_gr, (20, 400), "gr")
        require_within("Insert", self.insert_gr, (0, 300), "gr")
        require_within("Nock", self.nock_gr, (0, 60), "gr")
        require_within("Fletching", self.fletching_gr, (0, 100), "gr")
        require_within("Wrap", self.wrap_gr, (0, 60), "gr")

    @property
    def mass_gr(self) -> float:
        """The complete arrow. [gr]"""
        return sum(mass for mass, _ in self._placed)

    @property
    def balance_in(self) -> float:
        """Where it balances, from the groove: the mean place of its parts by mass. [in]"""
        return sum(mass * place for mass, place in self._placed) / self.mass_gr

    @property
    def balance_sigma_in(self) -> float:
        """How far off that may be, the places of its parts being ours. [in]"""
        loose = [m for m, _ in self._placed[1:]]
        return PLACE_SIGMA_IN * sqrt(sum(mass**2 for mass in loose)) / self.mass_gr

    @property
    def forward_of_centre(self) -> float:
        """Share of its length by which it balances ahead of its middle."""
        return (self.balance_in - self.length_in / 2) / self.length_in

    @property
    def _placed(self) -> list[tuple[float, float]]:
        """Mass and place of every part, the shaft first."""
        shaft = self.length_in - GROOVE_TO_SHAFT_IN
        return [
            (shaft * self.shaft_gr_per_in, GROOVE_TO_SHAFT_IN + shaft / 2),
            (self.point_gr, self.length_in + POINT_AHEAD_OF_CUT_IN),
            (self.insert_gr, self.length_in - INSERT_BEHIND_CUT_IN),
            (self.nock_gr, NOCK_AT_IN),
            (self.fletching_gr, FLETCHING_AT_IN),
            (self.wrap_gr, WRAP_AT_IN),
        ]


def cut_to_in(
    draw_length_in: float, rest_ahead_in: float = 0.0, clearance_in: float = LEAST_CLEARANCE_IN
) -> float:
    """From the nock's groove to the cut. [in]

    Parameters
    ----------
    draw_length_in : float
        As it is read: throat to string at full draw and 1 3/4 in. [in]
    rest_ahead_in : float
        How far ahead of the throat the arrow touches the rest; negative behind it. [in]
    clearance_in : float
        How much shaft stands ahead of that at full draw. [in]

    Raises
    ------
    BadInput
        A clearance at which the point would come onto the rest.
    """
    if clearance_in < LEAST_CLEARANCE_IN:
        raise BadInput(
            f"A clearance of {clearance_in:g} in lets the point come onto the rest.",
            "clearance", f"{LEAST_CLEARANCE_IN:g} in and more",
        )  # fmt: skip
    return draw_length_in - THROAT_TO_DRAW_LENGTH_IN + rest_ahead_in + clearance_in


@dataclass(frozen=True)
class SpineHint:
    """A class of spine to ask the arrow maker for, and the range that it may be in."""

    spine: float
    least: float
    most: float


def spine_hint(peak_lbf: float, length_in: float, point_gr: float) -> SpineHint:
    """Which class of spine an arrow of so much length and point wants at so much weight.

    A column of length L under a force F buckles alike while F L² / EI is the same (Euler), and the class is
    the deflection of a beam, which goes with 1 / EI (ASTM F2031, from memory). So class ~ 1 / (F L²), through
    one arrow that is commonly right. A hint: the arrow maker's chart outranks it.

    Parameters
    ----------
    peak_lbf : float
        The bow's peak weight. [lbf]
    length_in : float
        From the nock's groove to the cut. [in]
    point_gr : float
        Point and insert together less an insert of the usual mass, as charts have it. [gr]
    """
    force = peak_lbf + (point_gr - ANCHOR_POINT_GR) / POINT_GR_PER_LBF
    if force <= 0 or length_in <= 0:
        raise BadInput("No weight or no length: no class of spine.", "weight")
    spine = ANCHOR_SPINE * (ANCHOR_LBF / force) * (ANCHOR_IN / length_in) ** 2
    return SpineHint(spine, spine * (1 - SPINE_SHARE), spine * (1 + SPINE_SHARE))


class CarbonState(StrEnum):
    """What flexing a carbon shaft and listening to it showed."""

    SOUND = "sound"
    CREAKS = "creaks"
    NOT_YET = "not_yet"


@dataclass(frozen=True)
class SetArrow:
    """One arrow of a set: its number on the shaft, mass [gr], spine by deflection, 0 where not measured."""

    number: str
    mass_gr: float
    spine: float = 0.0
    carbon: CarbonState = CarbonState.NOT_YET


@dataclass(frozen=True)
class SortedSet:
    """The arrows that belong together, the others, those that are not shot; spreads of the chosen ones."""

    best: tuple[SetArrow, ...]
    others: tuple[SetArrow, ...]
    broken: tuple[SetArrow, ...]
    mass_spread_gr: float
    spine_spread: float


def sort_set(arrows: Sequence[SetArrow], take: int = BEST_OF) -> SortedSet:
    """The arrows of a set that are most alike in mass and spine.

    Alike: the smallest sum of squares about their own middle, each measure by its spread over the whole set.
    Around each arrow in turn the nearest ones, then exchanged one for one while that helps.

    Parameters
    ----------
    arrows : sequence of SetArrow
        Of one batch; one that creaks is never among the best.
    take : int
        How many are wanted.

    Raises
    ------
    BadInput
        Two carry the same number, or fewer than two can be shot.
    """
    numbers = [one.number for one in arrows]
    if len(set(numbers)) < len(numbers):
        raise BadInput("Two arrows carry the same number.", "number")
    broken = tuple(one for one in arrows if one.carbon is CarbonState.CREAKS)
    sound = [one for one in arrows if one.carbon is not CarbonState.CREAKS]
    if len(sound) < 2:
        raise BadInput("Fewer than two arrows that can be shot.", "arrows")
    wanted = min(take, len(sound))
    choices = [_exchanged(_nearest_to(centre, sound, wanted), sound) for centre in sound]
    best = min(choices, key=lambda chosen: _unlike(chosen, sound))
    chosen = tuple(sorted(best, key=lambda one: numbers.index(one.number)))
    others = tuple(one for one in sound if one not in chosen)
    return SortedSet(
        chosen, others, broken, _spread([one.mass_gr for one in chosen]),
        _spread([one.spine for one in chosen if one.spine]),
    )  # fmt: skip


def _nearest_to(centre: SetArrow, sound: Sequence[SetArrow], wanted: int) -> list[SetArrow]:
    mass, spine = _scales(sound)

    def apart(one: SetArrow) -> float:
        return hypot((one.mass_gr - centre.mass_gr) / mass, (one.spine - centre.spine) / spine)

    return sorted(sound, key=apart)[:wanted]


def _exchanged(chosen: list[SetArrow], sound: Sequence[SetArrow]) -> list[SetArrow]:
    """One of the chosen for one that is not, the best exchange first, until none makes them more alike."""
    while True:
        swaps = [
            [*chosen[:at], other, *chosen[at + 1 :]]
            for at in range(len(chosen))
            for other in sound
            if other not in chosen
        ]
        better = min(swaps, key=lambda swap: _unlike(swap, sound), default=chosen)
        if _unlike(better, sound) > _unlike(chosen, sound) - 1e-12:
            return chosen
        chosen = better


def _unlike(chosen: Sequence[SetArrow], sound: Sequence[SetArrow]) -> float:
    mass, spine = _scales(sound)
    return _squares([one.mass_gr / mass for one in chosen]) + _squares(
        [one.spine / spine for one in chosen]
    )


def _scales(sound: Sequence[SetArrow]) -> tuple[float, float]:
    """Spread of mass and of spine over the whole set; no spread counts as one grain, one thousandth."""
    masses, spines = [one.mass_gr for one in sound], [one.spine for one in sound]
    return _spread(masses) or 1.0, _spread(spines) or 1.0


def _squares(values: Sequence[float]) -> float:
    middle = sum(values) / len(values)
    return sum((value - middle) ** 2 for value in values)


def _spread(values: Sequence[float]) -> float:
    return max(values) - min(values) if values else 0.0
