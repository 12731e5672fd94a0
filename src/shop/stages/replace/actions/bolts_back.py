"""The limb bolts that were backed off for the press are in again."""

from bowcore.errors import Refused
from shop.casework.checks import require_press_closed
from shop.casework.job_act import job_act
from shop.casework.job_facts import BOLTS_BACK
from shop.casework.submissions import EventDraft
from shop.schema.measurements.models import MarkEntry
from shop.schema.press.models import PressCycle


@job_act("bolts_back", right="change")
def bolts_back(event: EventDraft) -> MarkEntry:
    """Record that both bolts are where they were before the press.

    Raises
    ------
    Refused
        The press is open, or they were not backed off.
    """
    state = event.state
    require_press_closed(state, "turn the bolts back in")
    if not state.facts.bolts_backed_off:
        raise Refused("The limb bolts are in already.")
    top, bottom = (f"{turns:g}" for turns in state.facts.bolts_backed_off)
    last = PressCycle.objects.filter(job=event.job).order_by("-seq")[0]
    event.summary = f"limb bolts back in: top {top}, bottom {bottom}"
    return MarkEntry.objects.create(**event.fact, mark=BOLTS_BACK, value=str(last.pk))
