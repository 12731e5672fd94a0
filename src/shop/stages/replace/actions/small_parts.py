"""The small-parts tray: what is out of this bow, so that the gate can ask for it."""

from bowcore.errors import BadInput, Refused
from shop.casework.job_act import job_act
from shop.casework.submissions import EventDraft
from shop.schema.press.models import SmallPart

MOST_IN_TRAY = 20


@job_act("tray", right="change")
def put_in_tray(event: EventDraft, name: str) -> SmallPart:
    """Write down a small part that came off; the gate asks for it by name.

    Raises
    ------
    Refused
        The press is not open, or the tray is full.
    BadInput
        No name.
    """
    state = event.state
    if state.press is None:
        raise Refused("Open the press first: the tray belongs to a press cycle.")
    if len(state.tray) >= MOST_IN_TRAY:
        raise Refused(f"The tray holds {MOST_IN_TRAY} small parts.")
    words = name.strip()[:60]
    if not words:
        raise BadInput("What is out of the bow?", "name")
    event.summary = f"put in the tray: {words}"
    return SmallPart.objects.create(**event.fact, press=state.press, name=words)
