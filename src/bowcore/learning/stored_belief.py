"""A belief as plain numbers, to be kept in a cache and read back."""

from typing import Any

import numpy as np

from bowcore.adjusters.registry import adjuster_from_json, adjuster_to_json
from bowcore.errors import BadInput
from bowcore.learning.belief import Belief
from bowcore.response.gap_curve import GapCurves


def belief_to_json(belief: Belief) -> dict[str, Any]:
    """A prior as plain numbers; its covariance is still the same for every plausible bow."""
    return {
        "quantities": list(belief.quantities),
        "adjusters": [adjuster_to_json(adjuster) for adjuster in belief.adjusters],
        "mean": belief.mean.tolist(),
        "covariance": belief.covariance[0].tolist(),
        "weights": belief.weights.tolist(),
        "timing": None if belief.timing is None else belief.timing.tolist(),
        "rests_on": belief.rests_on,
        "process_share": belief.process_share,
        "first_stop_effect": dict(belief.first_stop_effect),
        "gap_curves": belief.curves
        and {
            "shorter_in": belief.curves.shorter_in.tolist(),
            "gap_in": belief.curves.gap_in.tolist(),
        },
    }


def belief_from_json(data: dict[str, Any]) -> Belief:
    """The prior that `belief_to_json` wrote.

    Raises
    ------
    BadInput
        The data are not a belief.
    """
    try:
        kept = data["gap_curves"]
        curves = kept and GapCurves(np.array(kept["shorter_in"]), np.array(kept["gap_in"]))
        return Belief(
            tuple(data["quantities"]),
            tuple(adjuster_from_json(row) for row in data["adjusters"]),
            np.array(data["mean"]),
            np.tile(np.array(data["covariance"]), (len(data["weights"]), 1, 1)),
            np.array(data["weights"]),
            data["rests_on"],
            process_share=data["process_share"],
            curves=curves,
            first_stop_effect=data["first_stop_effect"],
            timing=None if data["timing"] is None else np.array(data["timing"]),
        )
    except (KeyError, TypeError, ValueError) as error:
        raise BadInput(f"What was stored is not a belief: {error}.", "belief") from None
