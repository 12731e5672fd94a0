"""Shooting in on two simulators that share no code and no figures with the engine, beside a plain ladder."""

from math import hypot
from statistics import median

import numpy as np
import pytest
from bench import tune_flight, tune_world

CASES = range(3)


def played(way, make):
    found = []
    for cause in tune_world.CAUSES:
        for seed in CASES:
            bench = tune_world.Bench.of(cause, seed, make)
            end = way(bench)
            found.append((bench, end, hypot(*bench.bow.tear()), cause))
    return found


@pytest.mark.parametrize(
    ("make", "tuned", "named"), [(tune_world.hidden, 0.8, 0.85), (tune_flight.hidden, 0.6, 0.7)]
)
def test_more_bows_are_tuned_than_by_the_ladder_in_fewer_shots(make, tuned, named):
    engine, ladder = (played(way, make) for way in (tune_world.by_engine, tune_world.by_ladder))
    shares = [np.mean([size < 0.14 for *_, size, _ in who]) for who in (engine, ladder)]
    assert shares[0] >= tuned and shares[0] > shares[1] + 0.1
    assert median(b.shots for b, *_ in engine) <= 0.75 * median(b.shots for b, *_ in ladder)
    falsely = [end == "done" and size >= 3 / 16 for _, end, size, _ in engine]
    assert np.mean(falsely) <= 0.06
    one = [(b, c) for b, _, _, c in engine if c in tune_world.NAMES]
    assert np.mean([bool(set(b.named) & tune_world.NAMES[c]) for b, c in one]) >= named
