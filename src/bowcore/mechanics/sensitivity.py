"""How a bow answers each adjuster, from its twin, and how unsure that is, from an ensemble.

Central differences on the equilibrium itself, every adjuster and every bow of an ensemble in one
batch. The uncertainty is the spread over plausible bows of the same book: their unknown insides are
drawn round the priors, each is fitted to the book, and each answers.
"""

from collections.abc import Sequence
from dataclasses import replace
from math import pi
from typing import Any

import numpy as np
from numpy.typing import NDArray

from bowcore.errors import NoModel
from bowcore.mechanics.adjusters import Handle
from bowcore.mechanics.build import axle_distance, tiller
from bowcore.mechanics.equilibrium import Closing, solve, stop_angles
from bowcore.mechanics.fit import DRAW_LENGTH_OFFSET_IN
from bowcore.mechanics.lean import WORST_FACTOR
from bowcore.mechanics.machine import XN, Floats, Machine, State
from bowcore.mechanics.priors import PRIORS, Prior
from bowcore.mechanics.response import Response
from bowcore.mechanics.specification import BowSpec, Family
from bowcore.mechanics.twin import EARLY, LATE, Changes, Twin, apply, mark_in, twins_of
from bowcore.quantities.catalogue import LEANS

QUANTITIES = (
    "axle_to_axle", "brace_height", "draw_length", "peak_weight", "holding_weight", "stop_gap",
    "force_early", "force_late", "tiller",
)  # fmt: skip
ENSEMBLE = 24
_LEAST_DOUBT = {
    "axle_to_axle": 0.10, "brace_height": 0.20, "draw_length": 0.10, "peak_weight": 0.15,
    "holding_weight": 0.20, "stop_gap": 0.12, "force_early": 0.08, "force_late": 0.08,
    "tiller": 0.20, "lean": 0.20, "lean_bottom": 0.20, "nock_height": 0.05,
}  # fmt: skip
"""Relative doubt that stays however alike the ensemble is: the model itself may be wrong."""


def answers(twins: Sequence[Twin], turned: Sequence[Handle]) -> Floats:
    """Change of every quantity per step of every handle, for bows of one family.

    Parameters
    ----------
    twins : sequence of Twin, length n
        Bows of one family.
    turned : sequence of Handle, length a
        What is turned.

    Returns
    -------
    array, shape (n, quantities, a)
        Per step, in each quantity's unit.
    """
    family = twins[0].family
    base = joined([twin.machine for twin in twins])
    trials: list[Machine] = []
    for handle in turned:
        trials += [apply(base, handle.trial), apply(base, _minus(handle.trial))]
    machine = joined(trials)
    count = 2 * len(turned)
    values = _measure(twins, machine, count, family).reshape(len(turned), 2, len(twins), -1)
    slope = (values[:, 0] - values[:, 1]) / 2
    scale = np.array([handle.per_step for handle in turned])
    return np.asarray(np.einsum("anq,a->nqa", slope, scale))


def twin_response(
    twin: Twin, turned: Sequence[Handle], others: Sequence[Twin] = ()
) -> tuple[Response, Floats]:
    """The response of a bow, and plausible ones beside it.

    Parameters
    ----------
    twin : Twin
        The bow.
    turned : sequence of Handle
        What can be turned.
    others : sequence of Twin
        Plausible bows of the same book; their spread is the doubt.

    Returns
    -------
    tuple of Response and array, shape (n, quantities, adjusters)
        The response with its uncertainty, and the ensemble's own responses.
    """
    every, names = _with_extras(answers([twin, *others], turned), turned)
    mean, spread = every[0], every[1:]
    least = np.array([_LEAST_DOUBT[name] for name in names])[:, None]
    least = np.maximum(least, np.array([handle.adjuster.doubt for handle in turned]))
    doubt = np.abs(mean) * least
    if len(spread) > 2:
        doubt = np.sqrt(doubt**2 + ((spread - mean) ** 2).mean(axis=0))
    adjusters = tuple(handle.adjuster for handle in turned)
    return Response(names, adjusters, mean, doubt, "the book"), spread


def _with_extras(every: Floats, turned: Sequence[Handle]) -> tuple[Floats, tuple[str, ...]]:
    """The answers with rows for what the plane model does not have, if anything turned moves it.

    The size of a lean is unknown threefold, alike for every leg and shim of a bow, so that the
    first trial teaches all of them. A nock point goes where it is put.
    """
    names: tuple[str, ...] = QUANTITIES
    factors = np.concatenate([[1.0], _unknown_factors(len(every) - 1)])
    for name in (*LEANS, "nock_height"):
        row = np.array([handle.beside.get(name, 0.0) for handle in turned])
        if row.any():
            rows = np.outer(factors if name in LEANS else np.ones(len(every)), row)
            every, names = np.concatenate([every, rows[:, None, :]], axis=1), (*names, name)
    return every, names


def _unknown_factors(count: int) -> Floats:
    """By how much plausible bows tilt more or less than the guess, evenly spread over the doubt."""
    spread = np.linspace(-1.7, 1.7, max(count, 2))[:count]
    return np.asarray(np.exp(np.log(WORST_FACTOR) / 2 * spread))


def ensemble(spec: BowSpec, seed: int = 7, count: int = ENSEMBLE) -> list[Twin]:
    """Plausible bows of one book, their insides drawn round the priors; always the same ones.

    Raises
    ------
    NoModel
        Hardly any of them makes a bow.
    """
    dice = np.random.default_rng(seed)
    books, priors = [], []
    for _ in range(count):
        book, prior = plausible(spec, dice)
        books.append(book)
        priors.append(prior)
    return those_that_are_bows(books, priors)


def those_that_are_bows(books: list[BowSpec], priors: list[Prior]) -> list[Twin]:
    """The twins of many books, without those that make no bow.

    Raises
    ------
    NoModel
        Hardly any of them does.
    """
    try:
        return twins_of(books[0].family, books, priors)
    except NoModel:
        found = [twin for twin in map(_alone, books, priors) if twin is not None]
        if len(found) < len(books) // 3:
            raise
        return found


def plausible(spec: BowSpec, dice: np.random.Generator, wide: float = 1.0) -> tuple[BowSpec, Prior]:
    """One bow that could stand behind the book: peg, radii, phases and limbs vary.

    Parameters
    ----------
    spec : BowSpec
        The book.
    dice : numpy Generator
        Source of chance; the same state gives the same bow.
    wide : float
        1 for the usual spread; more for bows less like the priors.

    Returns
    -------
    tuple of BowSpec and Prior
        The book with the bow's own peg radius, and its insides.
    """

    def near(value: float, share: float) -> float:
        return float(value * np.exp(wide * share * dice.standard_normal()))

    prior = PRIORS[spec.family]
    inside = replace(
        prior,
        let_out=near(prior.let_out, 0.15),
        net_at_brace=near(prior.net_at_brace, 0.05),
        preload=near(prior.preload, 0.08),
        rotation=min(near(prior.rotation, 0.025), 1.3 * pi),
        limb_radius=near(prior.limb_radius, 0.06),
        string=replace(prior.string, p1=prior.string.p1 + wide * 0.05 * dice.standard_normal()),
        net=replace(prior.net, p2=prior.net.p2 + wide * 0.06 * dice.standard_normal()),
    )
    measured = 0.02 if spec.radii_measured else 0.12
    return replace(spec, peg_radius_in=near(spec.peg_radius_in, measured)), inside


def _alone(book: BowSpec, prior: Prior) -> Twin | None:
    try:
        return twins_of(book.family, [book], [prior])[0]
    except NoModel:
        return None


def joined(machines: Sequence[Machine]) -> Machine:
    """Several batches as one."""
    first = machines[0]
    arrays: dict[str, Any] = {
        name: np.concatenate([getattr(m, name) for m in machines])
        for name in ("limb_radius", "pivot_x", "pivot_y", "rest_angle", "stiffness", "length",
                     "compliance")
    }  # fmt: skip
    tracks = {k: np.concatenate([m.tracks[k] for m in machines]) for k in first.tracks}
    return replace(first, tracks=tracks, **arrays)


def _minus(changes: Changes) -> Changes:
    back = (-changes.bolts_out[0], -changes.bolts_out[1])
    shorter = {role: -inches for role, inches in changes.shorter.items()}
    return Changes(shorter, back, nock_up_in=-changes.nock_up_in)


def _measure(twins: Sequence[Twin], machine: Machine, count: int, family: Family) -> Floats:
    """All quantities of `count` variants of each twin, (count * n, quantities)."""
    rest = solve(machine, _tiled([t.rest for t in twins], count), Closing("rest"))[0]
    full = _tiled([t.full_draw for t in twins], count)
    angle = np.tile(np.concatenate([t.stop_angle for t in twins]), (count, 1))
    peg = np.tile([t.spec.peg_radius_in for t in twins], count)
    sides = (1,) if family is Family.SINGLE else (0, 1)
    draws, holds, gaps = [], [], []
    for side in sides:
        closing = Closing(
            "stop", side=np.full(machine.size, side), angle=angle, on_limb=twins[0].spec.limb_stop
        )
        state, geo = solve(machine, full, closing)
        left = stop_angles(machine, state.q, geo, closing.on_limb)[0] - angle
        draws.append(state.q[:, XN] + DRAW_LENGTH_OFFSET_IN)
        holds.append(state.force)
        gaps.append(peg * (left[:, 0] - left[:, 1]))
    gap = peg * rest.q[:, 3] if family is Family.SINGLE else np.mean(gaps, axis=0)
    return np.stack([
        axle_distance(machine, rest.q), rest.q[:, XN], np.mean(draws, axis=0),
        _at_peak(twins, machine, count), np.mean(holds, axis=0), gap,
        _at_mark(twins, machine, count, EARLY), _at_mark(twins, machine, count, LATE),
        tiller(machine, rest),
    ], axis=1)  # fmt: skip


def _at_mark(twins: Sequence[Twin], machine: Machine, count: int, share: float) -> Floats:
    """Force at a fixed draw mark: smooth where the peak is not."""
    marks = [mark_in(twin.spec, share) for twin in twins]
    near = [
        twin.known.pick(np.array([int(np.abs(twin.at_x - x).argmin())]))
        for twin, x in zip(twins, marks, strict=True)
    ]
    x = np.tile(marks, count)
    return solve(machine, _tiled(near, count), Closing("draw", x=x))[0].force


def _at_peak(twins: Sequence[Twin], machine: Machine, count: int) -> Floats:
    """Force where each twin's own peak lies; to first order that is the change of the peak."""
    tops = [int(twin.known.force.argmax()) for twin in twins]
    known = [twin.known.pick(np.array([top])) for twin, top in zip(twins, tops, strict=True)]
    x = np.tile([float(state.q[0, XN]) for state in known], count)
    return solve(machine, _tiled(known, count), Closing("draw", x=x))[0].force


def _tiled(states: Sequence[State], count: int) -> State:
    rows: NDArray[np.int64] = np.tile(np.arange(len(states)), count)
    joined = State(*(
        np.concatenate([getattr(s, n) for s in states]) for n in ("q", "tension", "force", "psi")
    ))  # fmt: skip
    return joined.pick(rows)
