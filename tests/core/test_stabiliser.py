"""Moments against vectors; advice against simulated archers whose best bars are hidden."""

import numpy as np
import pytest

from bowcore.errors import BadInput
from bowcore.stages.stabiliser.bars import Bars, FloatSet, PinFloat, next_float, say_moments


def test_moments_are_those_of_weights_on_arms():
    """By vectors: the sum of place times mass."""
    bars = Bars(30, 4, 12, 10, 30)
    places = np.array([[30.0, 0.0], [-12 * np.cos(np.pi / 6), 12 * np.sin(np.pi / 6)]])
    moment = (np.array([4.0, 10.0])[:, None] * places).sum(axis=0)
    assert (bars.forward_inoz, bars.sideways_inoz) == pytest.approx(tuple(moment))
    assert bars.balance_in == pytest.approx(moment[0] / 14)
    assert "16 inch-ounces forward" in say_moments(bars)


@pytest.mark.parametrize(
    ("pin", "words"),
    [
        (PinFloat.RIDES_HIGH, "more in front"), (PinFloat.DIPS, "more behind"),
        (PinFloat.SIDEWAYS, "more of both"), (PinFloat.STILL, "more of both"),
    ],
)  # fmt: skip
def test_what_the_pin_does_says_which_weight(pin, words):
    """Common practice, no published source."""
    act = next_float([FloatSet(Bars(30, 4, 12, 10), pin, 2)])
    assert words in act.do and not act.done


def test_a_good_set_is_left_and_two_worse_go_back_to_the_best():
    bars = Bars(30, 4, 12, 10)
    assert next_float([FloatSet(bars, PinFloat.STILL, 4)]).done
    worse = [
        FloatSet(bars, PinFloat.DIPS, 3), FloatSet(Bars(30, 4, 12, 11), PinFloat.DIPS, 2),
        FloatSet(Bars(30, 3, 12, 10), PinFloat.DIPS, 2),
    ]  # fmt: skip
    act = next_float(worse)
    assert act.done and act.bars == bars and "Back to the best" in act.do


def test_only_one_change_a_set_and_none_twice():
    """A set differs from the best one so far in one weight, or in both where more of both is asked for."""
    sets = [FloatSet(Bars(30, 4, 12, 10), PinFloat.SIDEWAYS, 3)]
    seen = [sets[0].bars]
    while not (act := next_float(sets)).done:
        assert act.bars not in seen
        seen.append(act.bars)
        sets.append(FloatSet(act.bars, PinFloat.SIDEWAYS, 3))
    assert len(seen) >= 3


@pytest.mark.parametrize("seed", range(20))
def test_it_ends_near_the_balance_that_an_archer_likes(seed):
    """Hidden: the moment at which the pin is still. It ends no farther from it than it began, in few sets."""
    rng = np.random.default_rng(seed)
    liked, sets, bars = float(rng.uniform(-40, 80)), [], Bars(30, 4, 12, 10)
    first = abs(bars.forward_inoz - liked)
    while True:
        off = bars.forward_inoz - liked
        pin = (
            PinFloat.STILL if abs(off) < 12 else (PinFloat.RIDES_HIGH if off < 0 else PinFloat.DIPS)
        )
        sets.append(FloatSet(bars, pin, int(np.clip(5 - abs(off) // 10, 1, 5))))
        act = next_float(sets)
        if act.done:
            break
        bars = act.bars
    assert len(sets) <= 12
    ended = abs(act.bars.forward_inoz - liked)
    assert ended <= first and (first > 40 or ended < 20)


@pytest.mark.parametrize("wrong", [(90, 4), (30, -1), (30, 4, 12, 100), (30, 4, 12, 10, 120)])
def test_bars_that_nobody_screws_on_are_refused(wrong):
    with pytest.raises(BadInput):
        Bars(*wrong)


def test_a_rating_off_the_scale_is_refused():
    with pytest.raises(BadInput):
        FloatSet(Bars(30, 4), PinFloat.STILL, 6)
