"""How a bow answers each adjuster, from its twin, and how unsure that is, from an ensemble.

Central differences on the equilibrium itself, every adjuster and every bow of an ensemble in one
batch. The uncertainty is the spread over plausible bows of the same book: their hidden parameters
are drawn round the priors, each is fitted to the book, and each answers.
"""

from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray

from bowcore.adjusters.adjuster import Adjuster, Trial
from bowcore.bow.build import axle_distance, tiller
from bowcore.bow.equilibrium import AT_REST, AtDraw, AtStop, solve, stop_angles
from bowcore.bow.fit import DRAW_LENGTH_OFFSET_IN
from bowcore.bow.layout import BOTTOM, TOP
from bowcore.bow.lean import WORST_FACTOR
from bowcore.bow.machine import Floats, Machine, State
from bowcore.bow.specification import Family
from bowcore.bow.twin import EARLY, LATE, Changes, Twin, apply, mark_in
from bowcore.quantities.catalogue import LEANS, QUANTITIES
from bowcore.response.matrix import Response


def answers(twins: Sequence[Twin], trials: Sequence[Trial]) -> Floats:
    """Change of every computed quantity per step of every trial, for bows of one family.

    Parameters
    ----------
    twins : sequence of Twin, length n
        Bows of one family.
    trials : sequence of Trial, length a
        What is turned.

    Returns
    -------
    array, shape (n, quantities, a)
        Per step, in each quantity's unit; the quantities in the order of COMPUTED.
    """
    base = Machine.concat([twin.machine for twin in twins])
    machines: list[Machine] = []
    for trial in trials:
        machines += [apply(base, trial.changes), apply(base, _minus(trial.changes))]
    variants = _Variants(twins, Machine.concat(machines), 2 * len(trials))
    values = np.stack([measure(variants) for measure in _MEASURES.values()], axis=1)
    values = values.reshape(len(trials), 2, len(twins), -1)
    slope = (values[:, 0] - values[:, 1]) / 2
    scale = np.array([trial.per_step for trial in trials])
    return np.asarray(np.einsum("anq,a->nqa", slope, scale))


def twin_response(
    twin: Twin, adjusters: Sequence[Adjuster], others: Sequence[Twin] = ()
) -> tuple[Response, Floats]:
    """The response of a bow, and plausible ones beside it.

    Parameters
    ----------
    twin : Twin
        The bow.
    adjusters : sequence of Adjuster
        What can be turned.
    others : sequence of Twin
        Plausible bows of the same book; their spread is the doubt.

    Returns
    -------
    tuple of Response and array, shape (n, quantities, adjusters)
        The response with its uncertainty, and the ensemble's own responses.
    """
    trials = [one.trial() for one in adjusters]
    every, names = _with_beside(answers([twin, *others], trials), trials)
    mean, spread = every[0], every[1:]
    least = np.array([QUANTITIES[name].model_doubt for name in names])[:, None]
    least = np.maximum(least, np.array([one.doubt for one in adjusters]))
    sigma = np.abs(mean) * least
    if len(spread) > 2:
        sigma = np.sqrt(sigma**2 + ((spread - mean) ** 2).mean(axis=0))
    return Response(names, tuple(adjusters), mean, sigma, "the book"), spread


def _with_beside(every: Floats, trials: Sequence[Trial]) -> tuple[Floats, tuple[str, ...]]:
    """The answers with rows for what the plane model does not have, if anything turned moves it.

    The size of a lean is unknown threefold, alike for every leg and shim of a bow, so that the
    first trial teaches all of them. A nock point goes where it is put.
    """
    names: tuple[str, ...] = COMPUTED
    factors = np.concatenate([[1.0], _unknown_factors(len(every) - 1)])
    for name in (*LEANS, "nock_height"):
        row = np.array([trial.beside.get(name, 0.0) for trial in trials])
        if row.any():
            rows = np.outer(factors if name in LEANS else np.ones(len(every)), row)
            every, names = np.concatenate([every, rows[:, None, :]], axis=1), (*names, name)
    return every, names


def _unknown_factors(count: int) -> Floats:
    """By how much plausible bows tilt more or less than the guess, evenly spread over the doubt."""
    spread = np.linspace(-1.7, 1.7, max(count, 2))[:count]
    return np.asarray(np.exp(np.log(WORST_FACTOR) / 2 * spread))


def _minus(changes: Changes) -> Changes:
    back = (-changes.bolts_out[0], -changes.bolts_out[1])
    shorter = {role: -inches for role, inches in changes.shorter.items()}
    return Changes(shorter, back, nock_up_in=-changes.nock_up_in)


class _Variants:
    """`count` variants of each of n twins, and their states where numbers are read."""

    def __init__(self, twins: Sequence[Twin], machine: Machine, count: int):
        self.twins, self.machine, self.count = twins, machine, count
        self.single = twins[0].family is Family.SINGLE
        self.peg = np.tile([twin.spec.peg_radius_in for twin in twins], count)
        self.rest = solve(machine, self.tiled([twin.rest for twin in twins]), AT_REST)[0]
        self.stops = [self._at_stop(side) for side in ((BOTTOM,) if self.single else (TOP, BOTTOM))]

    def tiled(self, states: Sequence[State]) -> State:
        """One state of each twin, repeated for each variant."""
        rows: NDArray[np.int64] = np.tile(np.arange(len(states)), self.count)
        return State.concat(states).pick(rows)

    def mean_at_stops(self, values: Sequence[Floats]) -> Floats:
        """The mean over both stops, where the first changes over; a single cam has one."""
        return np.asarray(np.mean(values, axis=0))

    def _at_stop(self, side: int) -> tuple[State, Floats]:
        """The state in which a side's stop touches, and what is open there at both. [in]"""
        angle = np.tile(np.concatenate([twin.stop_angle for twin in self.twins]), (self.count, 1))
        limb_stop = self.twins[0].spec.limb_stop
        closing = AtStop(np.full(self.machine.size, side), angle, limb_stop)
        state, geo = solve(self.machine, self.tiled([t.full_draw for t in self.twins]), closing)
        left = stop_angles(self.machine, state.q, geo, limb_stop)[0] - angle
        return state, self.peg * (left[:, TOP] - left[:, BOTTOM])


def _gap(v: _Variants) -> Floats:
    if v.single:
        return np.asarray(v.peg * v.rest.alpha[:, BOTTOM])
    return v.mean_at_stops([gap for _, gap in v.stops])


def _draw_length(v: _Variants) -> Floats:
    return v.mean_at_stops([state.nock_x + DRAW_LENGTH_OFFSET_IN for state, _ in v.stops])


def _peak(v: _Variants) -> Floats:
    """Force where each twin's own peak lies; to first order that is the change of the peak."""
    tops = [int(twin.known.force.argmax()) for twin in v.twins]
    known = [twin.known.pick(np.array([top])) for twin, top in zip(v.twins, tops, strict=True)]
    return _force_at(v, known, [float(state.nock_x[0]) for state in known])


def _at_mark(v: _Variants, share: float) -> Floats:
    """Force at a fixed draw mark: smooth where the peak is not."""
    marks = [mark_in(twin.spec, share) for twin in v.twins]
    near = [
        twin.known.pick(np.array([int(np.abs(twin.at_x - x).argmin())]))
        for twin, x in zip(v.twins, marks, strict=True)
    ]
    return _force_at(v, near, marks)


def _force_at(v: _Variants, near: Sequence[State], xs: Sequence[float]) -> Floats:
    return solve(v.machine, v.tiled(near), AtDraw(np.tile(xs, v.count)))[0].force


_MEASURES: dict[str, Callable[[_Variants], Floats]] = {
    "axle_to_axle": lambda v: axle_distance(v.machine, v.rest.q),
    "brace_height": lambda v: v.rest.nock_x,
    "draw_length": _draw_length,
    "peak_weight": _peak,
    "holding_weight": lambda v: v.mean_at_stops([state.force for state, _ in v.stops]),
    "stop_gap": _gap,
    "force_early": lambda v: _at_mark(v, EARLY),
    "force_late": lambda v: _at_mark(v, LATE),
    "tiller": lambda v: tiller(v.machine, v.rest),
}
COMPUTED = tuple(_MEASURES)
"""What the twin computes; a test holds it against the catalogue."""
