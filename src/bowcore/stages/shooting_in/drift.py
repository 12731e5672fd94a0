"""How impacts drift aside with the distance, and what the rest does to it on this bow: walk-back, French."""

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from math import hypot

from bowcore.adjusters.steps import Steps
from bowcore.errors import BadInput
from bowcore.evidence.facts import Facts
from bowcore.evidence.shots import Shot, ShotTest, group_of
from bowcore.evidence.shots_between import between_changes, boundaries
from bowcore.learning.one_rate import Rate
from bowcore.measurement.bands import Band
from bowcore.measurement.lines import LEAST_PLACES, Line, line_through
from bowcore.stages.shooting_in.bare_groups import usual_at
from bowcore.stages.shooting_in.tear_levers import taps_of_rest
from bowcore.stages.shooting_in.tear_response import Lever, TriedStep, drift_lever

NEAR_YD = 3.0
"""The French start: two or three yards, the sight set until the string is split (common practice)."""
WALK_BACK_YD = (20, 25, 30, 35, 40)
SHOTS_A_PLACE = 2
"""At each distance before a walk-back says anything (common practice, no published source)."""
LEAST_SCATTER = 0.1 / 20
"""No group is read closer than that for each yard: a tenth of an inch at 20 yd, our figure. [in/yd]"""
DRIFT_TESTS = (ShotTest.WALK_BACK, ShotTest.FRENCH)
HARDLY = 1 / 3
"""A rest that moves the drift by less than this share of what geometry says is not what is behind it: our
figure."""


@dataclass(frozen=True)
class Drift:
    """How far impacts go aside for each yard, to the right, and its doubt. [in/yd]"""

    slope: float
    sigma: float


def drift_of(shots: Sequence[Shot], test: ShotTest) -> Drift | None:
    """What shots of walk-back or French say, nothing changed between them; None where they are too few."""
    good = [one for one in shots if one.test is test and one.good]
    if test is ShotTest.WALK_BACK:
        return _of_line(good)
    far = [one for one in good if one.distance_yd > 2 * NEAR_YD]
    if len(far) < 2:
        return None
    yards = far[-1].distance_yd
    group, over = group_of(far, usual_at(yards)), yards - NEAR_YD
    return Drift(group.x_in / over, group.sigma_x / over)


def _of_line(good: Sequence[Shot]) -> Drift | None:
    if len(good) <= LEAST_PLACES:
        return None
    try:
        line = drift_line(good)
    except BadInput:
        return None
    return Drift(line.slope, line.slope_sigma)


def drift_line(shots: Sequence[Shot]) -> Line:
    """The line through impacts, those from afar counting less, as they scatter more.

    Raises
    ------
    BadInput
        Too few, or all from one distance.
    """
    yards = [one.distance_yd for one in shots]
    return line_through(yards, [one.x_in for one in shots], yards, scaled=True, least=LEAST_SCATTER)


def still_to_shoot(shots: Sequence[Shot]) -> dict[int, int]:
    """How many shots more each distance of a walk-back wants; empty where all have theirs. [yd]"""
    shot = Counter(one.distance_yd for one in shots)
    wanted = {yards: SHOTS_A_PLACE - shot[float(yards)] for yards in WALK_BACK_YD}
    return {yards: more for yards, more in wanted.items() if more > 0}


def lever_of_drift(facts: Facts, bands: Mapping[str, Band]) -> Lever:
    """The rest, tapped sideways as far as centre shot allows, for a drift."""
    least, most, blocked = taps_of_rest(facts, bands)
    lever = drift_lever(facts.left_handed, (least, most), blocked)
    return replace(lever, first=facts.shooting_policy.rates.get(lever.key, lever.first))


def drift_trials(facts: Facts) -> Iterator[TriedStep]:
    """What taps of the rest have done to the drift, the rest alone."""
    lever = drift_lever(facts.left_handed)
    groups = between_changes(facts, facts.shots)
    for place, seq in enumerate(boundaries(facts)):
        made = [one for one in facts.changes if one.seq == seq]
        count = lever.units_in(Steps({one.adjuster: one.steps for one in made if one.adjuster}))
        for test in DRIFT_TESTS:
            before, after = (drift_of(groups[at], test) for at in (place, place + 1))
            if count and len(made) == 1 and before is not None and after is not None:
                doubt = hypot(before.sigma, after.sigma)
                yield TriedStep(lever.key, count, before.slope, after.slope, doubt)


def hardly_moves(facts: Facts, known: Rate) -> bool:
    """Whether this bow has shown that the rest is not what is behind its drift."""
    by_geometry = drift_lever(facts.left_handed).first
    return known.trials > 0 and known.mean / by_geometry.mean < HARDLY
