"""From the book's bow to the one on the bench: a twin fitted to its readings or to its curve.

Both are maximum a posteriori fits by Gauss-Newton steps: what is unknown has a prior, what was read
has an uncertainty, and the answer says how sure each unknown is afterwards.
"""

from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from bowcore.adjusters.adjuster import Trial
from bowcore.adjusters.limb_bolt import BOTH_BOLTS, TRIAL_TURNS
from bowcore.adjusters.string_or_cable import TRIAL_IN
from bowcore.bow.fit import DRAW_LENGTH_OFFSET_IN
from bowcore.bow.plausible import plausible, those_that_are_bows
from bowcore.bow.priors import PRIORS, Prior
from bowcore.bow.specification import BowSpec
from bowcore.bow.tracks import Floats
from bowcore.bow.twin import Changes, Twin, twins_of
from bowcore.errors import BadInput
from bowcore.measurement.curve_file import checked_curve
from bowcore.response.sensitivity import COMPUTED, answers

LENGTH_SIGMA_IN = 0.15  # how far off a part may be before anyone has read anything
BOLT_SIGMA_TURNS = 2.0  # stands for limbs that are not what the sticker says
TRUSTED_IN, TRUSTED_TURNS = 0.03, 0.06  # where nothing was done to it; common practice
STEPS, NEAR_ENOUGH = 4, 0.02
CURVE_SIGMA_LBF = 0.4


@dataclass(frozen=True)
class FittedTwin:
    """A twin that agrees with readings. `errors` holds value and uncertainty per unknown: inches
    too short per part, and turns of both limb bolts that would make up for the limbs."""

    twin: Twin
    errors: dict[str, tuple[float, float]]
    residuals: dict[str, float]


def fit_to_readings(
    twin: Twin, readings: Mapping[str, tuple[float, float]], trusted: Collection[str] = ()
) -> FittedTwin:
    """Fit a twin to what was read on the bow.

    Parameters
    ----------
    twin : Twin
        The book's bow.
    readings : mapping of str to (float, float)
        Value and standard uncertainty of quantities that the twin knows.
    trusted : collection of str
        Roles of parts, or "limb_bolts": what nobody touched is not the suspect.

    Returns
    -------
    FittedTwin
        The twin of this bow, the errors that explain the readings, what is left unexplained.

    Raises
    ------
    BadInput
        No readings, or one of a quantity that the twin does not know.
    """
    known = twin.measures()
    strange = set(readings) - set(known)
    if strange or not readings:
        raise BadInput("There is nothing to fit the twin to.", "readings", ", ".join(known))
    names = [part.role for part in twin.spec.parts]
    usual = {name: TRUSTED_IN if name in trusted else LENGTH_SIGMA_IN for name in names}
    usual[BOTH_BOLTS] = TRUSTED_TURNS if BOTH_BOLTS in trusted else BOLT_SIGMA_TURNS
    prior_sigma = np.array(list(usual.values()))
    order = list(readings)
    value = np.array([readings[n][0] for n in order])
    sigma = np.array([readings[n][1] for n in order])
    where = np.zeros(len(prior_sigma))
    covariance = np.diag(prior_sigma**2)
    trials, rows = _trials(names), [COMPUTED.index(name) for name in order]
    for _ in range(STEPS):
        now = _measured(twin, names, where, order)
        slope = answers([twin.changed(_changes(names, where))], trials)[0, rows]
        before = where
        where, covariance = _map_step(slope, (value - now) / sigma, sigma, where, prior_sigma)
        if np.abs((where - before) / prior_sigma).max() < NEAR_ENOUGH:
            break
    errors = {
        name: (float(where[i]), float(np.sqrt(covariance[i, i]))) for i, name in enumerate(usual)
    }
    fitted = twin.changed(_changes(names, where))
    end = fitted.measures()
    return FittedTwin(fitted, errors, {name: readings[name][0] - end[name] for name in order})


def _trials(names: Sequence[str]) -> list[Trial]:
    """An inch of each part and a turn of both bolts, as the response takes them.

    Its slopes are those of both stops together: where the first stop changes over, draw length and
    holding weight have a kink, and one side's slope would blame the bolts for what both cables do.
    """
    parts = [Trial(Changes({name: TRIAL_IN}), 1 / TRIAL_IN) for name in names]
    return [*parts, Trial(Changes(bolts_out=(TRIAL_TURNS, TRIAL_TURNS)), 1 / TRIAL_TURNS)]


def _map_step(
    slope: Floats, wrong: Floats, sigma: Floats, where: Floats, prior_sigma: Floats
) -> tuple[Floats, Floats]:
    """One Gauss-Newton step towards the most probable unknowns, and their covariance."""
    left = slope / sigma[:, None]
    information = left.T @ left + np.diag(1 / prior_sigma**2)
    step = np.linalg.solve(information, left.T @ wrong - where / prior_sigma**2)
    return where + step, np.asarray(np.linalg.inv(information), dtype=np.float64)


def _changes(names: Sequence[str], where: Floats) -> Changes:
    shorter = {name: float(where[i]) for i, name in enumerate(names)}
    return Changes(shorter, (float(where[-1]), float(where[-1])))


def _measured(twin: Twin, names: Sequence[str], where: Floats, order: Sequence[str]) -> Floats:
    measures = twin.changed(_changes(names, where)).measures()
    return np.array([measures[name] for name in order])


@dataclass(frozen=True)
class CurveFit:
    """A twin whose parameters agree with a measured force-draw curve, and how well."""

    twin: Twin
    parameters: dict[str, tuple[float, float]]
    rms_before_lbf: float
    rms_after_lbf: float


_PARAMETERS: dict[
    str, tuple[float, float]
] = {  # prior sigma, trial step; of the log where positive
    "net_at_brace": (0.06, 0.01),
    "preload": (0.10, 0.02),
    "rotation": (0.03, 0.005),
    "let_out": (0.15, 0.02),
    "net_phase": (0.08, 0.01),
    "string_phase": (0.06, 0.01),
}


def fit_curve(
    spec: BowSpec,
    draw_in: Sequence[float],
    force_lbf: Sequence[float],
    on_round: Callable[[int], None] | None = None,
) -> CurveFit:
    """Fit the parameters of a bow to its measured force-draw curve, on the way up.

    Parameters
    ----------
    spec : BowSpec
        The book; peak, let-off and draw length are taken from the curve instead.
    draw_in : sequence of float, length >= 8
        Draw, from the throat to the string; increasing. [in]
    force_lbf : sequence of float
        Force at each position. [lbf]
    on_round : callable, optional
        Called with the number of each round before it begins; what it raises ends the fit.

    Returns
    -------
    CurveFit
        The twin, its parameters with uncertainty, and the misfit before and after.

    Raises
    ------
    BadInput
        Too few points, positions that do not increase, or forces that are not those of a draw.
    NoModel
        No bow of this family draws like that.
    """
    xs, force = _checked_curve(draw_in, force_lbf)
    book = replace(
        spec,
        draw_length_in=float(xs[-1]) + DRAW_LENGTH_OFFSET_IN,
        peak_weight_lbf=float(force.max()),
        let_off=float(1 - force[-1] / force.max()),
    )
    prior_sigma = np.array([sigma for sigma, _ in _PARAMETERS.values()])
    trial = np.diag([step for _, step in _PARAMETERS.values()])
    where, covariance, before = np.zeros(len(prior_sigma)), np.diag(prior_sigma**2), 0.0
    inside = xs > spec.brace_height_in + 0.05
    for step in range(STEPS):
        if on_round:
            on_round(step + 1)
        priors = [_prior_with(spec, row) for row in [where, *(where + trial)]]
        twins = twins_of(spec.family, [book] * len(priors), priors)
        draws = np.stack([t.at(xs[inside]).force for t in twins])
        if step == 0:
            before = _rms(draws[0] - force[inside])
        slope = (draws[1:] - draws[0]).T / trial.sum(axis=1)
        sigma = np.full(int(inside.sum()), CURVE_SIGMA_LBF)
        wrong = (force[inside] - draws[0]) / sigma
        where, covariance = _map_step(slope, wrong, sigma, where, prior_sigma)
    twin = twins_of(spec.family, [book], [_prior_with(spec, where)])[0]
    parameters = {
        name: (float(where[i]), float(np.sqrt(covariance[i, i])))
        for i, name in enumerate(_PARAMETERS)
    }
    after = _rms(twin.at(xs[inside]).force - force[inside])
    return CurveFit(twin, parameters, before, after)


def bows_like_curve(
    spec: BowSpec, fitted: CurveFit, count: int, seed: int = 11
) -> tuple[Twin, list[Twin]]:
    """The book's bow with the parameters that a curve has shown, and plausible ones beside it.

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
        With these parameters the book's numbers do not make a bow.
    """
    value, doubt = np.array(list(fitted.parameters.values())).T
    twin = twins_of(spec.family, [spec], [_prior_with(spec, value)])[0]
    rng = np.random.default_rng(seed)
    books, priors = [], []
    for _ in range(count):
        book, usual = plausible(spec, rng)
        inside = _prior_with(spec, value + doubt * rng.standard_normal(len(value)))
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


def _prior_with(spec: BowSpec, where: Floats) -> Prior:
    """The family's prior with its unknowns moved by so much."""
    prior = PRIORS[spec.family]
    moved = dict(zip(_PARAMETERS, where, strict=True))
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
