"""Many changes weighed at once: whole grids of steps against every band."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from bowcore.mechanics.tracks import Floats
from bowcore.planning.estimator import KINK_REACH_IN
from bowcore.planning.problem import Option, Problem

KEPT_IN = 1 / 400
"""A change of axle to axle below this is none: a fraction of what a tape shows."""
FLIPPED_IN = 1 / 64
"""The other stop touches first by at least what a rule shows; nearer than that both touch together."""
SURE_ENOUGH = 0.8
"""A change is read again afterwards, so one more part is not worth the last tenth."""
AT_ONCE = 256
_SLACK = 1e-9

Steps = NDArray[np.int64]


@dataclass(frozen=True)
class Grid:
    """Every combination of steps of some adjusters, one a row, and what each is to the hands."""

    keys: tuple[str, ...]
    columns: list[int]
    rows: Steps
    efforts: Steps

    def pick(self, chosen: NDArray[np.int64]) -> "Grid":
        """Some of its rows, in that order."""
        return Grid(self.keys, self.columns, self.rows[chosen], self.efforts[chosen])


class Weights:
    """A problem as arrays over its planned quantities, to weigh whole grids by."""

    def __init__(self, problem: Problem):
        """Gather what every grid is weighed with.

        Parameters
        ----------
        problem : Problem
            Every planned quantity has a reading.
        """
        response, names = problem.response, problem.planned
        rows = [response.quantities.index(name) for name in names]
        bands = [problem.bands[name] for name in names]
        self._problem, self._response = problem, response
        self._mean, self._variance = response.mean[rows], response.sigma[rows] ** 2
        self._blocks = None if problem.blocks is None else problem.blocks[rows]
        self._now, self._read = (
            np.array([problem.readings[name] for name in names]).reshape(-1, 2).T
        )
        self._low, self._high, self._target, self._half = np.array(
            [(b.low, b.high, b.target, b.half_width) for b in bands]
        ).reshape(-1, 4).T  # fmt: skip
        keep = problem.school.keep_length and "axle_to_axle" in names
        self._kept = names.index("axle_to_axle") if keep else None
        self._gap = names.index("stop_gap") if "stop_gap" in names else None
        self._kinks = np.array([problem.kinks.get(name, 0.0) for name in names])
        self._reach = np.array([KINK_REACH_IN.get(name, np.inf) for name in names])
        self._turns = {key: self._turns_of(key) for key in problem.open_keys}

    @property
    def keys(self) -> list[str]:
        """Adjusters that may be turned at all."""
        return list(self._turns)

    def grid(self, keys: tuple[str, ...]) -> Grid:
        """Every combination of the steps that limits and school allow."""
        steps = [self._turns[key][0] for key in keys]
        efforts = [self._turns[key][1] for key in keys]
        rows = np.stack(np.meshgrid(*steps, indexing="ij"), -1).reshape(-1, len(keys))
        total = sum(np.meshgrid(*efforts, indexing="ij")).reshape(-1)  # type: ignore[union-attr]
        columns = [self._response.column(key) for key in keys]
        return Grid(keys, columns, rows, total)

    def best(self, grid: Grid, or_nearest: bool = True) -> Option | None:
        """The row that serves best, its predictions left out.

        Parameters
        ----------
        grid : Grid
            What may be turned.
        or_nearest : bool
            Whether the row that comes nearest is wanted where none reaches.

        Returns
        -------
        Option or None
            None where none reaches and the nearest is not wanted.
        """
        values = self._values(grid)
        inside = (values >= self._low - _SLACK) & (values <= self._high + _SLACK)
        rows = np.flatnonzero(inside.all(axis=1) & self._keeps(grid))
        if len(rows):
            rows = rows[np.lexsort((self._off(values[rows]), grid.efforts[rows]))]
            row, chance = self._surest(grid, rows)
            return self._option(grid, row, values[row], chance, True)
        if not or_nearest:
            return None
        left, outside = (~inside).sum(axis=1), np.round(self._outside(values), 6)
        first = np.lexsort((self._off(values), grid.efforts, outside, left))[:1]
        chance = float(self._chance(grid.pick(first))[0])
        return self._option(grid, int(first[0]), values[first[0]], chance, False)

    def _surest(self, grid: Grid, rows: NDArray[np.int64]) -> tuple[int, float]:
        """The first row that is sure enough, else the surest; looked at a part at a time."""
        seen = []
        for start in range(0, len(rows), AT_ONCE):
            part = rows[start : start + AT_ONCE]
            chance = self._chance(grid.pick(part))
            sure = np.flatnonzero(chance >= SURE_ENOUGH)
            if len(sure):
                return int(part[sure[0]]), float(chance[sure[0]])
            seen.append(chance)
        every = np.concatenate(seen)
        best = int(np.round(every, 6).argmax())
        return int(rows[best]), float(every[best])

    def _option(self, grid: Grid, row: int, values: Floats, chance: float, reaches: bool) -> Option:
        steps = zip(grid.keys, grid.rows[row].tolist(), strict=True)
        past = np.maximum(np.maximum(self._low - values, values - self._high), 0.0) / self._half
        return Option(
            tuple(steps), {}, chance, reaches,
            float((((values - self._target) / self._half) ** 2).mean()), int(grid.efforts[row]),
            float((past**2).sum()), int((past > _SLACK).sum()), self._flips(values),
        )  # fmt: skip

    def _values(self, grid: Grid) -> Floats:
        """Every planned quantity after each row, by the best estimate, (rows, quantities)."""
        return self._unkinked(self._now + grid.rows @ self._mean[:, grid.columns].T)

    def _unkinked(self, values: Floats) -> Floats:
        """What is read at the first stop comes up as the gap closes, whichever stop is ahead."""
        if self._gap is not None and self._kinks.any():
            before, after = np.abs(self._now[self._gap]), np.abs(values[:, self._gap])[:, None]
            nearer = np.minimum(before, self._reach) - np.minimum(after, self._reach)
            values = values + nearer * self._kinks
        return np.asarray(values)

    def _off(self, values: Floats) -> Floats:
        return np.asarray((((values - self._target) / self._half) ** 2).sum(axis=1))

    def _outside(self, values: Floats) -> Floats:
        past = np.maximum(np.maximum(self._low - values, values - self._high), 0.0)
        return np.asarray(((past / self._half) ** 2).sum(axis=1))

    def _keeps(self, grid: Grid) -> NDArray[np.bool_]:
        if self._kept is None:
            return np.ones(len(grid.rows), dtype=bool)
        moved = grid.rows @ self._mean[self._kept, grid.columns]
        return np.asarray(np.abs(moved) <= KEPT_IN)

    def _flips(self, values: Floats) -> bool:
        if self._gap is None:
            return False
        return flips(float(self._now[self._gap]), float(values[self._gap]))

    def _chance(self, grid: Grid) -> Floats:
        """Probability that every band is reached, for each row."""
        moved = grid.rows @ self._mean[:, grid.columns].T
        if self._blocks is None:
            variance = self._read**2 + grid.rows**2 @ self._variance[:, grid.columns].T
        else:
            keep = [0, *(column + 1 for column in grid.columns)]
            blocks = self._blocks[:, keep][:, :, keep]
            ones = np.concatenate([np.ones((len(grid.rows), 1)), grid.rows], axis=1)
            joint = (np.matmul(ones[None], blocks) * ones).sum(axis=-1).T
            variance = np.maximum(joint, 0) + (self._problem.process_share * moved) ** 2
        doubt, values = np.sqrt(variance), self._unkinked(self._now + moved)
        inside = _cdf((self._high - values) / doubt) - _cdf((self._low - values) / doubt)
        return np.asarray(inside.prod(axis=1))

    def _turns_of(self, key: str) -> tuple[Steps, Steps]:
        steps = self._problem.steps_of(key)
        return np.array(steps), np.array([self._problem.effort(key, n) for n in steps])


def flips(before_in: float, after_in: float) -> bool:
    """Whether another stop touches first afterwards, by more than nothing."""
    return before_in * after_in < 0 and abs(after_in) > FLIPPED_IN


def doubt_after(problem: Problem, name: str, steps: Sequence[tuple[str, int]]) -> float:
    """Standard uncertainty of one quantity after some steps, by the joint covariance."""
    assert problem.blocks is not None
    row = problem.response.quantities.index(name)
    columns = [problem.response.column(key) for key, _ in steps]
    keep = [0, *(column + 1 for column in columns)]
    turned = np.array([1.0, *(count for _, count in steps)])
    variance = float(turned @ problem.blocks[row][np.ix_(keep, keep)] @ turned)
    moved = float(turned[1:] @ problem.response.mean[row, columns])
    return float(np.sqrt(max(variance, 0.0) + (problem.process_share * moved) ** 2))


def _cdf(z: Floats) -> Floats:
    """Standard normal distribution function, Abramowitz and Stegun 7.1.26 (error below 1.5e-7)."""
    x = np.abs(z) / np.sqrt(2)
    t = 1 / (1 + 0.3275911 * x)
    series = t * (
        0.254829592 + t * (-0.284496736 + t * (1.421413741 + t * (-1.453152027 + t * 1.061405429)))
    )
    erf = 1 - series * np.exp(-(x**2))
    return np.asarray(0.5 * (1 + np.where(z < 0, -erf, erf)))
