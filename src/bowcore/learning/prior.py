"""Where learning starts: the twin's answers, and how plausible bows differ from it."""

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from bowcore.adjusters.limb_bolt import LimbBolt
from bowcore.adjusters.registry import adjusters_of
from bowcore.adjusters.string_or_cable import TRIAL_IN, StringOrCable
from bowcore.bow.specification import CABLE_A, Family
from bowcore.bow.tracks import Floats
from bowcore.bow.twin import Changes, Twin
from bowcore.errors import NoModel
from bowcore.learning.belief import GAP, LENGTH_OFF_IN, PROCESS_SHARE, UNKNOWN, Belief
from bowcore.learning.first_stop_effect import AT_THE_FIRST_STOP
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.response.gap_curve import GapCurves, gap_curves
from bowcore.response.matrix import Response
from bowcore.response.sensitivity import twin_response

COMMON_SHARE, COMMON_BY_CALIPER = 0.15, 0.07
"""How far all answers of a bow may be off together: its half twists, its limbs, and its cams as long as no
caliper has measured them."""
PART_SHARE, PART_BY_CALIPER = 0.15, 0.10
"""How far what one part does may be off, alike for all numbers that it moves: its own twist rate, and what
it does on cams that no caliper has measured."""
BOLTS_OFF_STEPS = 4
"""How far limb bolts may be from where the book has them, in half turns."""
MOST_CURVES = 14
"""So many plausible bows are followed, each with its own way in which the gap bends."""
TRIAL_GAP_IN = 1 / 16
"""Gap at which it is looked how far the first stop's readings fall off."""
GAP_DOUBT, GAP_DOUBT_BY_CALIPER = 0.12, 0.05
"""Of the timing cable's length that a step makes: what is not alike in two steps."""
NERVOUS_SHARE = 0.20
"""Of a predicted change, on twin cams, whose response depends on where they are."""


def prior_of_twins(twin: Twin, others: Sequence[Twin]) -> Belief:
    """What is believed of a bow before it has shown anything.

    Parameters
    ----------
    twin : Twin
        The book's bow.
    others : sequence of Twin
        Plausible bows of the same book.

    Returns
    -------
    Belief
        Nothing read yet.
    """
    response, spread = twin_response(twin, adjusters_of(twin.spec), others)
    try:
        curves = gap_curves([twin, *others])
    except NoModel:
        curves = None
    process, measured = process_share_of(twin.family), twin.spec.cam_measured
    belief = prior_belief(response, spread, process, curves, twin.measures(), measured)
    return replace(belief, first_stop_effect=first_stop_effect_of(twin))


def first_stop_effect_of(twin: Twin) -> dict[str, float]:
    """How much shorter a bow draws and how much lighter it holds for each inch of gap.

    Both are read where the *first* stop touches, so they fall off to either side of stops that touch
    together, whichever is ahead. The response leaves that out: it is the mean of both stops.

    Parameters
    ----------
    twin : Twin
        The book's bow, whose stops touch together.

    Returns
    -------
    dict of str to float
        By quantity, its unit per inch of gap; empty for a single cam, which has one stop.
    """
    if twin.family is Family.SINGLE:
        return {}
    first = abs(twin.changed(Changes({CABLE_A: TRIAL_IN})).stop_gap_in - twin.stop_gap_in)
    inches = TRIAL_GAP_IN * TRIAL_IN / first
    changes = [Changes({CABLE_A: sign * inches}) for sign in (-1, 1)]
    even, apart = twin.measures(), [twin.changed(change).measures() for change in changes]
    gap = sum(abs(one["stop_gap"]) for one in apart) / 2
    return {
        name: (even[name] - (apart[0][name] + apart[1][name]) / 2) / gap
        for name in AT_THE_FIRST_STOP
    }


def prior_belief(
    response: Response,
    spread: Floats,
    process_share: float = PROCESS_SHARE,
    curves: GapCurves | None = None,
    values: Mapping[str, float] | None = None,
    cam_measured: bool = False,
) -> Belief:
    """Where learning starts: the twin's response and how plausible bows differ from it.

    Parameters
    ----------
    response : Response
        The twin's, with the least doubt of each entry.
    spread : array, shape (n, quantities, adjusters)
        Responses of plausible bows; may be empty.
    process_share : float
        Of what each part moves: what the response leaves out.
    curves : GapCurves, optional
        How the gap of plausible bows bends.
    values : mapping of str to float, optional
        The book's numbers; without them anything may be read first.
    cam_measured : bool
        Its cams are known by caliper: what a cable does to the timing is known better.

    Returns
    -------
    Belief
        Nothing read yet.
    """
    if curves is not None:
        curves = GapCurves(curves.shorter_in, curves.gap_in[:MOST_CURVES])
        doubt = GAP_DOUBT_BY_CALIPER if cam_measured else GAP_DOUBT
        response, spread = _as_lengths(response, spread, curves, doubt)
    count = len(response.quantities)
    flat = response.mean.reshape(-1)
    parts = sum(isinstance(a, StringOrCable) for a in response.adjusters)
    covariance = np.zeros((count + len(flat) + parts,) * 2)
    rows = slice(count, count + len(flat))
    shares = (COMMON_BY_CALIPER, PART_BY_CALIPER) if cam_measured else (COMMON_SHARE, PART_SHARE)
    covariance[rows, rows] = _response_covariance(response, spread, *shares)
    mean = np.concatenate([np.zeros(count), flat, np.zeros(parts)])
    bows = 1 if curves is None else len(curves.gap_in)
    means, start = np.tile(mean, (bows, 1)), np.full((bows, count), 0.0)
    if values is None:
        covariance[range(count), range(count)] = UNKNOWN**2
    else:
        start, covariance[:count, :count] = _values(response, values, curves, bows)
    means[:, :count] = start
    return Belief(
        response.quantities,
        response.adjusters,
        means,
        np.tile(covariance, (bows, 1, 1)),
        np.full(bows, 1 / bows),
        response.rests_on,
        process_share=process_share,
        curves=curves,
        timing=None if curves is None else response.mean[response.quantities.index(GAP)],
    )


def _as_lengths(
    response: Response, spread: Floats, curves: GapCurves, doubt: float
) -> tuple[Response, Floats]:
    """The gap's row in inches of timing cable: how it bends is left to the curves."""
    at = response.quantities.index(GAP)
    slope = _middle_slope(curves)
    mean, sigma, others = response.mean.copy(), response.sigma.copy(), spread.copy()
    mean[at] /= slope
    sigma[at] = np.abs(mean[at]) * np.array([max(doubt, a.doubt) for a in response.adjusters])
    if len(others):
        others[:, at] = mean[at]
    return replace(response, mean=mean, sigma=sigma), others


def _response_covariance(response: Response, spread: Floats, common: float, part: float) -> Floats:
    """Of each entry by itself, of all together, and of all that one part moves."""
    flat = response.mean.reshape(-1)
    own = np.diag(response.sigma.reshape(-1) ** 2)
    if len(spread) > 2:
        apart = spread.reshape(len(spread), -1) - flat
        joint = apart.T @ apart / len(spread)
        share = np.diag(own) - np.diag(joint)
        own = joint + np.diag(np.maximum(share, 0.05 * np.diag(joint)))
    own = own + common**2 * np.outer(flat, flat)
    for column in range(len(response.adjusters)):
        moved = np.zeros_like(response.mean)
        moved[:, column] = response.mean[:, column]
        own += part**2 * np.outer(moved.reshape(-1), moved.reshape(-1))
    return np.asarray(own)


def _values(
    response: Response, values: Mapping[str, float], curves: GapCurves | None, bows: int
) -> tuple[Floats, Floats]:
    """What a customer's bow may read: the book, and what wrong lengths and turned bolts do to it."""
    start = np.tile([values.get(name, 0.0) for name in response.quantities], (bows, 1))
    own = np.array([QUANTITIES[name].off_book for name in response.quantities])
    if curves is not None:
        start[:, response.quantities.index(GAP)] = curves.lengths(0.0)
    covariance = np.diag(own**2)
    for column, adjuster in enumerate(response.adjusters):
        off = BOLTS_OFF_STEPS if isinstance(adjuster, LimbBolt) else 0.0
        if isinstance(adjuster, StringOrCable) and adjuster.length_step_in:
            off = LENGTH_OFF_IN / adjuster.length_step_in
        along = response.mean[:, column] * off
        covariance += np.outer(along, along)
    return start, covariance


def _middle_slope(curves: GapCurves) -> float:
    """Of the book's own bow, the first row."""
    middle = int(np.abs(curves.shorter_in).argmin())
    x, y = curves.shorter_in, curves.gap_in[0]
    return float((y[middle + 1] - y[middle - 1]) / (x[middle + 1] - x[middle - 1]))


def process_share_of(family: Family) -> float:
    """How much of a predicted change a family's linear response may leave out."""
    return NERVOUS_SHARE if family is Family.TWIN else PROCESS_SHARE
