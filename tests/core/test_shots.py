"""Groups and lines of shots against general-purpose statistics and certified data."""

import numpy as np
import pytest
from scipy import stats
from statsmodels.api import WLS, add_constant
from statsmodels.stats.power import NormalIndPower

from bowcore.errors import BadInput
from bowcore.evidence.shots import (
    EVEN_CHANCE,
    USUAL_WEIGHT,
    Shot,
    ShotTest,
    group_of,
    pooled_scatter,
    shots_to_tell,
    two_alike,
)
from bowcore.evidence.tears import Holes, TearWords, say_tear
from bowcore.measurement.lines import line_through, rest_shift_in, student_95
from bowcore.stages.shooting_in.bare_shaft import Together, bare_against_fletched

# NIST Statistical Reference Datasets, Norris (linear regression, lower difficulty); typed from memory: the
# certified values are met to nine digits, which no wrong digit would allow
NORRIS_X = [
    0.2, 337.4, 118.2, 884.6, 10.1, 226.5, 666.3, 996.3, 448.6, 777.0, 558.2, 0.4, 0.6, 775.5, 666.9, 338.0,
    447.5, 11.6, 556.0, 228.1, 995.8, 887.6, 120.2, 0.3, 0.3, 556.8, 339.1, 887.2, 999.0, 779.0, 11.1, 118.3,
    229.2, 669.1, 448.9, 0.5,
]  # fmt: skip
NORRIS_Y = [
    0.1, 338.8, 118.1, 888.0, 9.2, 228.1, 668.5, 998.5, 449.1, 778.9, 559.2, 0.3, 0.1, 778.1, 668.8, 339.3,
    448.9, 10.8, 557.7, 228.3, 998.0, 888.8, 119.6, 0.3, 0.6, 557.6, 339.3, 888.0, 998.5, 778.9, 10.2, 117.6,
    228.9, 668.4, 449.2, 0.2,
]  # fmt: skip


def shots(*places, **more):
    return [Shot(at, ShotTest.PAPER, 3.0, x, y, **more) for at, (x, y) in enumerate(places, 1)]


@pytest.mark.parametrize("free", [1, 2, 8, 30, 45])
def test_students_t_is_scipys(free):
    assert student_95(free) == pytest.approx(stats.t.ppf(0.975, free), rel=2e-3)


def test_a_line_is_the_certified_one():
    line = line_through(NORRIS_X, NORRIS_Y)
    assert line.at_zero == pytest.approx(-0.262323073774029, rel=1e-9)
    assert line.slope == pytest.approx(1.00211681802045, rel=1e-12)
    assert line.at_zero_sigma == pytest.approx(0.232818234301152, rel=1e-9)
    assert line.slope_sigma == pytest.approx(0.429796848199937e-03, rel=1e-9)
    assert line.residual_sigma == pytest.approx(0.884796396144373, rel=1e-9)


def test_weights_and_the_bend_are_those_of_statsmodels():
    rng = np.random.default_rng(3)
    yards = np.repeat([20.0, 25, 30, 35, 40], 3)
    sigma = 0.03 * yards
    drift = 0.4 + 0.05 * yards + 0.004 * (yards - 30) ** 2 + sigma * rng.standard_normal(15)
    line = line_through(list(yards), list(drift), list(sigma))
    model = WLS(drift, add_constant(yards), 1 / sigma**2).fit()
    assert line.slope == pytest.approx(model.params[1])
    assert line.slope_sigma == pytest.approx(model.bse[1] / np.sqrt(model.scale))
    middle = yards - yards.mean()
    bent = WLS(drift, np.stack([np.ones(15), middle, middle**2], 1), 1 / sigma**2).fit()
    assert line.bend == pytest.approx(bent.params[2])
    assert line.bends == (abs(bent.params[2]) > 1.96 * bent.bse[2] / np.sqrt(bent.scale))
    straight = line_through([20, 30, 40], [1.0, 2.0, 3.0], 0.5)
    assert straight.slope == pytest.approx(0.1) and not straight.bends
    with pytest.raises(BadInput, match="different distances"):
        line_through([20, 20, 20], [1, 2, 3])


def test_shots_to_see_a_change_are_those_of_the_textbook():
    for change, scatter in ((0.2, 0.1), (0.1, 0.12), (0.3, 0.4)):
        wanted = NormalIndPower().solve_power(change / scatter, alpha=0.05, power=0.9)
        assert shots_to_tell(change, scatter) == pytest.approx(np.ceil(wanted), abs=1)
    assert shots_to_tell(0.1, 0.1, EVEN_CHANCE) == 8  # 8 (s/c)²: common practice's even chance
    assert shots_to_tell(0.1, 0.1) == 22  # 21 (s/c)², rounded up
    with pytest.raises(BadInput):
        shots_to_tell(0, 0.1)


def test_a_flyer_stays_on_record_and_is_not_counted():
    places = [(0.0, 0.5), (0.05, 0.45), (-0.05, 0.55), (1.5, -0.9), (0.0, 0.5)]
    group = group_of(shots(*places))
    assert group.flyers == (3,) and group.shots == 4
    assert group.y_in == pytest.approx(0.5)
    called = [*shots((0.0, 0.5), (0.1, 0.5)), *shots((2.0, 2.0), good=False)]
    assert group_of(called).shots == 2
    with pytest.raises(BadInput, match="called good"):
        group_of(shots((1, 1), good=False))


def test_scatter_comes_from_the_shots_and_begins_at_the_usual_one():
    rng = np.random.default_rng(1)
    true = 0.3
    many = [shots(*(rng.normal(c, true, 2) for _ in range(40))) for c in (0.0, 1.0, -2.0)]
    assert pooled_scatter(many) == pytest.approx(true, rel=0.15)
    assert pooled_scatter([]) == pytest.approx(0.08)
    own = np.concatenate([np.array([[s.x_in, s.y_in] for s in g]) for g in many[:1]])
    group = group_of(many[0], usual_in=true)
    n, prior = len(own), USUAL_WEIGHT
    expected = ((n - 1) * np.cov(own.T) + prior * true**2 * np.eye(2)) / (n - 1 + prior)
    assert group.covariance == pytest.approx(expected)


def test_two_alike_are_alike_by_the_archers_own_scatter():
    assert two_alike(shots((0, 0.5), (0.1, 0.45)), 0.08)
    assert not two_alike(shots((0, 0.5), (0.4, 0.0)), 0.08)
    assert not two_alike(shots((0, 0.5)), 0.08)


def test_bare_against_fletched_says_how_many_more_it_takes():
    at_20 = [group_of(shots(*p), usual_in=0.3) for p in (
        [(3.0, 0.2), (3.2, 0.1), (2.9, 0.0)], [(0.1, 0.0), (-0.1, 0.2), (0.0, -0.1)], [(1.2, 0.0)],
    )]  # fmt: skip
    apart = bare_against_fletched(at_20[0], at_20[1], 20)
    assert apart.verdict is Together.APART and apart.x_in == pytest.approx(3.03, abs=0.02)
    assert bare_against_fletched(at_20[1], at_20[1], 20).verdict is Together.MEET
    unsure = bare_against_fletched(group_of(shots((1.2, 0.0)), usual_in=0.9), at_20[1], 20)
    assert unsure.verdict is Together.UNDECIDED and unsure.more_shots >= 1
    # what two standard errors are, by SciPy's own two-sample statistic with known scatter
    z = apart.x_in / apart.sigma_x
    assert stats.norm.sf(abs(z)) < 0.025


def test_the_rest_follows_the_drift_by_similar_triangles():
    # an inch at 20 yd is about 3/64 in at the rest: common practice, no published source
    assert abs(rest_shift_in(1.0 / (20 - 3))) == pytest.approx(3 / 64, abs=1 / 64)
    assert rest_shift_in(-1.0 / (20 - 3)) > 0  # missed to the left: the rest goes right
    slope = 0.1  # inches a yard to the right
    drift = 36 * np.tan(np.arctan(rest_shift_in(slope) / 28.0))
    assert drift == pytest.approx(-slope)


@pytest.mark.parametrize(
    ("words", "said"),
    [(TearWords.NOCK, "nock 3/8 in high, 1/4 in left"), (TearWords.TIP, "tip 3/8 in low, 1/4 in right"),
     (TearWords.KICK, "kick 3/8 in high, 1/4 in left")],
)  # fmt: skip
def test_a_tear_is_said_in_the_shops_words(words, said):
    assert say_tear(*Holes(1.0, 1.0, 0.75, 1.375).tear, words) == said
    assert say_tear(0.01, -0.01, words) == "a clean hole"


@pytest.mark.parametrize("place", [(9, 0, 0, 0), (0, 0, 0, 99)])
def test_holes_that_no_sheet_holds_are_refused(place):
    with pytest.raises(BadInput, match="one sheet"):
        Holes(*place)


MSA = {
    "A": ((.29, -.56, 1.34, .47, -.80, .02, .59, -.31, 2.26, -1.36),
          (.41, -.68, 1.17, .50, -.92, -.11, .75, -.20, 1.99, -1.25),
          (.64, -.58, 1.27, .64, -.84, -.21, .66, -.17, 2.01, -1.31)),
    "B": ((.08, -.47, 1.19, .01, -.56, -.20, .47, -.63, 1.80, -1.68),
          (.25, -1.22, .94, 1.03, -1.20, .22, .55, .08, 2.12, -1.62),
          (.07, -.68, 1.34, .20, -1.28, .06, .83, -.34, 2.19, -1.50)),
    "C": ((.04, -1.38, .88, .14, -1.46, -.29, .02, -.46, 1.77, -1.49),
          (-.11, -1.13, 1.09, .20, -1.07, -.67, .01, -.56, 1.45, -1.77),
          (-.15, -.96, .67, .11, -1.45, -.49, .21, -.49, 1.87, -2.16)),
}  # fmt: skip
MSA_SQUARES, MSA_FREEDOM = 2.7589, 60


def test_scatter_of_repeats_is_that_of_a_published_gauge_study():
    """AIAG, Measurement Systems Analysis, 4th edition, 2010: three appraisers, ten parts, three trials each.

    The analysis of variance there gives 2.7589 for the squares of repeats, 60 degrees of freedom (data and
    figures from memory). Each part and appraiser is a group of shots; both ways show the same.
    """
    groups = [
        [Shot(n, ShotTest.PAPER, 3, trials[n][part], trials[n][part]) for n in range(3)]
        for trials in MSA.values()
        for part in range(10)
    ]
    wanted = np.sqrt(MSA_SQUARES / MSA_FREEDOM)
    assert pooled_scatter(groups, wanted) == pytest.approx(wanted, rel=1e-4)
    assert (
        pooled_scatter(groups, 2 * wanted) > 1.05 * wanted
    )  # what was thought before still counts
