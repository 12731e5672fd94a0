"""Whether a measured force-draw curve says what the bow is, or what it was out of time."""

from bowcore.mechanics.specification import Family
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.workflow.facts import Facts

MOST_APART_IN = 1 / 8
"""With the stops of twin cams further apart the fitted timing was too steep by a third and more on simulated
bows, up to here by a tenth; on other families it does no harm (`bench/curve_fit.py`)."""


def out_of_time(facts: Facts, seq: int) -> str:
    """Why no model is fitted to a curve that was pulled at this moment, in sentences; "" where one may be.

    Parameters
    ----------
    facts : Facts
        With every reading of the gap.
    seq : int
        The curve's moment.
    """
    if facts.family is not Family.TWIN:
        return ""
    before = [t for t in facts.takes if t.quantity == "stop_gap" and t.seq < seq]
    gap_in = before[-1].value if before else None
    if gap_in is None or abs(gap_in) <= MOST_APART_IN:
        return ""
    return (
        f"The stops were {QUANTITIES['stop_gap'].say_size(gap_in)} apart when this curve was pulled: a model "
        "fitted to it would take two cams out of time for the bow's shape. Bring the timing home, then pull "
        "it again."
    )
