"""Which spine a bow wants: the line of its tears against spine, and hidden bows whose best spine is known."""

import numpy as np
import pytest
import statsmodels.api as sm

from bowcore.accessories.arrow import class_of_spine
from bowcore.accessories.on_the_bow import OnTheBow
from bowcore.errors import BadInput
from bowcore.evidence.looked_at import LookedAt
from bowcore.evidence.shots import Shot, ShotTest
from bowcore.evidence.tears import CLEAN_IN
from bowcore.stages.shooting_in.next_act import ActKind
from bowcore.stages.shooting_in.spine_response import (
    SPINE_RATE_SIGMA,
    ArrowTear,
    say_spine,
    spine_answer,
)
from bowcore.stages.shooting_in.suspects import Axis, suspects_of
from bowcore.stages.shooting_in.tuning import ladder, paper_act
from tests.core.test_on_the_bow import facts


def test_the_slope_is_that_of_statsmodels_once_there_is_much_to_see():
    spines, tears, sigmas = (300, 340, 400, 500), (-0.4, -0.2, 0.05, 0.6), (0.01, 0.012, 0.01, 0.02)
    mine = spine_answer([ArrowTear(*one) for one in zip(spines, tears, sigmas, strict=True)])
    theirs = sm.WLS(tears, sm.add_constant(spines), weights=np.array(sigmas) ** -2.0)
    slope, error = theirs.fit().params[1], np.sqrt(theirs.fit(cov_type="fixed scale").bse[1] ** 2)
    assert mine.rate == pytest.approx(slope, rel=1e-3)
    assert mine.rate_sigma == pytest.approx(error, rel=1e-3)
    assert mine.best == pytest.approx(-theirs.fit().params[0] / slope, abs=0.5)


def test_hidden_bows_want_what_two_arrows_say_as_often_as_is_stated():
    """Of 400 bows, each with its own rate and best spine, the 90 % band of the best spine holds it nine times
    in ten, and where one is named the tear with it is clean."""
    rng, held, clean, named = np.random.default_rng(3), 0, 0, 0
    for _ in range(400):
        rate = SPINE_RATE_SIGMA * rng.standard_normal()
        best = rng.uniform(320, 480)
        seen = [
            ArrowTear(spine, rate * (spine - best) + 0.03 * rng.standard_normal(), 0.03)
            for spine in (400, 340)
        ]
        answer = spine_answer(seen)
        if answer.best is None:
            continue
        named += 1
        held += abs(answer.best - best) < 1.645 * answer.best_sigma
        clean += abs(rate * (answer.best - best)) < CLEAN_IN + 2 * answer.left_sigma
    assert named > 150
    assert 0.84 < held / named < 0.97 and clean / named > 0.94


def test_one_arrow_or_two_alike_say_nothing():
    assert spine_answer([ArrowTear(400, 0.3, 0.03)]) is None
    assert spine_answer([ArrowTear(400, 0.3, 0.03), ArrowTear(400, 0.2, 0.03)]) is None
    flat = spine_answer([ArrowTear(400, 0.3, 0.05), ArrowTear(340, 0.31, 0.05)])
    assert not flat.answers and flat.best is None and say_spine(flat, 400) == ""


def test_no_spine_is_asked_for_far_beyond_what_was_shot():
    answer = spine_answer([ArrowTear(400, 2.0, 0.02), ArrowTear(390, 1.9, 0.02)])
    assert answer.answers and answer.best is None


OWN = {"name": "Own 400", "mass_gr": 420.0, "length_in": 28.0, "shaft_in": 0.246, "spine": "400"}


def shot(at, x, arrow="", spine=0.0):
    return Shot(at, ShotTest.PAPER, 3, x, 0.0, arrow=arrow, spine=spine)


def test_a_bow_that_answers_to_spine_is_given_the_arrow_that_it_wants():
    mine = [shot(20, 0.4), shot(21, 0.42), shot(22, 0.4)]
    theirs = [shot(23, 0.2, "Stiffer", 350), shot(24, 0.21, "Stiffer"), shot(25, 0.2, "Stiffer")]
    others = [one.key for one in suspects_of(Axis.SIDE) if one.key != "spine_side"]
    looked = tuple(LookedAt(40 + n, key, False) for n, key in enumerate(others * 2))
    known = facts(shots=(*mine, *theirs), looked_at=looked, on_bow=OnTheBow({"arrow": OWN}))
    act = paper_act(known, {})
    assert act.kind is ActKind.MEND and act.suspect == "spine_side"
    assert "stiffer: spine about 30" in act.do and "instead of 400" in act.do
    assert abs(act.remains.value) < CLEAN_IN and act.remains.sigma > 0
    row = next(one for one in ladder(known, {}) if one.suspect.key == "spine_side")
    assert "another tear" in row.findings[-1].words or "clean" in row.findings[-1].words


def test_without_the_own_arrows_spine_nothing_is_said_of_another():
    shots = (shot(20, 0.4), shot(21, 0.4), shot(22, 0.1, "Stiffer", 340), shot(23, 0.1, "Stiffer"))
    looked = tuple(
        LookedAt(40 + n, one.key, False)
        for n, one in enumerate([s for s in suspects_of(Axis.SIDE) if s.key != "spine_side"] * 3)
    )
    act = paper_act(facts(shots=shots, looked_at=looked), {})
    assert act.suspect == "spine_side" and "about" not in act.do


def test_a_class_of_spine_is_a_plain_number_that_shafts_have():
    assert class_of_spine("340") == 340 and class_of_spine("stiff") == 0 == class_of_spine("nan")
    with pytest.raises(BadInput, match="spine of 5"):
        shot(1, 0.1, "", 5)
