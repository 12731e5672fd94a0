"""Writes down holds with bars and weights."""

from bowcore.stages.stabiliser.bars import FloatSet, say_bars
from shop.casework.checks import (
    require_act,
    require_bolts_back,
    require_not_held,
    require_press_closed,
)
from shop.casework.state import job_state
from shop.casework.submissions import Submission, on_job
from shop.schema.stabiliser.models import FloatHeld


def write_down_float(job_id: int, held: FloatSet, submission: Submission) -> FloatHeld:
    """Append one hold.

    Raises
    ------
    Refused
        The press is open, a hold of the job forbids the draw, or the job is closed.
    """
    with on_job(job_id, "read", submission) as event:
        state = job_state(event.job)
        require_act(submission.by, "read", state)
        require_press_closed(state, "draw it")
        require_bolts_back(state)
        require_not_held(state, "draw")
        bars = held.bars
        event.summary = f"held with {say_bars(bars)}: rated {held.rating}"[:300]
        return FloatHeld.objects.create(
            **event.fact, front_in=bars.front_in, front_oz=bars.front_oz, back_in=bars.back_in,
            back_oz=bars.back_oz, back_deg=bars.back_deg, pin=held.pin.value, rating=held.rating,
        )  # fmt: skip
