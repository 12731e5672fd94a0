"""Response of a binary-cam bow in closed form: no twin needed, right in sign and roughly in size.

The gap follows from the cams' geometry: both stops close up along their pegs, and a change of one
cable turns the cams against each other by d / (take-up + let-out radius). The other rows are the
figures of a quasi-static planar model of one plausible bow, scaled by peak weight; their relative
uncertainties were measured by varying that model's unknown parameters. Nothing here has been compared
with a real bow: the readings after each change are.
"""

import numpy as np

from bowcore.adjusters.adjuster import Adjuster
from bowcore.adjusters.string_or_cable import StringOrCable
from bowcore.bow.specification import CABLE_A, CABLE_B, STRING, BowSpec, Family
from bowcore.errors import NoModel
from bowcore.response.matrix import Response

CLOSED_FORM_QUANTITIES = (
    "axle_to_axle", "brace_height", "draw_length", "peak_weight", "holding_weight", "stop_gap",
)  # fmt: skip

# change per inch of shortening; weights per lbf of peak weight; second: relative uncertainty
_CABLE = {
    "axle_to_axle": (-0.229, 0.15),
    "brace_height": (+0.096, 0.43),
    "draw_length": (+0.287, 0.15),
    "peak_weight": (+0.162, 0.30),
    "holding_weight": (+0.0138, 0.30),
}
_STRING = {
    "axle_to_axle": (-0.53, 0.15),
    "brace_height": (+0.067, 0.43),
    "draw_length": (-0.65, 0.15),
    "peak_weight": (-0.096, 0.60),
    "holding_weight": (-0.006, 0.60),
}
_GAP_UNCERTAINTY = 0.20
_GAP_SIGN = {CABLE_A: +1, CABLE_B: -1, STRING: 0}
_WEIGHTS = ("peak_weight", "holding_weight")


def closed_form_response(spec: BowSpec, twisted: dict[str, int] | None = None) -> Response:
    """Closed-form response of a bow, per half twist of each string and cable.

    Parameters
    ----------
    spec : BowSpec
        A binary-cam bow with its parts.
    twisted : dict of str to int, optional
        Half twists already put into each role: more twist makes the next half twist stronger.

    Returns
    -------
    Response
        Six quantities by the bow's parts, one step being a half twist in.

    Raises
    ------
    NoModel
        Not a binary-cam bow, or the book lists no parts.
    """
    if spec.family is not Family.BINARY:
        raise NoModel(f"{spec.name} is a {spec.family} bow; only binary cams are computed so far.")
    if not spec.parts:
        raise NoModel(f"The book lists no string and cables for {spec.name}.")
    adjusters = tuple(StringOrCable.all_on(spec, twisted or {}))
    cells = [_column(spec, adjuster) for adjuster in adjusters]
    mean = np.array([[cell[q][0] for cell in cells] for q in CLOSED_FORM_QUANTITIES])
    sigma = np.array([[cell[q][1] for cell in cells] for q in CLOSED_FORM_QUANTITIES])
    return Response(CLOSED_FORM_QUANTITIES, adjusters, mean, sigma, "the book and closed formulas")


def gap_per_inch(spec: BowSpec) -> float:
    """Change of the stop gap per inch that one cable of a binary bow becomes shorter. [in/in]

    The cams turn against each other by 1 / (take-up + let-out radius) per inch; the peg, at its
    own radius, moves with them.
    """
    return spec.peg_radius_in / (spec.take_up_radius_in + spec.let_out_radius_in)


def _column(spec: BowSpec, adjuster: Adjuster) -> dict[str, tuple[float, float]]:
    table = _STRING if adjuster.part == STRING else _CABLE
    column = {}
    for name, (per_inch, share) in table.items():
        scale = spec.peak_weight_lbf if name in _WEIGHTS else 1.0
        mean = per_inch * scale * adjuster.length_step_in
        column[name] = (mean, abs(mean) * share)
    gap = _GAP_SIGN[adjuster.part] * gap_per_inch(spec) * adjuster.length_step_in
    column["stop_gap"] = (gap, abs(gap) * _GAP_UNCERTAINTY)
    return column
