"""New threads become longer over their first draws: by how much, and how much is still to come."""

from math import exp

DRAWS_TO_SETTLE = 40
"""New threads have done most of their settling by then (common practice, no published source)."""
GROWTH_IN, GROWTH_SIGMA_IN = 0.02, 0.007
"""How much longer a new part becomes: 0.01 to 0.03 in have been seen (common practice). [in]"""


def share_left(draws: float) -> float:
    """Share of its growth that a new part still has before it after so many draws."""
    return exp(-3 * draws / DRAWS_TO_SETTLE)
