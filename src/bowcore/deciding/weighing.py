"""Changes weighed: what they would do to every number, how surely, and in how many minutes.

One change or a whole grid of them goes through the same arrays, so that the search and the plan on
the screen cannot differ. The cost of a change is the minutes to a finished bow that it leads one to
expect: its own, and another round at the press for the share of cases in which it is not enough.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from bowcore.adjusters.adjuster import Adjuster
from bowcore.adjusters.limb_bolt import LimbBolt
from bowcore.adjusters.steps import Steps
from bowcore.adjusters.string_or_cable import StringOrCable
from bowcore.bow.tracks import Floats
from bowcore.deciding.problem import Option, Problem
from bowcore.learning.first_stop_effect import moved_by_gap
from bowcore.measurement.normal import normal_cdf
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.quantities.changes import Change

KEPT_IN = 1 / 400
"""A change of axle to axle below this counts as kept: a fraction of what a tape shows."""
FLIPPED_IN = 1 / 64
"""The other stop touches first by at least what a rule shows; nearer than that both touch together."""
PRESS_MINUTES = 6.0
"""A press cycle with its gate (common practice)."""
STEP_MINUTES = 0.25
"""For each half twist, or what is like it to the hands (common practice)."""
AGAIN_MINUTES = 24.0
"""Another round when the numbers are not inside afterwards: press, turn, let down, read."""
FLIP_MINUTES = 1.0
"""Turning the first stop over is avoided where little else speaks for it (common practice)."""
BLAMELESS_MINUTES = 10.0
"""After new strings the limb bolts are not the suspect; they wait while lengths will do it."""
HAIR = 0.25
"""Outside by less than this share of half a band is a hair: no bow comes back for it."""
AT_ONCE = 512
_SLACK = 1e-9
_LEAST_SIGMA = 1e-12  # a number that is certain still has a side of its band

StepCounts = NDArray[np.int64]


@dataclass(frozen=True)
class Grid:
    """Combinations of steps of some adjusters, one a row.

    `worth` is the same in steps of the usual size; `minutes` what each row takes at the bench, and
    `efforts` what it is to the hands, in half twists.
    """

    keys: tuple[str, ...]
    columns: list[int]
    rows: StepCounts
    worth: Floats
    efforts: StepCounts
    minutes: Floats

    def pick(self, chosen: NDArray[np.int64]) -> "Grid":
        """Some of its rows, in that order."""
        return replace(
            self,
            rows=self.rows[chosen],
            worth=self.worth[chosen],
            efforts=self.efforts[chosen],
            minutes=self.minutes[chosen],
        )


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
        left_out = [problem.left_out.get(name, (problem.process_share, 0.0)) for name in names]
        self._share, self._seats = np.array(left_out).reshape(-1, 2).T
        self.gap = self.names.index("stop_gap") if "stop_gap" in names else None
        self._first_stop = np.array([problem.first_stop_effect.get(name, 0.0) for name in names])
        self._bend = problem.bend if self.gap is not None else None

    def after(self, grid: Grid) -> Floats:
        """Every quantity after each row, by the best estimate, (rows, quantities)."""
        moved = self._moved(grid)
        values = self.now + moved
        if self._bend is not None:
            values[:, self.gap] = self._bend.gaps(moved[:, self.gap])
        return self._with_gap_closed(values)

    def sigma_after(self, grid: Grid) -> Floats:
        """Standard uncertainty of every quantity after each row, (rows, quantities)."""
        squares = grid.worth**2
        if self._blocks is None:
            variance = self._sigma**2 + squares @ self._variance[:, grid.columns].T
        else:
            keep = [0, *(column + 1 for column in grid.columns)]
            blocks = self._blocks[:, keep][:, :, keep]
            ones = np.concatenate([np.ones((len(grid.rows), 1)), grid.worth], axis=1)
            variance = (np.matmul(ones[None], blocks) * ones).sum(axis=-1).T
        gross = squares @ (self._mean[:, grid.columns] ** 2).T
        variance = np.maximum(variance, 0) + gross * self._share**2
        variance += np.where(gross > 0, self._seats**2, 0.0)
        if self._bend is not None:
            moved = self._moved(grid)[:, self.gap]
            variance[:, self.gap] *= self._bend.factors(moved) ** 2
            variance[:, self.gap] += self._bend.spreads(moved) ** 2
        if self.gap is not None and len(grid.keys):
            unsure = self._sigma[self.gap] ** 2 + variance[:, [self.gap]]
            variance = variance + unsure * self._first_stop**2
        return np.asarray(np.sqrt(variance))

    def moved(self, name: str, grid: Grid) -> Floats:
        """How far each row moves one quantity, (rows,)."""
        return self._moved(grid)[:, self.names.index(name)]

    def _moved(self, grid: Grid) -> Floats:
        return np.asarray(grid.worth @ self._mean[:, grid.columns].T)

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
        come = np.array([problem.to_come.get(name, (0.0, 0.0)) for name in names]).reshape(-1, 2)
        self._come, self._come_sigma = come.T
        self._reading = np.array([_reading_sigma(name) for name in names])
        self._keep_length = problem.policy.keep_length and "axle_to_axle" in names
        self._turns = {key: self._turns_of(key) for key in problem.open_keys}
        self._tried = frozenset(problem.tried)

    @property
    def keys(self) -> list[str]:
        """Adjusters that may be turned at all."""
        return list(self._turns)

    @property
    def main_keys(self) -> list[str]:
        """Of these: whole strings and cables, and both limb bolts together."""
        return [key for key in self._turns if _is_main(self._problem.adjuster(key))]

    def least_minutes(self, keys: Sequence[str]) -> float:
        """What any change of these adjusters takes at least."""
        return self._base_minutes(keys) + STEP_MINUTES * sum(
            float(self._turns[key].efforts.min()) for key in keys
        )

    def grid(self, keys: tuple[str, ...]) -> Grid:
        """Every combination of the steps that limits and policy allow."""
        turns = [self._turns[key] for key in keys]
        rows = _combined([one.counts for one in turns])
        worth = _combined([one.worth for one in turns])
        efforts = _combined([one.efforts for one in turns]).sum(axis=1)
        grid = self._grid(keys, rows, worth, efforts)
        tried = self._rows_tried(keys, rows)
        return grid.pick(np.flatnonzero(~tried)) if tried.any() else grid

    def _rows_tried(self, keys: tuple[str, ...], rows: StepCounts) -> NDArray[np.bool_]:
        """Rows that only bring the bow back to where it was outside already."""
        found = np.zeros(len(rows), dtype=bool)
        for steps in self._tried:
            if set(steps) == set(keys):
                found |= (rows == [steps[key] for key in keys]).all(axis=1)
        return found

    def weigh(self, steps: Steps) -> Option:
        """What one change would do, with the prediction of every number that was read."""
        grid = self._one_row(steps)
        option = self._options(grid)[0]
        response, readings = self._problem.response, self._problem.readings
        every = Numbers(self._problem, [n for n in response.quantities if n in readings])
        values, sigmas = every.after(grid)[0].tolist(), every.sigma_after(grid)[0].tolist()
        predicted = dict(zip(every.names, zip(values, sigmas, strict=True), strict=True))
        return replace(option, predicted=predicted)

    def best(self, grid: Grid, or_nearest: bool = True) -> Option | None:
        """The row with the fewest minutes to expect, its predictions left out.

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
        if not len(grid.rows):
            return None
        values = self._planned.after(grid) + self._come
        inside = (values >= self._low - _SLACK) & (values <= self._high + _SLACK)
        rows = np.flatnonzero(inside.all(axis=1) & self._keeps(grid))
        if len(rows):
            rows = rows[np.lexsort((self._off(values[rows]), grid.minutes[rows]))]
            return self._quickest(grid.pick(rows))
        if not or_nearest:
            return None
        left, outside = (~inside).sum(axis=1), np.round(self._outside(values), 6)
        first = int(np.lexsort((self._off(values), grid.efforts, outside, left))[0])
        return self._options(grid.pick(np.array([first])))[0]

    def _quickest(self, grid: Grid) -> Option:
        """The row with the fewest minutes; the rows rise by what they take themselves."""
        best: Option | None = None
        for start in range(0, len(grid.rows), AT_ONCE):
            if best is not None and grid.minutes[start] >= best.minutes:
                break
            part = grid.pick(np.arange(start, min(start + AT_ONCE, len(grid.rows))))
            values = self._planned.after(part)
            minutes = self._minutes(part, values, self._planned.sigma_after(part))
            least = np.flatnonzero(np.round(minutes - minutes.min(), 6) <= 0)
            nearest = least[int(self._off(values[least] + self._come).argmin())]
            found = self._options(part.pick(np.array([nearest])))[0]
            if best is None or found.minutes < best.minutes - _SLACK:
                best = found
        assert best is not None
        return best

    def _minutes(self, grid: Grid, values: Floats, sigma: Floats) -> Floats:
        """Minutes to a finished bow that each row leads one to expect."""
        ready = self._inside(values, np.hypot(sigma, self._reading), settling=False)
        flips_over = FLIP_MINUTES * self._flips_over(values) if len(grid.keys) else 0.0
        return np.asarray(grid.minutes + flips_over + AGAIN_MINUTES * (1 - ready))

    def _options(self, grid: Grid) -> list[Option]:
        values, sigma = self._planned.after(grid), self._planned.sigma_after(grid)
        chance, minutes = self._inside(values, sigma), self._minutes(grid, values, sigma)
        nearly = self._inside(values, sigma, HAIR, settling=False)
        now = self._inside(values, sigma, settling=False)
        keeps, settled = self._keeps(grid), values + self._come
        past = np.maximum(np.maximum(self._low - settled, settled - self._high), 0.0) / self._half
        left = (past > _SLACK / self._half).sum(axis=1)
        off = ((settled - self._target) / self._half) ** 2
        flipped = self._flips_over(values)
        found = []
        for row in range(len(grid.rows)):
            steps = Steps(zip(grid.keys, grid.rows[row].tolist(), strict=True))
            found.append(
                Option(
                    steps,
                    {},
                    float(chance[row]),
                    not left[row] and bool(keeps[row]),
                    float(off[row].mean()) if off.shape[1] else 0.0,
                    int(grid.efforts[row]),
                    float((past[row] ** 2).sum()),
                    int(left[row]),
                    bool(steps) and bool(flipped[row]),
                    self._problem.presses(steps),
                    float(minutes[row]),
                    float(nearly[row]),
                    float(now[row]),
                )
            )
        return found

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

    def _flips_over(self, values: Floats) -> NDArray[np.bool_]:
        if self._planned.gap is None:
            return np.zeros(len(values), dtype=bool)
        before, after = float(self._planned.now[self._planned.gap]), values[:, self._planned.gap]
        return np.asarray((before * after < 0) & (np.abs(after) > FLIPPED_IN))

    def _inside(
        self, values: Floats, sigma: Floats, beyond: float = 0.0, settling: bool = True
    ) -> Floats:
        """Probability that every band is reached once new threads have settled, for each row.

        `beyond`: so many half widths outside still count. `settling`: how unsure the settling is
        counts; no press makes that any surer.
        """
        settled, more = values + self._come, beyond * self._half
        sigma = np.maximum(np.hypot(sigma, self._come_sigma * settling), _LEAST_SIGMA)
        inside = normal_cdf((self._high + more - settled) / sigma) - normal_cdf(
            (self._low - more - settled) / sigma
        )
        return np.asarray(inside.prod(axis=1))

    def _one_row(self, steps: Steps) -> Grid:
        keys = tuple(steps)
        effort = sum(self._problem.effort(key, count) for key, count in steps.items())
        rows = np.array([list(steps.values())], dtype=np.int64).reshape(1, len(keys))
        worth = [[self._problem.worth(key, count) for key, count in steps.items()]]
        return self._grid(
            keys, rows, np.array(worth, dtype=float).reshape(1, len(keys)), np.array([effort])
        )

    def _grid(
        self, keys: tuple[str, ...], rows: StepCounts, worth: Floats, efforts: StepCounts
    ) -> Grid:
        columns = [self._problem.response.column(key) for key in keys]
        minutes = np.asarray(self._base_minutes(keys) + STEP_MINUTES * efforts, dtype=float)
        return Grid(keys, columns, rows, worth, efforts, minutes)

    def _base_minutes(self, keys: Sequence[str]) -> float:
        turned = [self._problem.adjuster(key) for key in keys]
        blameless = any(one.change is Change.LIMB_BOLT for one in turned) and bool(
            self._problem.suspects
        )
        return (
            PRESS_MINUTES * self._problem.presses(keys)
            + sum(one.minutes for one in turned)
            + BLAMELESS_MINUTES * blameless
        )

    def _turns_of(self, key: str) -> "_Turns":
        steps = self._problem.steps_of(key)
        return _Turns(
            np.array(steps),
            np.array([self._problem.worth(key, n) for n in steps]),
            np.array([self._problem.effort(key, n) for n in steps]),
        )


@dataclass(frozen=True)
class _Turns:
    """What one adjuster may be turned by: steps, steps of the usual size, and what they are to do."""

    counts: StepCounts
    worth: Floats
    efforts: StepCounts


def _is_main(adjuster: Adjuster) -> bool:
    if isinstance(adjuster, LimbBolt):
        return not adjuster.alone
    return isinstance(adjuster, StringOrCable)


def _combined(choices: Sequence[NDArray[Any]]) -> NDArray[Any]:
    """Every combination of one of each, (rows, choices)."""
    return np.stack(np.meshgrid(*choices, indexing="ij"), -1).reshape(-1, len(choices))


def _reading_sigma(name: str) -> float:
    quantity = QUANTITIES[name]
    return quantity.precision.of_mean(quantity.takes)


def weigh(problem: Problem, steps: Steps) -> Option:
    """What a given change would do: predicted readings, chance, flip of the first stop."""
    return Weighing(problem).weigh(steps)
