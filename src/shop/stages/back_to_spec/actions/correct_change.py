"""A change that the bow seems to have had another way: corrected in the ledger, or confirmed."""

from bowcore.adjusters.steps import Steps
from bowcore.errors import Refused
from shop.casework.checks import require_press_closed
from shop.casework.job_act import job_act
from shop.casework.submissions import EventDraft
from shop.schema.press.models import Adjustment


@job_act("change", right="change")
def correct_change(event: EventDraft, as_written: bool) -> list[Adjustment]:
    """Correct the last change to what the bow shows, or keep it as it was written down.

    Parameters
    ----------
    as_written : bool
        It was looked at, and the entry is right.

    Raises
    ------
    Refused
        The press is open, or the readings do not speak for another change.
    """
    state = event.state
    require_press_closed(state, "correct the last change")
    doubted = state.advice.doubted
    if doubted is None:
        raise Refused("The readings agree with the last change as it is written down.")
    last = [row for row in state.adjustments if row.steps and row.adjuster][-1]
    first_key = next(iter(doubted.logged))
    wrong = Steps() if as_written else doubted.moved_as + -doubted.logged
    event.summary = state.advice.say_correction(as_written)
    return [
        Adjustment.objects.create(
            **event.fact,
            change=adjuster.change.value,
            adjuster=adjuster.key,
            role=adjuster.part,
            steps=count,
            corrects=last,
            note="found as written"
            if as_written
            else f"corrected by {adjuster.say(count)}: counted wrongly",
        )
        for key, count in (wrong or {first_key: 0}).items()
        if (adjuster := state.adjuster(key))
    ]
