"""Where learning starts: the twin's answers, and how plausible bows differ from it."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from bowcore.adjusters.registry import adjusters_of
from bowcore.adjusters.string_or_cable import TRIAL_IN
from bowcore.errors import NoModel
from bowcore.learning.belief import PROCESS_SHARE, UNKNOWN, Belief
from bowcore.mechanics.specification import CABLE_A, Family
from bowcore.mechanics.tracks import Floats
from bowcore.mechanics.twin import Changes, Twin
from bowcore.response.gap_curve import GapCurves, gap_curves
from bowcore.response.matrix import Response
from bowcore.response.sensitivity import twin_response

COMMON_SHARE = 0.15
"""How far all answers of a bow may be off together: its half twists, its limbs."""
TRIAL_GAP_IN = 1 / 16
"""Gap at which it is looked how far the first stop's readings fall off."""
NERVOUS_SHARE = 0.25
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
    belief = prior_belief(response, spread, process_share_of(twin.family), curves)
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
        for name in ("draw_length", "holding_weight")
    }


def prior_belief(
    response: Response,
    spread: Floats,
    process_share: float = PROCESS_SHARE,
    curves: GapCurves | None = None,
) -> Belief:
    """Where learning starts: the twin's response and how plausible bows differ from it.

    Parameters
    ----------
    response : Response
        The twin's, with the least doubt of each entry.
    spread : array, shape (n, quantities, adjusters)
        Responses of plausible bows; may be empty.
    process_share : float
        How much of a predicted change the linear response may leave out.
    curves : GapCurves, optional
        How the gap of plausible bows bends.

    Returns
    -------
    Belief
        Nothing read yet.
    """
    count = len(response.quantities)
    flat = response.mean.reshape(-1)
    covariance = np.zeros((count + len(flat), count + len(flat)))
    covariance[range(count), range(count)] = UNKNOWN**2
    own = np.diag(response.sigma.reshape(-1) ** 2)
    if len(spread) > 2:
        apart = spread.reshape(len(spread), -1) - flat
        joint = apart.T @ apart / len(spread)
        share = np.diag(own) - np.diag(joint)
        own = joint + np.diag(np.maximum(share, 0.05 * np.diag(joint)))
    covariance[count:, count:] = own + COMMON_SHARE**2 * np.outer(flat, flat)
    mean = np.concatenate([np.zeros(count), flat])
    return Belief(
        response.quantities,
        response.adjusters,
        mean,
        covariance,
        response.rests_on,
        process_share=process_share,
        curves=curves,
    )


def process_share_of(family: Family) -> float:
    """How much of a predicted change a family's linear response may leave out."""
    return NERVOUS_SHARE if family is Family.TWIN else PROCESS_SHARE
