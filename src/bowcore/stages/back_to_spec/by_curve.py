"""Whether a measured force-draw curve says what the bow is, or what it was out of time."""

from bowcore.bow.specification import CABLES, Family
from bowcore.evidence.facts import Facts
from bowcore.quantities.catalogue import QUANTITIES

MOST_APART_IN = 1 / 8
"""With the stops of twin cams further apart the fitted timing was too steep by a third and more on simulated
bows, up to here by a tenth; on other families it does no harm (`bench/curve_fit.py`)."""


PULL_IT_FIRST = (
    "Pull its draw curve before the old cables come off, while both stops still touch together, and fit the "
    "model to it: what half a twist does to the timing of these cams is known better then."
)


def curve_first(facts: Facts, pulled: bool) -> str:
    """Why a curve is pulled before the parts come off, in words; "" where it would say little.

    Parameters
    ----------
    facts : Facts
        Of a job before its press.
    pulled : bool
        A curve was pulled on this job.
    """
    cables = set(CABLES) & set(facts.still_to_replace)
    read = facts.current("stop_gap")
    if pulled or facts.family is not Family.TWIN or not cables or not facts.may_be_drawn:
        return ""
    gap_in = read.summary.value if read and read.fresh and read.summary else None
    return PULL_IT_FIRST if gap_in is not None and abs(gap_in) <= MOST_APART_IN else ""


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
        f"The stops were {QUANTITIES['stop_gap'].say_size(gap_in)} apart when this curve was pulled: the "
        "fit would mistake the timing for the shape of the cams. Correct the timing, then pull the curve "
        "again."
    )
