"""From the book's bow to the one on the bench: a twin pulled to its readings or its curve.

Both are maximum a posteriori fits by Gauss-Newton steps: what is unknown has a prior, what was read
has an uncertainty, and the answer says how sure each unknown is afterwards.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from bowcore.errors import BadInput
from bowcore.measurement.curve_file import checked_curve
from bowcore.mechanics.adjusters import TRIAL_IN, TRIAL_TURNS, Handle
from bowcore.mechanics.fit import DRAW_LENGTH_OFFSET_IN
from bowcore.mechanics.priors import PRIORS, Prior
from bowcore.mechanics.response import Adjuster
from bowcore.mechanics.sensitivity import QUANTITIES, answers, plausible, those_that_are_bows
from bowcore.mechanics.specification import BowSpec
from bowcore.mechanics.tracks import Floats
from bowcore.mechanics.twin import Changes, Twin, twins_of

LENGTH_SIGMA_IN = 0.15  # how far off a part may be before anyone has read anything
BOLT_SIGMA_TURNS = 2.0  # stands for limbs that are not what the sticker says
STEPS, NEAR_ENOUGH = 4, 0.02
CURVE_SIGMA_LBF = 0.4


@dataclass(frozen=True)
class Pulled:
    """A twin that agrees with readings. `errors` holds value and uncertainty per unknown: inches
    too short per part, and turns of both limb bolts that would make up for the limbs."""

    twin: Twin
    errors: dict[str, tuple[float, float]]
    left_over: dict[str, float]


def pull_to(twin: Twin, readings: Mapping[str, tuple[float, float]]) -> Pulled:
    """Pull a twin to what was read on the bow.

    Parameters
    ----------
    twin : Twin
        The book's bow.
    readings : mapping of str to (float, float)
        Value and standard uncertainty of quantities that the twin knows.

    Returns
    -------
    Pulled
        The twin of this bow, the errors that explain the readings, what is left unexplained.

    Raises
    ------
    BadInput
        No readings, or one of a quantity that the twin does not know.
    """
    known = twin.measures()
    strange = set(readings) - set(known)
    if strange or not readings:
        raise BadInput("Nothing to pull to.", "readings", ", ".join(known))
    names = [part.role for part in twin.spec.parts]
    width = np.array([LENGTH_SIGMA_IN] * len(names) + [BOLT_SIGMA_TURNS])
    order = list(readings)
    value = np.array([readings[n][0] for n in order])
    sigma = np.array([readings[n][1] for n in order])
    where = np.zeros(len(width))
    covariance = np.diag(width**2)
    trials, rows = _trials(names), [QUANTITIES.index(name) for name in order]
    for _ in range(STEPS):
        now = _measured(twin, names, where, order)
        slope = answers([twin.changed(_changes(names, where))], trials)[0, rows]
        before = where
        where, covariance = _map_step(slope, (value - now) / sigma, sigma, where, width)
        if np.abs((where - before) / width).max() < NEAR_ENOUGH:
            break
    errors = {
        name: (float(where[i]), float(np.sqrt(covariance[i, i])))
        for i, name in enumerate([*names, "limb_bolts"])
    }
    pulled = twin.changed(_changes(names, where))
    end = pulled.measures()
    return Pulled(pulled, errors, {name: readings[name][0] - end[name] for name in order})


def _trials(names: Sequence[str]) -> list[Handle]:
    """An inch of each part and a turn of both bolts, as the response takes them.

    Its slopes are those of both stops together: where the first stop changes over, draw length and
    holding weight have a kink, and one side's slope would blame the bolts for what both cables do.
    """
    parts = [Changes({name: TRIAL_IN}) for name in names]
    bolts = Changes(bolts_out=(TRIAL_TURNS, TRIAL_TURNS))
    inch = Adjuster("", "", "cable", "an inch", 1.0)
    turn = Adjuster("", "", "limb_bolt", "a turn", 0.0)
    return [
        *(Handle(inch, one, 1 / TRIAL_IN) for one in parts),
        Handle(turn, bolts, 1 / TRIAL_TURNS),
    ]


def _map_step(
    slope: Floats, wrong: Floats, sigma: Floats, where: Floats, width: Floats
) -> tuple[Floats, Floats]:
    """One Gauss-Newton step towards the most probable unknowns, and their covariance."""
    left = slope / sigma[:, None]
    information = left.T @ left + np.diag(1 / width**2)
    step = np.linalg.solve(information, left.T @ wrong - where / width**2)
    return where + step, np.asarray(np.linalg.inv(information), dtype=np.float64)


def _changes(names: Sequence[str], where: Floats) -> Changes:
    shorter = {name: float(where[i]) for i, name in enumerate(names)}
    return Changes(shorter, (float(where[-1]), float(where[-1])))


def _measured(twin: Twin, names: Sequence[str], where: Floats, order: Sequence[str]) -> Floats:
    measures = twin.changed(_changes(names, where)).measures()
    return np.array([measures[name] for name in order])


@dataclass(frozen=True)
class CurveFit:
    """A twin whose insides agree with a measured force-draw curve, and how well."""

    twin: Twin
    insides: dict[str, tuple[float, float]]
    rms_before_lbf: float
    rms_after_lbf: float


_INSIDES: dict[str, tuple[float, float]] = {  # prior sigma, trial step; of the log where positive
    "net_at_brace": (0.06, 0.01),
    "preload": (0.10, 0.02),
    "rotation": (0.03, 0.005),
    "let_out": (0.15, 0.02),
    "net_phase": (0.08, 0.01),
    "string_phase": (0.06, 0.01),
}


def fit_curve(spec: BowSpec, draw_in: Sequence[float], force_lbf: Sequence[float]) -> CurveFit:
    """Fit the insides of a bow to its measured force-draw curve, on the way up.

    Parameters
    ----------
    spec : BowSpec
        The book; peak, let-off and draw length are taken from the curve instead.
    draw_in : sequence of float, length >= 8
        Draw, from the throat to the string; increasing. [in]
    force_lbf : sequence of float
        Force at each position. [lbf]

    Returns
    -------
    CurveFit
        The twin, its insides with uncertainty, and the misfit before and after.

    Raises
    ------
    BadInput
        Too few points, positions that do not increase, or forces that are not those of a draw.
    NoModel
        No bow of this family draws like that.
    """
    xs, force = _checked_curve(draw_in, force_lbf)
    book = replace(
        spec, draw_length_in=float(xs[-1]) + DRAW_LENGTH_OFFSET_IN,
        peak_weight_lbf=float(force.max()), let_off=float(1 - force[-1] / force.max()),
    )  # fmt: skip
    width = np.array([sigma for sigma, _ in _INSIDES.values()])
    trial = np.diag([step for _, step in _INSIDES.values()])
    where, covariance, before = np.zeros(len(width)), np.diag(width**2), 0.0
    inside = xs > spec.brace_height_in + 0.05
    for step in range(STEPS):
        priors = [_insides(spec, row) for row in [where, *(where + trial)]]
        twins = twins_of(spec.family, [book] * len(priors), priors)
        draws = np.stack([t.at(xs[inside]).force for t in twins])
        if step == 0:
            before = _rms(draws[0] - force[inside])
        slope = (draws[1:] - draws[0]).T / trial.sum(axis=1)
        sigma = np.full(int(inside.sum()), CURVE_SIGMA_LBF)
        wrong = (force[inside] - draws[0]) / sigma
        where, covariance = _map_step(slope, wrong, sigma, where, width)
    twin = twins_of(spec.family, [book], [_insides(spec, where)])[0]
    insides = {
        name: (float(where[i]), float(np.sqrt(covariance[i, i]))) for i, name in enumerate(_INSIDES)
    }
    after = _rms(twin.at(xs[inside]).force - force[inside])
    return CurveFit(twin, insides, before, after)


def bows_like(
    spec: BowSpec, fitted: CurveFit, count: int, seed: int = 11
) -> tuple[Twin, list[Twin]]:
    """The book's bow with the insides that a curve has shown, and plausible ones beside it.

    Parameters
    ----------
    spec : BowSpec
        The book.
    fitted : CurveFit
        What its curve said.
    count : int
        How many beside it; what a curve does not show (pegs, limbs) varies as in any bow.
    seed : int
        The same seed gives the same bows.

    Returns
    -------
    tuple of Twin and list of Twin
        This bow, and what it may yet be.

    Raises
    ------
    NoModel
        With these insides the book's numbers make no bow.
    """
    value, doubt = np.array(list(fitted.insides.values())).T
    twin = twins_of(spec.family, [spec], [_insides(spec, value)])[0]
    dice = np.random.default_rng(seed)
    books, priors = [], []
    for _ in range(count):
        book, usual = plausible(spec, dice)
        inside = _insides(spec, value + doubt * dice.standard_normal(len(value)))
        books.append(book)
        priors.append(replace(inside, limb_radius=usual.limb_radius))
    return twin, those_that_are_bows(books, priors)


def _checked_curve(draw_in: Sequence[float], force_lbf: Sequence[float]) -> tuple[Floats, Floats]:
    xs, force = np.array(draw_in, dtype=float), np.array(force_lbf, dtype=float)
    if len(xs) != len(force) or not (np.isfinite(xs).all() and np.isfinite(force).all()):
        raise BadInput("A curve needs a force at each position.", "curve")
    if (np.diff(xs) <= 0).any():
        raise BadInput("Positions along the draw have to increase.", "curve")
    checked_curve(list(zip(xs.tolist(), force.tolist(), strict=True)))
    return xs, force


def _insides(spec: BowSpec, where: Floats) -> Prior:
    """The family's prior with its unknowns moved by so much."""
    prior = PRIORS[spec.family]
    moved = dict(zip(_INSIDES, where, strict=True))
    return replace(
        prior,
        net_at_brace=prior.net_at_brace * np.exp(moved["net_at_brace"]),
        preload=prior.preload * np.exp(moved["preload"]),
        rotation=prior.rotation * np.exp(moved["rotation"]),
        let_out=prior.let_out * np.exp(moved["let_out"]),
        net=replace(prior.net, p2=prior.net.p2 + moved["net_phase"]),
        string=replace(prior.string, p1=prior.string.p1 + moved["string_phase"]),
    )


def _rms(values: Floats) -> float:
    return float(np.sqrt((values**2).mean()))
