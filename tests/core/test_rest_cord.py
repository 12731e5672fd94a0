"""The drop-away rest's cord: the thread's run along the draw, and when the arm comes up."""

import numpy as np
import pytest
from scipy.integrate import solve_ivp

from bowcore.accessories.rest_cord import (
    Clamp,
    Driver,
    arm_up,
    best_clamp,
    cord_for,
    cord_run,
    now_up_at,
    seconds_to_rest,
    spring_needed,
)
from bowcore.bow.equilibrium import contact_index
from bowcore.bow.layout import BOTTOM
from bowcore.bow.outline import outline
from bowcore.bow.specification import Family
from bowcore.bow.straight_run import straight_run
from bowcore.bow.tracks import evaluate
from bowcore.bow.twin import Changes
from bowcore.errors import BadInput, Refused
from tests.core.bows import TWO_CAMS, twin_of


def wound_by_hand(twin, drawn):
    """How much the bottom cam winds of its cable between rest and a draw: the track as a line of many points,
    measured from one contact to the other."""
    index = contact_index(twin.family, BOTTOM)
    ends = [float(s.psi[0, index] - s.q[0, 3]) for s in (twin.rest, drawn)]
    psi = np.linspace(*ends, 20001)
    h, slope, _ = evaluate(twin.machine.tracks["take_b"][0], psi)
    points = np.stack(
        [h * np.cos(psi) - slope * np.sin(psi), h * np.sin(psi) + slope * np.cos(psi)], 1
    )
    return float(np.hypot(*np.diff(points, axis=0).T).sum())


@pytest.mark.parametrize("family", Family)
def test_what_a_cam_winds_is_the_length_of_its_track(family):
    twin = twin_of(family)
    drawn = twin.at(np.array([twin.x_full - 0.5]))
    begun, ended = (float(straight_run(twin, s, "cable_b").below[0]) for s in (twin.rest, drawn))
    assert abs(ended - begun) == pytest.approx(wound_by_hand(twin, drawn), rel=1e-5)
    assert ended > begun  # the bottom cam takes it up: thread goes down


@pytest.mark.parametrize("family", Family)
def test_the_straight_run_is_the_drawn_line(family):
    twin = twin_of(family)
    run = straight_run(twin, twin.rest, "cable_b")
    drawn = sorted(outline(twin, twin.rest)["ropes"]["cable_b"][0], key=lambda point: point[1])
    assert run.lower[0] == pytest.approx(drawn[0]) and run.upper[0] == pytest.approx(drawn[1])


@pytest.mark.parametrize("family", Family)
def test_the_arm_is_up_where_it_was_wanted(family):
    twin = twin_of(family)
    run = cord_run(twin, best_clamp(twin, Driver.CABLE_B))
    for wanted in (1.0, 1.5, 2.0):
        up = arm_up(run, cord_for(run, wanted))
        assert up.before_full_draw_in == pytest.approx(wanted, abs=1e-6)
        assert up.begins_in > wanted


@pytest.mark.parametrize("family", TWO_CAMS)
def test_a_clamp_low_on_the_cable_runs_onto_the_cam(family):
    with pytest.raises(BadInput, match="onto a cam") as refused:
        cord_run(twin_of(family), Clamp(Driver.CABLE_B, 0.5))
    assert "in" in refused.value.allowed


@pytest.mark.parametrize("family", TWO_CAMS)
def test_after_a_twist_the_arm_comes_up_elsewhere_and_back_again(family):
    twin = twin_of(family)
    clamp = best_clamp(twin, Driver.CABLE_B)
    run = cord_run(twin, clamp)
    twisted = twin.changed(Changes({"cable_b": 0.06}))
    now = now_up_at(run, cord_run(twisted, clamp, twin), 1.5)
    assert now is not None and abs(now - 1.5) > 0.005
    back = twisted.changed(Changes({"cable_b": -0.06}))
    assert now_up_at(run, cord_run(back, clamp, twin), 1.5) == pytest.approx(1.5, abs=1e-3)


def test_a_limb_lets_the_arm_up_as_the_bow_is_drawn():
    twin = twin_of(Family.BINARY)
    run = cord_run(twin, best_clamp(twin, Driver.BOTTOM_LIMB))
    assert run.lets_up and (np.diff(run.pull_in) > 0).all()
    up = arm_up(run, cord_for(run))
    assert up.before_full_draw_in > 1 and up.begins_in >= up.before_full_draw_in


def test_a_cord_that_is_too_long_or_a_clamp_that_does_not_move():
    twin = twin_of(Family.BINARY)
    run = cord_run(twin, best_clamp(twin, Driver.CABLE_B))
    assert arm_up(run, float(run.distance_in.max()) + 1).before_full_draw_in is None
    with pytest.raises(Refused, match="Clamp it where"):
        cord_for(run, 1.5, lift_in=9.0)
    with pytest.raises(BadInput, match="no such cable"):
        cord_run(twin_of(Family.SINGLE), Clamp(Driver.CABLE_A, 10))


def test_an_arm_needs_a_spring_to_be_out_of_the_fletchings_way():
    """Against a solver in time: the bow's force moves what leaves it at the measured speed."""
    twin = twin_of(Family.BINARY)
    xs, force = twin.curve(400)
    mass = 2 * np.trapezoid(force, xs) / (12 * 280) ** 2

    def pushed(_, at):
        return [at[1], -np.interp(at[0], xs, force) / mass]

    def there(_, at):
        return at[0] - xs[0]

    there.terminal = True
    begins = xs[-1] - 1.5
    gained = np.trapezoid(force[xs >= begins], xs[xs >= begins])
    start = [begins, -((2 * gained / mass) ** 0.5)]
    held = solve_ivp(pushed, (0, 1), start, events=there, rtol=1e-9, atol=1e-9).t[-1]
    free = (xs[0] - 4.5) / (12 * 280)
    seconds = seconds_to_rest(twin, 1.5, 280)
    assert seconds == pytest.approx(held + free, rel=0.02)
    assert spring_needed(seconds, 0.25) > 1  # falling alone is not enough
    lower = 0.5 * spring_needed(seconds, 0.25) * 9.80665 / 0.0254 * seconds**2
    assert lower == pytest.approx(0.25, rel=1e-4)
