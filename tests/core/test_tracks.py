"""Cam tracks against closed forms: circles, ellipses (SciPy's elliptic integrals), belts."""

from dataclasses import replace
from math import acos, cos, pi, sin, sqrt

import numpy as np
import pytest
from scipy.integrate import quad

from bowcore.bow.equilibrium import AT_REST, solve
from bowcore.bow.machine import State, geometry
from bowcore.bow.tracks import (
    basis,
    circle,
    evaluate,
    harmonic,
    integral_basis,
)
from tests.core.bows import book, twin_of


def ellipse(a, b):
    """Support function of an ellipse fitted by the five harmonics a track has."""
    phi = np.linspace(0, 2 * pi, 721)[:-1]
    h = np.sqrt((a * np.cos(phi)) ** 2 + (b * np.sin(phi)) ** 2)
    return np.linalg.lstsq(basis(phi), h, rcond=None)[0]


@pytest.mark.parametrize("phi", [0.3, 1.2, 2.9, 5.0])
def test_moment_arm_of_an_ellipse(phi):
    a, b = 1.2, 1.05
    h, slope, _ = evaluate(ellipse(a, b), np.array(phi))
    exact = sqrt((a * cos(phi)) ** 2 + (b * sin(phi)) ** 2)
    assert float(h) == pytest.approx(exact, abs=2e-3)
    assert float(slope) == pytest.approx((b**2 - a**2) * sin(phi) * cos(phi) / exact, abs=8e-3)


def test_the_integral_is_the_integral_and_the_slope_the_slope():
    track = harmonic(1.3, 0.4, 0.2, 0.1, 1.1)

    def h(phi):
        return float(evaluate(track, np.array(phi))[0])

    low, high = 0.4, 3.1
    ends = evaluate(track, np.array([low, high]))[2]
    assert ends[1] - ends[0] == pytest.approx(quad(h, low, high)[0], abs=1e-10)
    step = 1e-6
    numeric = (h(1.0 + step) - h(1.0 - step)) / (2 * step)
    assert float(evaluate(track, np.array(1.0))[1]) == pytest.approx(numeric, abs=1e-8)
    assert (
        integral_basis(np.array(high)) - integral_basis(np.array(low))
    ) @ track == pytest.approx(ends[1] - ends[0])


@pytest.mark.parametrize(("r1", "r2"), [(0.9, 0.6), (1.5, 0.4)])
def test_a_crossed_belt_between_two_circles(r1, r2):
    """A crossed belt between two pulleys in closed form.

    The normal at the first contact stands acos((r1 + r2) / d) off the line of centres, and moving
    the centres apart lengthens the belt by the straight piece's share sqrt(1 - ((r1 + r2)/d)^2).
    """
    twin = twin_of("binary")
    round_tracks = {"take_t": circle(r1)[None], "let_b": circle(r2)[None]}
    machine = replace(twin.machine, tracks=dict(twin.machine.tracks) | round_tracks)

    def settled(state):
        for _ in range(8):
            found = geometry(machine, state)
            state = replace(state, psi=found.psi)
        return found

    state = twin.rest
    here, d = settled(state), twin.axle_to_axle_in
    off_line = abs(pi / 2 - abs(float(here.psi[0, 2]) - pi))  # the line of centres is upright
    assert off_line == pytest.approx(acos((r1 + r2) / d), abs=1e-9)

    turned = replace(state, q=state.q + 0.2 * np.array([0, 0, 1, r1 / r2, 0, 0]))
    assert settled(turned).length[0, 2] == pytest.approx(here.length[0, 2], abs=1e-12)

    apart = replace(machine, pivot_y=machine.pivot_y + 5e-7)
    longer = geometry(apart, replace(state, psi=here.psi)).length[0, 2] - here.length[0, 2]
    assert longer / 1e-6 == pytest.approx(sqrt(1 - ((r1 + r2) / d) ** 2), abs=1e-6)


@pytest.mark.parametrize("family", ["binary", "hybrid", "twin", "single"])
def test_gradients_and_hessians_against_differences(family):
    twin = twin_of(family)
    state = twin.at(np.array([14.0]))
    state = replace(state, q=state.q + 0.01 * np.array([[1, -1, 2, -2, 3, 1.0]]))
    step = 1e-6

    def settled(moved: State):
        for _ in range(6):
            found = geometry(twin.machine, moved)
            moved = replace(moved, psi=found.psi)
        return found

    here = settled(state)
    for i in range(6):
        one = step * np.eye(6)[i]
        more, less = (settled(replace(state, q=state.q + sign * one)) for sign in (1, -1))
        slope = (more.length - less.length) / (2 * step)
        assert slope[0] == pytest.approx(here.gradient[0, :, i], abs=1e-7)
        bend = np.einsum("r,rq->q", state.tension[0], (more.gradient - less.gradient)[0]) / (
            2 * step
        )
        assert bend == pytest.approx(here.hessian[0, i], abs=1e-4)
        turned = (more.phi - less.phi)[0] / (2 * step)
        assert turned == pytest.approx(here.phi_slope[0, :, i], abs=1e-7)


def test_a_rest_state_is_at_rest():
    twin = twin_of("hybrid")
    again, _ = solve(twin.machine, twin.rest, AT_REST)
    assert np.abs(again.q - twin.rest.q).max() < 1e-9
    assert book("hybrid").brace_height_in == pytest.approx(twin.brace_height_in, abs=1e-6)
