"""Writes down what is on a bow, and logs the acts of the fit."""

from collections.abc import Mapping

from bowcore.accessories.on_the_bow import ARROW, thing
from bowcore.errors import Refused
from bowcore.stages.fit.fit_advice import fit_acts
from bowcore.stages.fit.fit_bow import FitAct
from shop.casework.checks import (
    require_act,
    require_bolts_back,
    require_not_held,
    require_press_closed,
)
from shop.casework.state import job_state
from shop.casework.submissions import Submission, on_job
from shop.casework.turning import needs_press
from shop.schema.fitting.models import ThingOnBow
from shop.schema.fitting.selectors import arrows_of
from shop.schema.jobs.models import Job
from shop.schema.press.models import Adjustment, PressCycle
from shop.stages.fit.state import fit_bow_of
from shop.stages.replace.actions.cycle import (
    open_press_for,
    require_pressable,
    turn_without_press,
)

MOST_SAID = 200


def write_down_thing(
    job_id: int, key: str, typed: Mapping[str, str], submission: Submission
) -> ThingOnBow:
    """Append what is on the bow, as it was typed.

    Raises
    ------
    BadInput
        A detail is missing or cannot be used.
    Refused
        The job is closed.
    """
    with on_job(job_id, "note", submission) as event:
        require_act(submission.by, "read", job_state(event.job))
        what = thing(key)
        details = what.read(typed)
        if not details:
            raise Refused("Nothing was written.")
        event.summary = f"on the bow: {what.name.lower()}, {what.say(details)}"[:300]
        return ThingOnBow.objects.create(**event.fact, thing=key, details=details)


def name_arrow(job_id: int, row_id: int, submission: Submission) -> ThingOnBow:
    """Set the bow up for one of the customer's arrows.

    Raises
    ------
    Refused
        It belongs to somebody else, or the job is closed.
    """
    with on_job(job_id, "note", submission) as event:
        require_act(submission.by, "read", job_state(event.job))
        row = next((one for one in arrows_of(event.job) if one.pk == row_id), None)
        if row is None:
            raise Refused("This customer does not have that arrow. Write it down first.")
        event.summary = f"set up for the arrow {row.details['name']}"
        return ThingOnBow.objects.create(**event.fact, thing=ARROW, details=row.details)


def do_fit_act(job_id: int, sets: str, submission: Submission) -> PressCycle | Adjustment | None:
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
    act = _offered(job_id, sets)
    state = job_state(Job.objects.get(pk=job_id))
    if act.steps and not needs_press(state, act.steps):
        turn_without_press(job_id, act.steps, submission)
        return None
    if act.steps:
        with on_job(job_id, "open_press", submission) as event:
            state = job_state(event.job)
            require_pressable(state, submission)
            return open_press_for(event, state, PressCycle.ADJUST, act.steps, act.do)
    return _log_by_hand(job_id, act, submission)


def _log_by_hand(job_id: int, act: FitAct, submission: Submission) -> Adjustment:
    with on_job(job_id, "change", submission) as event:
        state = job_state(event.job)
        require_act(submission.by, "change", state)
        require_press_closed(state, "fit anything")
        require_bolts_back(state)
        require_not_held(state, "press")
        assert act.change is not None
        event.summary = f"fitted: {act.do}"[:300]
        note = act.do[:MOST_SAID]
        return Adjustment.objects.create(**event.fact, change=act.change.value, note=note)


def _offered(job_id: int, sets: str) -> FitAct:
    acts = fit_acts(fit_bow_of(job_state(Job.objects.get(pk=job_id))))
    act = next((one for one in acts if one.sets[0] == sets), None)
    if act is None or not (act.steps or act.change):
        raise Refused("That is not asked for any more. Look again, then decide.")
    return act
