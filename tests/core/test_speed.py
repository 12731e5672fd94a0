"""Energy and speed against worked examples and the twin's own energy balance."""

import numpy as np
import pytest

from bowcore.accessories.arrow_speed import (
    Shooting,
    energy_ft_lbf,
    momentum_lb_s,
    speed_fps,
)
from bowcore.accessories.on_the_bow import OnTheBow, thing
from bowcore.bow.twin import build_twin
from bowcore.evidence.facts import Take
from bowcore.stages.fit.sight_marks import say_speed
from bowcore.stages.speed.speed_board import why_speed_doubted
from tests.core.test_on_the_bow import ARROW, facts
from tests.core.test_planner import SPEC


@pytest.mark.parametrize(("mass", "fps", "energy"), [(493, 284, 88.3), (460, 280, 80.1)])
def test_energy_is_that_of_worked_examples(mass, fps, energy):
    """Common practice, no published source."""
    assert energy_ft_lbf(mass, fps) == pytest.approx(energy, abs=0.05)
    kilograms, metres = mass * 64.79891e-6, fps * 0.3048  # SI by definition
    assert energy_ft_lbf(mass, fps) == pytest.approx(
        kilograms * metres**2 / 2 / 1.3558179483, rel=1e-5
    )
    assert momentum_lb_s(mass, fps) == pytest.approx(kilograms * metres / 4.4482216153, rel=1e-5)


def test_efficiency_gives_the_mass_that_moves_with_the_arrow():
    stored, moving = 85.0, 120.0

    def speed(mass):
        return np.sqrt(2 * stored * 7000 * 32.174 / (mass + moving))

    one = Shooting(stored, 400, speed(400))
    assert one.bow_mass_gr == pytest.approx(moving) and one.speed_of(500) == pytest.approx(
        speed(500)
    )


def test_the_bow_says_what_it_gives_the_arrow_and_how_fast_another_one_flies():
    arrow = OnTheBow({"arrow": thing("arrow").read(ARROW)})
    known = facts(takes=(Take(20, "arrow_speed", 255.0),), on_bow=arrow)
    words = say_speed(known, build_twin(SPEC), [("heavy", 520.0)])
    assert "412 gr at 255 fps: 59.5 ft lbf" in words[0]
    assert "% of it goes with the arrow" in words[1] and words[2].startswith(
        "heavy, 520 gr, would fly at"
    )
    assert say_speed(facts(), build_twin(SPEC)) == []
    absurd = facts(takes=(Take(20, "arrow_speed", 440.0),), on_bow=arrow)
    assert "no bow gives more than 90%" in say_speed(absurd, build_twin(SPEC))[-1]


def test_an_arrow_that_takes_more_than_the_bow_gives_is_doubted():
    """No bow gives more than nine tenths of its stored energy (common practice, no published source)."""
    twin = build_twin(SPEC)
    arrow = OnTheBow({"arrow": thing("arrow").read(ARROW)})
    known = facts(takes=(Take(1, "peak_weight", twin.peak_weight_lbf),), on_bow=arrow)
    stored = twin.stored_energy_inlbf() / 12
    fair, wild = speed_fps(0.85 * stored, 412), speed_fps(0.95 * stored, 412)
    assert why_speed_doubted(known, twin, fair) == ""
    assert "95% of what the bow stores" in why_speed_doubted(known, twin, wild)
    assert why_speed_doubted(known, twin, wild, mass_gr=350) == ""  # the lighter arrow carries less
    assert why_speed_doubted(known, None, wild) == why_speed_doubted(facts(), twin, wild) == ""
    heavier = facts(takes=(Take(1, "peak_weight", 1.2 * twin.peak_weight_lbf),), on_bow=arrow)
    assert why_speed_doubted(heavier, twin, wild) == ""  # the weight that was read stores more
