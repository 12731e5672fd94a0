"""Writes down holds with bars and weights."""

from bowcore.stages.stabiliser.bars import FloatSet, say_bars
from shop.casework.checks import (
    require_bolts_back,
    require_not_held,
    require_press_closed,
)
from shop.casework.job_act import job_act
from shop.casework.submissions import EventDraft
from shop.schema.stabiliser.models import FloatHeld


@job_act("read", right="read")
def write_down_float(event: EventDraft, held: FloatSet) -> FloatHeld:
    """Append one hold.

    Raises
    ------
    Refused
        The press is open, a hold of the job forbids the draw, or the job is closed.
    """
    state = event.state
    require_press_closed(state, "draw it")
    require_bolts_back(state)
    require_not_held(state, "draw")
    bars = held.bars
    event.summary = f"held with {say_bars(bars)}: rated {held.rating}"[:300]
    return FloatHeld.objects.create(
        **event.fact, front_in=bars.front_in, front_oz=bars.front_oz, back_in=bars.back_in,
        back_oz=bars.back_oz, back_deg=bars.back_deg, pin=held.pin.value, rating=held.rating,
    )  # fmt: skip
