"""The derivations in docs/derivations, run, and what the code computes beside them.

They use SymPy, a general-purpose computer algebra library; the equations are those of the derivations.
"""

import importlib.util
from math import radians
from pathlib import Path

import numpy as np
import pytest
import sympy as sp

from bowcore.bow.bundle import Bundle
from bowcore.bow.equilibrium import AT_REST, solve
from bowcore.bow.lean import (
    GUARD_DISTANCE_IN,
    HALF_AXLE_IN,
    LEG_LENGTH_IN,
    TILT_STIFFNESS,
    Lean,
    degrees_per_leg_step,
    degrees_per_shim,
)
from bowcore.bow.machine import ALPHA, MIRROR, THETA, XN, YN, State, geometry
from bowcore.bow.specification import Family
from bowcore.bow.twin import BOLT_LEVER_IN, BOLT_PITCH_IN, BOLT_RAD_PER_TURN
from tests.core.bows import book, twin_of
from tests.core.closed_form import gap_per_inch

FOLDER = Path(__file__).resolve().parents[2] / "docs" / "derivations"


def derivation(name):
    spec = importlib.util.spec_from_file_location(name, FOLDER / f"{name}.py")
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    return module


def test_a_piece_is_stationary_where_it_touches_its_track():
    assert derivation("ropes").stationary_where_it_touches()


@pytest.mark.parametrize("side", [0, 1])
def test_gradient_and_hessian_of_a_string_piece_are_the_derived_ones(side):
    ropes, twin = derivation("ropes"), twin_of(Family.BINARY)
    machine = twin.machine
    at_rest, _ = solve(machine, twin.rest, AT_REST)
    tension = np.zeros_like(at_rest.tension)
    tension[0, side] = 1.0
    state = State(at_rest.q, tension, at_rest.force, at_rest.psi)
    for _ in range(3):  # contact angles become exact
        found = geometry(machine, state)
        state = State(state.q, tension, state.force, found.psi)
    track = machine.tracks[("string_t", "string_b")[side]][0]
    q = state.q[0]
    values = dict(zip((ropes.R0, ropes.C1, ropes.S1, ropes.C2, ropes.S2), track, strict=True))
    values |= {
        ropes.THETA: q[THETA[side]], ropes.ALPHA: q[ALPHA[side]], ropes.XN: q[XN],
        ropes.YN: q[YN], ropes.PSI: state.psi[0, side], ropes.PIVOT_X: machine.pivot_x[0, side],
        ropes.PIVOT_Y: machine.pivot_y[0, side], ropes.RADIUS: machine.limb_radius[0],
        ropes.SIDE: (1, -1)[side], ropes.MIRROR: MIRROR[side], ropes.SIGN: 1,
    }  # fmt: skip
    places = [THETA[side], ALPHA[side], XN, YN]
    first = np.array(ropes.gradient().subs(values), float).ravel()
    second = np.array(ropes.hessian().subs(values), float)
    assert found.gradient[0, side, places] == pytest.approx(first, abs=1e-9)
    assert found.hessian[0][np.ix_(places, places)] == pytest.approx(second, abs=1e-9)


def test_a_yoke_leg_tilts_its_axle_by_the_derived_lever():
    lean, leg = derivation("lean"), Bundle(5.0, 16, 3.0)
    assert sp.simplify(lean.tilt_of_a_leg() - lean.tilt_in_the_code()) == 0
    numbers = {
        lean.D: leg.shortening_in(1), lean.HALF: HALF_AXLE_IN, lean.LEG: LEG_LENGTH_IN,
        lean.GUARD: GUARD_DISTANCE_IN, lean.PULL: 260, lean.STIFF: TILT_STIFFNESS,
    }  # fmt: skip
    expected = float(lean.tilt_of_a_leg().subs(numbers))
    assert radians(degrees_per_leg_step(260, leg)) == pytest.approx(expected, rel=1e-12)


def test_a_shifted_cam_and_a_laid_shaft_are_the_derived_ones():
    lean = derivation("lean")
    numbers = {lean.PULL: 520, lean.SHIFT: 0.01, lean.STIFF: TILT_STIFFNESS}
    tilt = float(lean.tilt_of_a_shift().subs(numbers))
    assert radians(degrees_per_shim(520, 0.01)) == pytest.approx(tilt, rel=1e-12)
    end = float(lean.shaft_end().subs({lean.G_TILT: tilt, lean.LENGTH: 24}))
    assert Lean(np.degrees(tilt)).off_in(24) == pytest.approx(end, rel=1e-12)


def test_the_gap_and_the_bolts_lever_are_the_derived_ones():
    closed, spec = derivation("closed_form"), book(Family.BINARY)
    assert closed.difference_of_equations()
    numbers = {
        closed.PEG: spec.peg_radius_in, closed.TAKE_UP: spec.take_up_radius_in,
        closed.LET_OUT: spec.let_out_radius_in,
    }  # fmt: skip
    assert gap_per_inch(spec) == pytest.approx(float(closed.gap_per_inch().subs(numbers)))
    lever = {closed.PITCH: BOLT_PITCH_IN, closed.LEVER: BOLT_LEVER_IN}
    derived = float(closed.bolt_radians_per_turn().subs(lever))
    assert pytest.approx(derived) == BOLT_RAD_PER_TURN
