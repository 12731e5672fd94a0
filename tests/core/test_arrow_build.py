"""An arrow from its parts: against a balance computed otherwise, examples, and all subsets of a set."""

from itertools import combinations

import numpy as np
import pytest

from bowcore.accessories.arrow_build import (
    ArrowParts,
    CarbonState,
    SetArrow,
    cut_to_in,
    sort_set,
    spine_hint,
)
from bowcore.errors import BadInput

PARTS = ArrowParts(28.5, 8.6, 100, insert_gr=20, nock_gr=9, fletching_gr=18, wrap_gr=6)


def test_mass_and_balance_are_those_of_a_rod_with_weights_on_it():
    """The shaft as a thousand slices, numerically; moments about the groove."""
    slices = np.linspace(0.4, 28.5, 100_001)
    shaft = 8.6 * (28.5 - 0.4)
    placed = [(100, 28.7), (20, 28.0), (9, 0.15), (18, 2.3), (6, 2.4)]
    moment = shaft * slices.mean() + sum(mass * place for mass, place in placed)
    mass = shaft + sum(mass for mass, _ in placed)
    assert PARTS.mass_gr == pytest.approx(mass)
    assert PARTS.balance_in == pytest.approx(moment / mass)
    assert PARTS.forward_of_centre == pytest.approx((moment / mass - 28.5 / 2) / 28.5)


def test_a_usual_arrow_balances_where_usual_arrows_do():
    """Ten to fifteen per cent ahead of the middle (common practice, no published source)."""
    assert 0.09 < PARTS.forward_of_centre < 0.16
    heavy = ArrowParts(28.5, 8.6, 200, 20, 9, 18, 6)
    assert heavy.forward_of_centre > PARTS.forward_of_centre + 0.04
    assert 0 < PARTS.balance_sigma_in < 0.2


@pytest.mark.parametrize(
    ("draw", "ahead", "clearance", "cut"),
    [(29, 0, 0.5, 27.75), (29, 0.5, 1.0, 28.75), (27.5, -0.25, 0.5, 26.0)],
)
def test_where_to_cut(draw, ahead, clearance, cut):
    """By hand: draw length less 1 3/4, the rest's contact, the clearance."""
    assert cut_to_in(draw, ahead, clearance) == pytest.approx(cut)


def test_a_point_never_comes_onto_the_rest():
    with pytest.raises(BadInput, match="onto the rest"):
        cut_to_in(29, 0, 0.25)


@pytest.mark.parametrize(
    ("peak", "length", "class_"), [(60, 28, 400), (70, 29, 340), (50, 27, 500), (40, 26, 700)]
)
def test_the_hint_holds_usual_choices(peak, length, class_):
    """What is commonly sold for these bows (common practice, no published source): within two doubts."""
    hint = spine_hint(peak, length, 100)
    off = (hint.most - hint.least) / 2
    assert abs(hint.spine - class_) < 2 * off


def test_a_longer_arrow_a_heavier_point_and_more_weight_want_a_stiffer_class():
    plain = spine_hint(60, 28, 100).spine
    assert spine_hint(60, 29, 100).spine < plain
    assert spine_hint(60, 28, 150).spine < plain
    assert spine_hint(65, 28, 100).spine < plain
    assert spine_hint(60, 28 / 2**0.5, 100).spine == pytest.approx(2 * plain)


@pytest.mark.parametrize("seed", range(25))
@pytest.mark.parametrize("with_spine", [False, True])
def test_the_set_that_is_chosen_is_as_alike_as_any(seed, with_spine):
    """Against every subset of six of twelve."""
    rng = np.random.default_rng(seed)
    arrows = [
        SetArrow(
            str(n), round(rng.normal(400, 2), 1), round(rng.normal(340, 4)) if with_spine else 0.0
        )
        for n in range(12)
    ]
    mass = np.ptp([one.mass_gr for one in arrows])
    spine = np.ptp([one.spine for one in arrows]) or 1

    def unlike(chosen):
        masses = np.array([one.mass_gr for one in chosen]) / mass
        spines = np.array([one.spine for one in chosen]) / spine
        return masses.var() + spines.var()

    least = min(unlike(chosen) for chosen in combinations(arrows, 6))
    found = sort_set(arrows)
    assert len(found.best) == 6 and len(found.others) == 6
    assert unlike(found.best) <= least * 1.0001


def test_an_arrow_that_creaks_is_in_no_set():
    arrows = [SetArrow(str(n), 400.0) for n in range(6)]
    arrows.append(SetArrow("7", 400.0, carbon=CarbonState.CREAKS))
    found = sort_set(arrows)
    assert [one.number for one in found.broken] == ["7"] and len(found.best) == 6


@pytest.mark.parametrize(
    "arrows",
    [
        [SetArrow("1", 400.0)],
        [SetArrow("1", 400.0), SetArrow("1", 401.0)],
        [SetArrow("1", 400.0), SetArrow("2", 400.0, carbon=CarbonState.CREAKS)],
    ],
)
def test_no_set_is_made_of_one_arrow_or_of_twins_by_number(arrows):
    with pytest.raises(BadInput):
        sort_set(arrows)


@pytest.mark.parametrize("wrong", [{"length_in": 5}, {"shaft_gr_per_in": 0}, {"point_gr": 5000}])
def test_what_no_arrow_is_made_of_is_refused(wrong):
    with pytest.raises(BadInput):
        ArrowParts(**({"length_in": 28, "shaft_gr_per_in": 8, "point_gr": 100} | wrong))
