"""How the stop gap answers far from the middle: curves of plausible bows, from stop to stop.

On most bows the gap follows a cable nearly in a straight line. On twin cams it does not: near the
middle half a twist may move it three times as far as it does an inch further out.
"""

from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from bowcore.bow.equilibrium import AT_REST, AtRest, AtStop, solve, stop_angles
from bowcore.bow.layout import BOTTOM, TOP
from bowcore.bow.machine import Floats, Machine, State, geometry
from bowcore.bow.specification import CABLE_A, CABLE_B, Family
from bowcore.bow.twin import Changes, Twin, apply
from bowcore.errors import NoModel

DISTANCES_IN = np.array([
    0, 0.01, 0.02, 0.03, 0.04, 0.06, 0.08, 0.11, 0.15, 0.2, 0.26, 0.33, 0.41, 0.5, 0.6,
])  # fmt: skip
"""Steps of the walk: close together in the middle, where a curve bends."""
Alive = NDArray[np.bool_]


@dataclass(frozen=True)
class GapCurves:
    """Stop gap of n plausible bows, (n, m), against how much their timing cable is shorter, (m,).

    The timing cable is the one the gap is measured by: the top cam's take-up cable, or a single cam's
    buss cable. Every row rises or falls all the way. [in]
    """

    shorter_in: Floats
    gap_in: Floats

    def lengths(self, gap: float) -> Floats:
        """Cable shortening at which each bow has this gap; straight on beyond the ends. [in]"""
        return np.array([float(_reach(*_rising(row, self.shorter_in), gap)) for row in self.gap_in])

    def gaps(self, shorter: Floats) -> Floats:
        """Each bow's gap at its own cable shortening, (n,). [in]"""
        return self.many(shorter[:, None])[:, 0]

    def many(self, shorter: Floats) -> Floats:
        """Each bow's gaps at its own row of cable shortenings, (n, j). [in]"""
        xs, ys = self.shorter_in, self.gap_in
        i = np.clip(np.searchsorted(xs, shorter) - 1, 0, len(xs) - 2)
        share = (shorter - xs[i]) / (xs[i + 1] - xs[i])
        rows = np.arange(len(ys))[:, None]
        return np.asarray(ys[rows, i] + share * (ys[rows, i + 1] - ys[rows, i]))


def gap_curves(twins: Sequence[Twin]) -> GapCurves:
    """Curves of plausible bows of one family, walked outward from the middle.

    Parameters
    ----------
    twins : sequence of Twin
        The book's and others like it.

    Returns
    -------
    GapCurves
        The first twin's curve first; of the others only those that could be followed.

    Raises
    ------
    NoModel
        The first could not.
    """
    later, sooner = _walk(twins, 1.0), _walk(twins, -1.0)
    grid = np.concatenate([-DISTANCES_IN[::-1], DISTANCES_IN[1:]])
    table = np.concatenate([sooner[:, ::-1], later[:, 1:]], axis=1)
    first, *others = [_filled(grid, row) for row in table]
    if first is None:
        raise NoModel("This bow's timing could not be followed from stop to stop.")
    return GapCurves(grid, np.stack([first, *(row for row in others if row is not None)]))


def _walk(twins: Sequence[Twin], way: float) -> Floats:
    """Gaps of every bow at each step to one side, (n, steps); NaN where it could not be followed."""
    base = Machine.concat([twin.machine for twin in twins])
    single = base.family is Family.SINGLE
    role = CABLE_B if single else CABLE_A
    closing = AT_REST if single else _first_stop(twins, 1 if way > 0 else 0)
    state = State.concat([twin.rest if single else twin.full_draw for twin in twins])
    alive, rows = np.ones(len(twins), dtype=bool), []
    for distance in DISTANCES_IN:
        machine = apply(base, Changes({role: way * float(distance)}))
        state, alive = _followed(machine, state, closing, alive)
        rows.append(np.where(alive, _gaps(twins, machine, state), np.nan))
    return np.stack(rows, axis=1)


def _first_stop(twins: Sequence[Twin], side: int) -> AtStop:
    """The stop of the cam that is ahead touches: the other one is late when its cable is short."""
    angle = np.concatenate([twin.stop_angle for twin in twins])
    on_limb = twins[0].spec.limb_stop
    return AtStop(np.full(len(twins), side), angle, on_limb)


def _gaps(twins: Sequence[Twin], machine: Machine, state: State) -> Floats:
    peg = np.array([twin.spec.peg_radius_in for twin in twins])
    if machine.family is Family.SINGLE:
        return np.asarray(peg * state.alpha[:, BOTTOM])
    stop = np.concatenate([twin.stop_angle for twin in twins])
    angle = stop_angles(machine, state.q, geometry(machine, state), twins[0].spec.limb_stop)[0]
    left = angle - stop
    return np.asarray(peg * (left[:, TOP] - left[:, BOTTOM]))


def _followed(
    machine: Machine, state: State, closing: AtRest | AtStop, alive: Alive
) -> tuple[State, Alive]:
    """The next state of every bow; one that cannot be followed is left where it was."""
    if alive.all():
        with suppress(NoModel):
            return solve(machine, state, closing)[0], alive
    found, still = state, alive.copy()
    for i in np.flatnonzero(alive):
        row = np.array([i])
        mine = closing.pick(row) if isinstance(closing, AtStop) else closing
        try:
            found = found.put(int(i), solve(machine.pick(row), state.pick(row), mine)[0])
        except NoModel:
            still[i] = False
    return found, still


def _filled(grid: Floats, row: Floats) -> Floats | None:
    """A curve with its unknown ends drawn straight on; None where it turns back near the middle."""
    middle = len(grid) // 2
    way = np.sign(row[middle + 1] - row[middle - 1])
    first = last = middle
    while last + 1 < len(grid) and way * (row[last + 1] - row[last]) > 1e-6:
        last += 1
    while first > 0 and way * (row[first] - row[first - 1]) > 1e-6:
        first -= 1
    if last - middle < 2 or middle - first < 2:
        return None
    known = slice(first, last + 1)
    return _reach(grid[known], row[known], grid)


def _rising(row: Floats, other: Floats) -> tuple[Floats, Floats]:
    return (row, other) if row[-1] > row[0] else (row[::-1], other[::-1])


def _reach(xs: Floats, ys: Floats, x: Floats | float) -> Floats:
    """Linear between points, and straight on beyond the first and the last."""
    i = np.clip(np.searchsorted(xs, x) - 1, 0, len(xs) - 2)
    share = (x - xs[i]) / (xs[i + 1] - xs[i])
    return np.asarray(ys[i] + share * (ys[i + 1] - ys[i]))
