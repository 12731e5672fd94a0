"""Numbers are left outside their bands on purpose: the customer likes it, or nothing better can be had."""

from collections.abc import Sequence

from bowcore.errors import Refused
from bowcore.quantities.catalogue import quantity
from shop.casework.actions.signature import sign
from shop.casework.job_act import job_act
from shop.casework.state import JobState
from shop.casework.submissions import EventDraft
from shop.schema.measurements.models import LeftOnPurpose


@job_act("leave_it", right="leave_it")
def leave_it(event: EventDraft, keys: Sequence[str], reason: str) -> list[LeftOnPurpose]:
    """Leave numbers as they are, with the reason; no reason takes that back.

    Raises
    ------
    BadInput
        There is no such quantity.
    Refused
        One has no band or was not read, nothing was left that could be taken back, or the person may not.
    """
    names = [quantity(key).name.lower() for key in keys]
    words = reason.strip()[:200]
    for key in keys:
        _require_known(event.state, key, words)
    sign(event)
    said = ", ".join(names)
    event.summary = (
        f"left {said} on purpose: {words}"[:300]
        if words
        else f"{said} is to be brought inside after all"
    )
    return [LeftOnPurpose.objects.create(**event.fact, quantity=key, reason=words) for key in keys]


def _require_known(state: JobState, key: str, words: str) -> None:
    what, now = state.facts.named(key), state.facts.current(key)
    if words and (key not in state.bands or now is None or now.summary is None):
        raise Refused(f"{what.name} has to be read before it can be left as it is.")
    if not words and key not in state.left:
        raise Refused("Write down why it stays as it is.")
