"""Writes down what is on a bow, and logs the acts of the fit."""

from collections.abc import Mapping

from bowcore.accessories.on_the_bow import ARROW, thing
from bowcore.adjusters.steps import NO_STEPS
from bowcore.errors import Refused
from bowcore.stages.fit.fit_advice import fit_acts
from bowcore.stages.fit.fit_bow import FitAct
from shop.casework.checks import (
    require_bolts_back,
    require_not_held,
    require_press_closed,
)
from shop.casework.job_act import job_act
from shop.casework.state import job_state
from shop.casework.submissions import EventDraft, Submission
from shop.schema.fitting.models import ThingOnBow
from shop.schema.fitting.selectors import arrows_of
from shop.schema.jobs.models import Job
from shop.schema.press.models import Adjustment, PressCycle
from shop.stages.fit.state import fit_bow_of
from shop.stages.replace.actions.cycle import do_as_advised

MOST_SAID = 200


@job_act("note", right="read")
def write_down_thing(event: EventDraft, key: str, typed: Mapping[str, str]) -> ThingOnBow:
    """Append what is on the bow, as it was typed.

    Raises
    ------
    BadInput
        A detail is missing or cannot be used.
    Refused
        The job is closed.
    """
    what = thing(key)
    details = what.read(typed)
    if not details:
        raise Refused("Nothing was written.")
    event.summary = f"on the bow: {what.name.lower()}, {what.say(details)}"[:300]
    return ThingOnBow.objects.create(**event.fact, thing=key, details=details)


@job_act("note", right="read")
def name_arrow(event: EventDraft, row_id: int) -> ThingOnBow:
    """Set the bow up for one of the customer's arrows.

    Raises
    ------
    Refused
        It belongs to somebody else, or the job is closed.
    """
    row = next((one for one in arrows_of(event.job) if one.pk == row_id), None)
    if row is None:
        raise Refused("This customer does not have that arrow. Write it down first.")
    event.summary = f"set up for the arrow {row.details['name']}"
    return ThingOnBow.objects.create(**event.fact, thing=ARROW, details=row.details)


def do_fit_act(
    job_id: int, submission: Submission, sets: str
) -> PressCycle | Adjustment | list[Adjustment]:
    """Log an act of the fit, or open the press for it.

    Parameters
    ----------
    sets : str
        The first quantity that it sets.

    Raises
    ------
    Refused
        The advice is another one by now, the press is open, or a hold forbids it.
    """
    state = job_state(Job.objects.get(pk=job_id))
    act = next((one for one in fit_acts(fit_bow_of(state)) if one.sets[0] == sets), None)
    if act is None:
        return do_as_advised(state, submission, NO_STEPS, "")
    if act.change and not act.steps:
        return _log_by_hand(job_id, submission, act)
    return do_as_advised(state, submission, act.steps, act.do)


@job_act("change", right="change")
def _log_by_hand(event: EventDraft, act: FitAct) -> Adjustment:
    state = event.state
    require_press_closed(state, "fit anything")
    require_bolts_back(state)
    require_not_held(state, "press")
    assert act.change is not None
    event.summary = f"fitted: {act.do}"[:300]
    note = act.do[:MOST_SAID]
    return Adjustment.objects.create(**event.fact, change=act.change.value, note=note)
