"""Where the limb bolts are, counted when they are about to be turned."""

from collections.abc import Mapping

from bowcore.adjusters.limb_bolt import BOLT_MARKS
from bowcore.errors import BadInput
from bowcore.work_order.needs import checked_mark
from shop.casework.checks import require_press_closed
from shop.casework.job_act import job_act
from shop.casework.submissions import EventDraft
from shop.schema.measurements.models import MarkEntry


@job_act("note", right="read")
def count_bolts(event: EventDraft, counts: Mapping[str, str]) -> None:
    """Write down both counts.

    Parameters
    ----------
    counts : mapping of str to str
        By mark, as typed; turns out from bottomed.

    Raises
    ------
    BadInput
        One is missing, not a number of turns, or past the maker's limit.
    Refused
        The press is open, or the job is closed.
    """
    state = event.state
    require_press_closed(state, "count the bolts")
    if set(counts) != set(BOLT_MARKS["both"]):
        raise BadInput("Count both limb bolts.", "bolts")
    kept = {key: checked_mark(key, text, state.most_turns) for key, text in counts.items()}
    for key, value in kept.items():
        MarkEntry.objects.create(**event.fact, mark=key, value=value)
    top, bottom = (kept[key] for key in BOLT_MARKS["both"])
    event.summary = f"counted the limb bolts: top {top}, bottom {bottom} turns out"
