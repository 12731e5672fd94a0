"""Changes weighed: what they would do to every number, how surely, and at what effort.

One change or a whole grid of them goes through the same arrays, so that the search and the plan on
the screen cannot differ.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from bowcore.adjusters.steps import Steps
from bowcore.learning.first_stop_effect import moved_by_gap
from bowcore.measurement.normal import normal_cdf
from bowcore.mechanics.tracks import Floats
from bowcore.planning.problem import Option, Problem

KEPT_IN = 1 / 400
"""A change of axle to axle below this counts as kept: a fraction of what a tape shows."""
FLIPPED_IN = 1 / 64
"""The other stop touches first by at least what a rule shows; nearer than that both touch together."""
SURE_ENOUGH = 0.8
"""A change is read again afterwards, so one more part is not worth the last tenth."""
AT_ONCE = 256
_SLACK = 1e-9
_LEAST_SIGMA = 1e-12  # a number that is certain still has a side of its band

StepCounts = NDArray[np.int64]


@dataclass(frozen=True)
class Grid:
    """Combinations of steps of some adjusters, one a row, and what each is to the hands."""

    keys: tuple[str, ...]
    columns: list[int]
    rows: StepCounts
    efforts: StepCounts

    def pick(self, chosen: NDArray[np.int64]) -> "Grid":
        """Some of its rows, in that order."""
        return Grid(self.keys, self.columns, self.rows[chosen], self.efforts[chosen])


class Numbers:
    """Some of a problem's quantities as arrays: where they are, and how they answer."""

    def __init__(self, problem: Problem, names: Sequence[str]):
        """Gather them.

        Parameters
        ----------
        problem : Problem
            With a reading of each.
        names : sequence of str
            The quantities, all in the response.
        """
        response = problem.response
        rows = [response.quantities.index(name) for name in names]
        self.names = tuple(names)
        self._problem = problem
        self._mean, self._variance = response.mean[rows], response.sigma[rows] ** 2
        self._blocks = None if problem.blocks is None else problem.blocks[rows]
        self.now, self._sigma = np.array([problem.readings[n] for n in names]).reshape(-1, 2).T
        self.gap = self.names.index("stop_gap") if "stop_gap" in names else None

    def after(self, grid: Grid) -> Floats:
        """Every quantity after each row, by the best estimate, (rows, quantities)."""
        return self._with_gap_closed(self.now + self._moved(grid))

    def sigma_after(self, grid: Grid) -> Floats:
        """Standard uncertainty of every quantity after each row, (rows, quantities)."""
        if self._blocks is None:
            turned = grid.rows**2 @ self._variance[:, grid.columns].T
            return np.asarray(np.sqrt(self._sigma**2 + turned))
        keep = [0, *(column + 1 for column in grid.columns)]
        blocks = self._blocks[:, keep][:, :, keep]
        ones = np.concatenate([np.ones((len(grid.rows), 1)), grid.rows], axis=1)
        joint = (np.matmul(ones[None], blocks) * ones).sum(axis=-1).T
        unmodelled = (self._problem.process_share * self._moved(grid)) ** 2
        return np.asarray(np.sqrt(np.maximum(joint, 0) + unmodelled))

    def moved(self, name: str, grid: Grid) -> Floats:
        """How far each row moves one quantity, (rows,)."""
        return self._moved(grid)[:, self.names.index(name)]

    def _moved(self, grid: Grid) -> Floats:
        return np.asarray(grid.rows @ self._mean[:, grid.columns].T)

    def _with_gap_closed(self, values: Floats) -> Floats:
        """What is read at the first stop comes up as the gap closes, whichever stop is ahead."""
        effect = self._problem.first_stop_effect
        if self.gap is None or not any(effect.get(name) for name in self.names):
            return np.asarray(values)
        before, after = float(self.now[self.gap]), values[:, self.gap]
        return np.asarray(values + moved_by_gap(effect, self.names, before, after))


class Weighing:
    """A problem ready to weigh changes."""

    def __init__(self, problem: Problem):
        """Gather what every change is weighed with.

        Parameters
        ----------
        problem : Problem
            Every planned quantity has a reading.
        """
        names = problem.planned
        bands = [problem.bands[name] for name in names]
        self._problem, self._planned = problem, Numbers(problem, names)
        self._low, self._high, self._target, self._half = (
            np.array([(b.low, b.high, b.target, b.half_width) for b in bands]).reshape(-1, 4).T
        )
        self._keep_length = problem.policy.keep_length and "axle_to_axle" in names
        self._turns = {key: self._turns_of(key) for key in problem.open_keys}

    @property
    def keys(self) -> list[str]:
        """Adjusters that may be turned at all."""
        return list(self._turns)

    def grid(self, keys: tuple[str, ...]) -> Grid:
        """Every combination of the steps that limits and policy allow."""
        steps = [self._turns[key][0] for key in keys]
        efforts = [self._turns[key][1] for key in keys]
        rows = np.stack(np.meshgrid(*steps, indexing="ij"), -1).reshape(-1, len(keys))
        total = sum(np.meshgrid(*efforts, indexing="ij")).reshape(-1)  # type: ignore[union-attr]
        return Grid(keys, self._columns(keys), rows, total)

    def weigh(self, steps: Steps) -> Option:
        """What one change would do, with the prediction of every number that was read."""
        grid = self._one_row(steps)
        option = self._option(grid, 0, self._planned.after(grid)[0])
        response, readings = self._problem.response, self._problem.readings
        every = Numbers(self._problem, [n for n in response.quantities if n in readings])
        values, sigmas = every.after(grid)[0].tolist(), every.sigma_after(grid)[0].tolist()
        predicted = dict(zip(every.names, zip(values, sigmas, strict=True), strict=True))
        return replace(option, predicted=predicted)

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
        values = self._planned.after(grid)
        inside = (values >= self._low - _SLACK) & (values <= self._high + _SLACK)
        rows = np.flatnonzero(inside.all(axis=1) & self._keeps(grid))
        if len(rows):
            rows = rows[np.lexsort((self._off(values[rows]), grid.efforts[rows]))]
            row, chance = self._surest(grid, rows)
            return self._option(grid, row, values[row], chance)
        if not or_nearest:
            return None
        left, outside = (~inside).sum(axis=1), np.round(self._outside(values), 6)
        first = int(np.lexsort((self._off(values), grid.efforts, outside, left))[0])
        return self._option(grid, first, values[first])

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

    def _option(self, grid: Grid, row: int, values: Floats, chance: float = -1.0) -> Option:
        one = grid.pick(np.array([row]))
        past = np.maximum(np.maximum(self._low - values, values - self._high), 0.0) / self._half
        left = int(((values < self._low - _SLACK) | (values > self._high + _SLACK)).sum())
        steps = Steps(zip(grid.keys, grid.rows[row].tolist(), strict=True))
        off = ((values - self._target) / self._half) ** 2
        return Option(
            steps,
            {},
            float(self._chance(one)[0]) if chance < 0 else chance,
            not left and bool(self._keeps(one)[0]),
            float(off.mean()) if len(off) else 0.0,
            int(grid.efforts[row]),
            float((past**2).sum()),
            left,
            bool(steps) and self._flips(values),
            self._problem.presses(steps),
        )

    def _off(self, values: Floats) -> Floats:
        return np.asarray((((values - self._target) / self._half) ** 2).sum(axis=1))

    def _outside(self, values: Floats) -> Floats:
        past = np.maximum(np.maximum(self._low - values, values - self._high), 0.0)
        return np.asarray(((past / self._half) ** 2).sum(axis=1))

    def _keeps(self, grid: Grid) -> NDArray[np.bool_]:
        """Whether each row leaves axle to axle where it is, if the policy wants that."""
        if not self._keep_length:
            return np.ones(len(grid.rows), dtype=bool)
        return np.asarray(np.abs(self._planned.moved("axle_to_axle", grid)) <= KEPT_IN)

    def _flips(self, values: Floats) -> bool:
        if self._planned.gap is None:
            return False
        at = self._planned.gap
        return flips(float(self._planned.now[at]), float(values[at]))

    def _chance(self, grid: Grid) -> Floats:
        """Probability that every band is reached, for each row."""
        values = self._planned.after(grid)
        sigma = np.maximum(self._planned.sigma_after(grid), _LEAST_SIGMA)
        inside = normal_cdf((self._high - values) / sigma) - normal_cdf(
            (self._low - values) / sigma
        )
        return np.asarray(inside.prod(axis=1))

    def _one_row(self, steps: Steps) -> Grid:
        keys = tuple(steps)
        effort = sum(self._problem.effort(key, count) for key, count in steps.items())
        rows = np.array([list(steps.values())], dtype=np.int64).reshape(1, len(keys))
        return Grid(keys, self._columns(keys), rows, np.array([effort]))

    def _columns(self, keys: Sequence[str]) -> list[int]:
        return [self._problem.response.column(key) for key in keys]

    def _turns_of(self, key: str) -> tuple[StepCounts, StepCounts]:
        steps = self._problem.steps_of(key)
        return np.array(steps), np.array([self._problem.effort(key, n) for n in steps])


def weigh(problem: Problem, steps: Steps) -> Option:
    """What a given change would do: predicted readings, chance, flip of the first stop."""
    return Weighing(problem).weigh(steps)


def flips(before_in: float, after_in: float) -> bool:
    """Whether another stop touches first afterwards, by more than a rule shows."""
    return before_in * after_in < 0 and abs(after_in) > FLIPPED_IN
