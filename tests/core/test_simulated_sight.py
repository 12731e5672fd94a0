"""New marks for archers whose drag nobody knows: from two of their own marks and two speeds."""

import numpy as np
import pytest

from bowcore.accessories.on_the_bow import OnTheBow
from bowcore.evidence.facts import Take
from bowcore.simulation.simulated_sight import SimulatedSight, simulated_sight
from bowcore.stages.fit.sight_marks import sight_marks
from tests.core.test_on_the_bow import facts

SLOWER = 5.0


def predicted(hidden: SimulatedSight, seed: int):
    """What is predicted from what this archer can say."""
    rng = np.random.default_rng(seed + 100)
    marks = [hidden.shot_in(yards, rng) for yards in (20, 60)]
    written = {
        "peep_to_pin_in": round(hidden.geometry.peep_to_pin_in * 8) / 8,
        "eye_above_arrow_in": round(hidden.geometry.eye_above_arrow_in * 8) / 8,
        "marks": [20.0, 40.0, 60.0],
    }
    shot = [marks[0].place_in, hidden.shot_in(40, rng).place_in, marks[1].place_in]
    before = hidden.flight.speed_fps
    takes = (
        *(Take(at, "arrow_speed", before + rng.normal(0, 1)) for at in (1, 2, 3)),
        *(Take(at, "arrow_speed", before - SLOWER + rng.normal(0, 1)) for at in (21, 22, 23)),
    )
    return sight_marks(facts(takes=takes, on_bow=OnTheBow({"sight": written | {"places": shot}})))


@pytest.mark.parametrize("yards", [20, 60])
def test_marks_go_where_the_hidden_archer_finds_them(yards):
    off = []
    for seed in range(24):
        hidden = simulated_sight(seed)
        found = predicted(hidden, seed)
        mark = next(one for one in found.marks if one.distance_yd == yards)
        true = hidden.moved(hidden.flight.speed_fps - SLOWER, yards)
        off.append((mark.down_in - true.down_in) / mark.sigma_in)
        assert mark.impact_in == pytest.approx(true.impact_in, rel=0.9)
    assert np.mean(np.abs(off) < 2) >= 0.85  # the doubt that is shown is the doubt that there is
    assert abs(np.mean(off)) < 0.6


def test_the_same_seed_is_the_same_archer():
    assert simulated_sight(4) == simulated_sight(4) != simulated_sight(5)
