"""A bow along its draw: what is drawn at each position, the curve beside it, where the nock goes."""

from typing import Any

import numpy as np

from bowcore.bow.fit import DRAW_LENGTH_OFFSET_IN
from bowcore.bow.outline import outline
from bowcore.bow.specification import Family
from bowcore.bow.twin import Twin

FRAMES = 25
SMOOTH_POINTS = 120


def frames(twin: Twin, count: int = FRAMES) -> dict[str, Any]:
    """Everything that is shown of a bow from brace to its first stop.

    Parameters
    ----------
    twin : Twin
        The bow.
    count : int
        Positions along the draw, evenly spread, the first at brace and the last at the stop.

    Returns
    -------
    dict
        `draw_in` (the draw length that a position would be) [in], `force_lbf`, `curve` (draw length and
        force, closer together), `outlines` as
        `outline` gives them, `gap_in` left open at the top and bottom stop in each position (empty
        for a single cam) [in], and the numbers of the whole draw: `peak_lbf`, `holding_lbf`,
        `let_off`, `valley_in`, `energy_ftlb`, `nock_travel_in`, `draw_length_in`, `stable`.
    """
    xs = np.linspace(twin.brace_height_in, float(twin.full_draw.nock_x[0]), count)
    states = twin.at(xs)
    gaps = [] if twin.family is Family.SINGLE else np.maximum(twin.gaps(states), 0.0).tolist()
    along, force = twin.curve(SMOOTH_POINTS)
    return {
        "draw_in": (xs + DRAW_LENGTH_OFFSET_IN).tolist(),
        "force_lbf": states.force.tolist(),
        "curve": [(along + DRAW_LENGTH_OFFSET_IN).tolist(), force.tolist()],
        "outlines": [outline(twin, states.pick(np.array([i]))) for i in range(count)],
        "gap_in": gaps,
        "peak_lbf": float(force.max()),
        "holding_lbf": float(force[-1]),
        "let_off": float(1 - force[-1] / force.max()),
        "valley_in": twin.valley_in(),
        "energy_ftlb": twin.stored_energy_inlbf() / 12,
        "nock_travel_in": twin.nock_travel_in(),
        "draw_length_in": twin.draw_length_in,
        "stable": bool(twin.stable),
    }
