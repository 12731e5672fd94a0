"""How a bow answers each adjuster, from its twin, and how unsure that is, from an ensemble.

Central differences on the equilibrium itself, every adjuster and every bow of an ensemble in one
batch. The uncertainty is the spread over plausible bows of the same book: their unknown insides are
drawn round the priors, each is fitted to the book, and each answers.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import pi
from typing import Any

import numpy as np
from numpy.typing import NDArray

from bowcore.errors import NoModel
from bowcore.mechanics.build import axle_distance
from bowcore.mechanics.bundle import Bundle, spacer_shortening_in
from bowcore.mechanics.equilibrium import Closing, solve, stop_angles
from bowcore.mechanics.fit import DRAW_LENGTH_OFFSET_IN
from bowcore.mechanics.lean import WORST_FACTOR, Lean, degrees_per_leg_step, degrees_per_shim
from bowcore.mechanics.machine import XN, Floats, Machine, State
from bowcore.mechanics.priors import PRIORS, Prior
from bowcore.mechanics.response import Adjuster, Response
from bowcore.mechanics.specification import BowSpec, Family, PartSpec
from bowcore.mechanics.twin import EARLY, LATE, Changes, Twin, apply, mark_in, twins_of

QUANTITIES = (
    "axle_to_axle", "brace_height", "draw_length", "peak_weight", "holding_weight", "stop_gap",
    "force_early", "force_late",
)  # fmt: skip
TRIAL_IN = 0.004  # shortening tried on each side for a central difference
TRIAL_TURNS = 0.1
ENSEMBLE = 24
TYPICAL_TENSION_LBF = 300.0  # of a yoked cable at full draw; its size is uncertain anyway
LEG = Bundle(5.0, 16, 3.0)  # one leg of a yoke: length, strands, twists; common practice
_LEAST_DOUBT = {
    "axle_to_axle": 0.10, "brace_height": 0.20, "draw_length": 0.10, "peak_weight": 0.15,
    "holding_weight": 0.20, "stop_gap": 0.12, "force_early": 0.08, "force_late": 0.08,
    "lean": 0.20, "nock_height": 0.05,
}  # fmt: skip
"""Relative doubt that stays however alike the ensemble is: the model itself may be wrong."""


@dataclass(frozen=True)
class Handle:
    """One thing that is turned: what its trial change is, and what one step of it is."""

    adjuster: Adjuster
    trial: Changes
    per_step: float
    """Steps' worth of the trial change: one step is this many trials."""
    leans_in: float = 0.0
    """How far one step moves the end of a laid shaft to the right. [in]"""
    raises_in: float = 0.0
    """How far one step raises the nock. [in]"""


def handles(spec: BowSpec, twisted: dict[str, int] | None = None) -> list[Handle]:
    """Everything that can be turned on a bow: each part by half twists, both bolts by half turns.

    Parameters
    ----------
    spec : BowSpec
        With its parts.
    twisted : dict of str to int, optional
        Half twists already in each role.

    Returns
    -------
    list of Handle
        Parts in the book's order, then the limb bolts.
    """
    turned = twisted or {}
    found = []
    for part in spec.parts:
        step = part.bundle(turned.get(part.role, 0)).shortening_in(1)
        change = "string" if part.role == "string" else "cable"
        adjuster = Adjuster(part.role, part.label, change, "half a twist", step)
        found.append(Handle(adjuster, Changes({part.role: TRIAL_IN}), step / TRIAL_IN))
    for role in spec.yokes:
        found += _legs(spec.part(role), turned)
    if spec.spacer_in:
        found += [_spacer(spec, part.role) for part in spec.parts if part.role != "string"]
    if spec.shim_in:
        tilt = degrees_per_shim(TYPICAL_TENSION_LBF, spec.shim_in)
        shim = Adjuster("shim", "Top cam", "shim", "one shim to the left", 0.0)
        found.append(Handle(shim, Changes(), 1.0, -Lean(tilt).off_in()))
    if spec.nock_step_in:
        nock = Adjuster("nock_point", "Nock point", "loop_or_ties", "one step up", 0.0)
        steps = spec.nock_step_in / TRIAL_IN
        trial = Changes(nock_up_in=TRIAL_IN)
        found.append(Handle(nock, trial, steps, raises_in=spec.nock_step_in))
    bolts = Adjuster("limb_bolts", "Both limb bolts", "limb_bolt", "half a turn out", 0.0)
    trial = Changes(bolts_out=(TRIAL_TURNS, TRIAL_TURNS))
    return [*found, Handle(bolts, trial, 0.5 / TRIAL_TURNS)]


def adjusters_of(spec: BowSpec) -> tuple[Adjuster, ...]:
    """Everything that can be turned on a bow, by its name and its step."""
    return tuple(handle.adjuster for handle in handles(spec))


def _legs(part: PartSpec, turned: dict[str, int]) -> list[Handle]:
    """Both legs of a yoke. Each carries half of its cable's length; they tilt the cam apart.

    A shorter right leg brings a shaft back that ran off to the right (common practice).
    """
    tilt = Lean(degrees_per_leg_step(TYPICAL_TENSION_LBF, LEG)).off_in()
    handles_of = []
    for side, way in (("left", 1.0), ("right", -1.0)):
        key = f"{part.role}.{side}"
        step = LEG.shortening_in(1)
        adjuster = Adjuster(key, f"{part.label}, {side} leg", "yoke_leg", "half a twist", step)
        trial = Changes({part.role: TRIAL_IN})
        handles_of.append(Handle(adjuster, trial, step / 2 / TRIAL_IN, way * tilt))
    return handles_of


def _spacer(spec: BowSpec, role: str) -> Handle:
    """A spacer between the halves of a cable, with one twist to either side of it."""
    part = spec.part(role)
    step = spacer_shortening_in(spec.spacer_in, half_split_in(part))
    adjuster = Adjuster(f"{role}.spacer", f"{part.label}, spacer", "spacer", "one spacer", step)
    return Handle(adjuster, Changes({role: TRIAL_IN}), step / TRIAL_IN)


def half_split_in(part: PartSpec) -> float:
    """From a spacer to where the halves meet again: half the length of one twist. [in]"""
    return max(0.5 / max(part.twists_per_in, 0.2), 0.5)


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
    leans = np.array([handle.leans_in for handle in turned])
    if leans.any():
        count = len(every) - 1
        factors = np.exp(np.log(WORST_FACTOR) / 2 * np.linspace(-1.7, 1.7, max(count, 2)))[:count]
        rows = np.concatenate([[1.0], factors])[:, None] * leans
        every, names = np.concatenate([every, rows[:, None, :]], axis=1), (*names, "lean")
    raised = np.array([handle.raises_in for handle in turned])
    if raised.any():
        rows = np.tile(raised, (len(every), 1))
        every, names = np.concatenate([every, rows[:, None, :]], axis=1), (*names, "nock_height")
    return every, names


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
    try:
        return twins_of(spec.family, books, priors)
    except NoModel:
        found = [twin for twin in map(_alone, books, priors) if twin is not None]
        if len(found) < count // 3:
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
