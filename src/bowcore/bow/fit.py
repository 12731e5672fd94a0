"""Fits a bow's parameters to the book: cam rotation, let-off and peak weight, stops, level nock path.

Newton's method on three unknowns per bow, all draw positions and all perturbations solved in one
batch, each step starting from the curve of the step before: a curve then costs a few Newton steps.
"""

from dataclasses import dataclass, replace

import numpy as np

from bowcore.bow.build import Frame, Unknowns, assemble
from bowcore.bow.equilibrium import AtDraw, march, solve, stack
from bowcore.bow.layout import Cross
from bowcore.bow.machine import ALPHA_B, STATE_ARRAYS, Floats, Machine, State, pieces_of
from bowcore.bow.priors import PRIORS, Prior
from bowcore.bow.specification import BowSpec, Family
from bowcore.bow.tracks import integral_basis
from bowcore.errors import NoModel

SAMPLES = 41
COARSE = 14
DRAW_LENGTH_OFFSET_IN = 1.75  # draw length is measured from the throat to the string, plus 1 3/4 in
MOST_ROUNDS = 16
CLOSE_ENOUGH = 2e-6
STEP = 1e-4
LEVELLED = (Family.HYBRID, Family.SINGLE)
_LIMIT = np.array([0.12, 0.10, 0.25])  # largest change a round: ln r0, arm [in], ln k


@dataclass(frozen=True)
class Fitted:
    """Machines that meet their books: rest states, states along the draw, nock at full draw."""

    machine: Machine
    rest: State
    curve: State
    x_full: Floats


@dataclass
class _Round:
    """One trial: unknowns, what they make, and how far it is from the book."""

    unknowns: Unknowns
    machine: Machine
    rest: State
    curve: State
    wrong: Floats


def fit(family: Family, books: list[BowSpec], priors: list[Prior] | None = None) -> Fitted:
    """Fit one machine per book.

    Parameters
    ----------
    family : Family
        Cam family of all books.
    books : list of BowSpec
        Published numbers.
    priors : list of Prior, optional
        Assumed parameters, one a book; the family's usual ones if absent.

    Returns
    -------
    Fitted
        All bows in one batch, in the order of the books.

    Raises
    ------
    NoModel
        Some book's numbers do not make a bow that can be drawn.
    """
    assumed = priors or [PRIORS[family]] * len(books)
    task = _Task(family, books, assumed)
    trial = task.first()
    for _ in range(MOST_ROUNDS):
        if np.abs(trial.wrong).max() < CLOSE_ENOUGH:
            return Fitted(trial.machine, trial.rest, trial.curve, task.x_full)
        trial = task.improve(trial)
    worst = books[int(np.abs(trial.wrong).max(axis=1).argmax())]
    raise NoModel(
        f"{worst.name}: no cams give {worst.let_off:.0%} let-off and "
        f"{worst.peak_weight_lbf:g} lbf at this draw length."
    )


class _Task:
    """The fit of a batch of books."""

    def __init__(self, family: Family, books: list[BowSpec], priors: list[Prior]):
        self.family, self.priors = family, priors
        self.frame = Frame(
            np.array([b.axle_to_axle_in for b in books]),
            np.array([b.brace_height_in for b in books]),
        )
        self.x_full = np.array([b.draw_length_in for b in books]) - DRAW_LENGTH_OFFSET_IN
        share = np.linspace(0, 1, SAMPLES)
        self.xs = self.frame.brace_height + np.outer(share, self.x_full - self.frame.brace_height)
        self.peak = np.array([b.peak_weight_lbf for b in books])
        self.hold = 1 - np.array([b.let_off for b in books])
        self.rotation = np.array([p.rotation for p in priors])
        self.levelling: Floats | None = None
        self.measured = [b.measured_radii for b in books]

    def first(self) -> _Round:
        """March out from a guess scaled from a typical bow by the string that the cams pay out."""
        r0, per_pound = (1.99, 218) if self.family is Family.SINGLE else (1.814, 112)
        arm = 0.11 + 0.55 * (self.hold - 0.25) / 0.75
        guess = Unknowns(r0 * self._paid_out() / 9.09, arm, per_pound * self.peak)
        machine, rest = self._assemble(guess)
        coarse = np.unique(np.linspace(0, SAMPLES - 1, COARSE).astype(int))
        marched = march(machine, rest, self.xs[coarse], self._levelled_rope)
        curve = _refine(marched, coarse, len(self.x_full))
        return self._evaluate(guess, machine, rest, curve)

    def _paid_out(self) -> Floats:
        """String length that each cam gives from brace to full draw, roughly. [in]"""
        half = self.frame.axle_to_axle / 2
        reach = self.x_full - self.frame.brace_height + 0.06  # string offset less limb travel
        return np.asarray(np.hypot(half - 1.6, reach) - half)

    def improve(self, trial: _Round) -> _Round:
        """One Newton step; the let-out track is levelled anew as it goes."""
        base = self._vector(trial.unknowns)
        anchor = self._perturbed(trial, base) if self.family in LEVELLED else trial.wrong
        tried = [self._perturbed(trial, base + STEP * np.eye(3)[i]) for i in range(3)]
        slope = np.stack([(t - anchor) / STEP for t in tried], axis=2)
        change = -np.linalg.solve(slope, trial.wrong[..., None])[..., 0]
        over = (np.abs(change) / _LIMIT).max(axis=1, keepdims=True)
        unknowns = self._unknowns(base + change / np.maximum(over, 1))
        machine, rest = self._assemble(unknowns)
        return self._evaluate(unknowns, machine, rest, trial.curve)

    def _perturbed(self, trial: _Round, vector: Floats) -> Floats:
        unknowns = self._unknowns(vector)
        machine, _ = self._assemble(unknowns)
        many = machine.repeat(SAMPLES)
        closing = AtDraw(self._flat_xs(), self._levelled_rope)
        return self._wrong(solve(many, trial.curve, closing)[0])

    def _evaluate(self, unknowns: Unknowns, machine: Machine, rest: State, start: State) -> _Round:
        if self.family in LEVELLED:
            machine, rest, start = self._level(unknowns, machine, rest, start)
        many = machine.repeat(SAMPLES)
        curve, _ = solve(many, start, AtDraw(self._flat_xs()))
        return _Round(unknowns, machine, rest, curve, self._wrong(curve))

    def _level(
        self, unknowns: Unknowns, machine: Machine, rest: State, start: State
    ) -> tuple[Machine, State, State]:
        """Shape the bottom let-out track so that the nock stays level along the draw.

        The draw is solved with a level nock in place of that rope's length; what the rope would
        then lack is what the track has to give, and it is linear in the track's coefficients.
        """
        for _ in range(2):
            many = machine.repeat(SAMPLES)
            closing = AtDraw(self._flat_xs(), self._free)
            start, geo = solve(many, start, closing)
            lacks = geo.length - many.length - many.compliance * start.tension
            n = machine.size
            angle = self._let_out_angle(start).reshape(n, SAMPLES)
            missing = lacks[:, self._free].reshape(n, SAMPLES)
            more = np.stack([_correction(angle[i], missing[i]) for i in range(n)])
            self.levelling = more if self.levelling is None else self.levelling + more
            machine, rest = self._assemble(unknowns)
        return machine, rest, start

    @property
    def _free(self) -> int:
        """The rope that runs on the bottom let-out track."""
        return 0 if self.family is Family.SINGLE else 2

    @property
    def _levelled_rope(self) -> int | None:
        """The rope whose length is given up while the nock path is made level."""
        return self._free if self.family in LEVELLED else None

    def _let_out_angle(self, state: State) -> Floats:
        piece = next(
            p
            for p, (r, piece) in enumerate(pieces_of(self.family))
            if isinstance(piece, Cross) and piece.other_track == "let_b"
        )
        return np.asarray(np.pi - state.psi[:, piece] - state.q[:, ALPHA_B])

    def _assemble(self, unknowns: Unknowns) -> tuple[Machine, State]:
        priors = [
            replace(p, let_out=_effective_let_out(radii, arm)) if radii else p
            for p, radii, arm in zip(self.priors, self.measured, unknowns.arm_full, strict=True)
        ]
        return assemble(self.family, self.frame, priors, unknowns, self.levelling)

    def _wrong(self, curve: State) -> Floats:
        """Rotation, holding share and peak against the book, (n, 3)."""
        n = len(self.peak)
        force = curve.force.reshape(n, SAMPLES)
        turned = curve.q[:, ALPHA_B].reshape(n, SAMPLES)[:, -1]
        peak = peak_of(force)
        return np.stack(
            [turned - self.rotation, force[:, -1] / peak - self.hold, np.log(peak / self.peak)], 1
        )

    def _flat_xs(self) -> Floats:
        return self.xs.T.reshape(-1)

    @staticmethod
    def _vector(u: Unknowns) -> Floats:
        return np.stack([np.log(u.string_r0), u.arm_full, np.log(u.stiffness)], axis=1)

    @staticmethod
    def _unknowns(v: Floats) -> Unknowns:
        return Unknowns(np.exp(v[:, 0]), v[:, 1], np.exp(v[:, 2]))


def _effective_let_out(radii: tuple[float, float], arm_full: float) -> float:
    """Let-out radius that keeps the measured sum of take-up and let-out, which decides the gap."""
    return max((sum(radii) - arm_full) / 2, 0.05)


def _correction(angle: Floats, lacks: Floats) -> Floats:
    """Change of a track's coefficients that makes up for a rope's lack at these contact angles."""
    columns = np.concatenate([integral_basis(angle), np.ones((len(angle), 1))], axis=1)
    ridge = np.concatenate([1e-4 * np.eye(5), np.zeros((5, 1))], axis=1)
    left = np.concatenate([columns, ridge])
    right = np.concatenate([-lacks, np.zeros(5)])
    return np.asarray(np.linalg.lstsq(left, right, rcond=None)[0][:5])


def peak_of(force: Floats) -> Floats:
    """Highest force of each row, refined by the parabola through the three highest samples."""
    top = np.clip(force.argmax(axis=1), 1, force.shape[1] - 2)
    rows = np.arange(len(force))
    a, b, c = force[rows, top - 1], force[rows, top], force[rows, top + 1]
    bend = a - 2 * b + c
    lift = np.where(bend < -1e-12, (a - c) ** 2 / (8 * np.where(bend == 0, 1, -bend)), 0.0)
    return np.asarray(b + lift)


def _refine(marched: list[State], coarse: Floats, n: int) -> State:
    """A march on few positions, interpolated linearly to all of them."""
    fine = np.arange(SAMPLES)

    def spread(rows: list[Floats]) -> Floats:
        values = np.stack(rows)
        flat = values.reshape(len(rows), -1)
        full = np.stack([np.interp(fine, coarse, column) for column in flat.T], axis=1)
        return full.reshape(SAMPLES, *values.shape[1:])

    parts = [spread([getattr(s, k) for s in marched]) for k in STATE_ARRAYS]
    return stack([State(*(part[i] for part in parts)) for i in range(SAMPLES)])
