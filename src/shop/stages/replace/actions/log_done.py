"""What was turned before it was logged: written down at once, without the press being opened for it."""

from bowcore.adjusters.steps import Steps
from shop.casework.checks import require_press_closed
from shop.casework.job_act import job_act
from shop.casework.submissions import EventDraft
from shop.casework.turning import say_done
from shop.schema.press.models import Adjustment
from shop.stages.replace.ledger import log_steps, require_possible


@job_act("change", right="log_done")
def log_done(event: EventDraft, steps: Steps, note: str) -> list[Adjustment]:
    """Log steps that were made already; whoever logs them stands for press and gate.

    Raises
    ------
    Refused
        The press is open here, nothing is turned, or an adjuster cannot have gone there.
    """
    state = event.state
    require_press_closed(state, "log what was done")
    require_possible(state, steps)
    why = f" ({note.strip()})" if note.strip() else ""
    event.summary = f"logged what was done before: {say_done(state, steps)}{why}"[:300]
    return log_steps(event, state, None, steps)
