"""Open the press for what the plan proposes."""

from bowcore import __version__ as core_version
from bowcore.adjusters.steps import Steps
from bowcore.errors import Refused
from bowcore.io.stored_advice import answer_record, problem_record
from shop.casework.job_act import job_act
from shop.casework.submissions import EventDraft
from shop.schema.plans.models import GivenAdvice
from shop.schema.press.models import PressCycle
from shop.stages.replace.actions.cycle import open_press_for, require_pressable


@job_act("open_press", right="open_press")
def accept_plan(event: EventDraft, steps: Steps) -> PressCycle:
    """Open the press for one of the options that the plan offers now.

    Parameters
    ----------
    steps : Steps
        Those of the option that was on the screen.

    Raises
    ------
    Refused
        The plan no longer offers these steps, or they need no press.
    """
    state = event.state
    require_pressable(state)
    advice = state.advice
    offered = (advice.plan.best, *advice.plan.alternatives)
    option = next((one for one in offered if one.steps == steps), None)
    if option is None:
        raise Refused("The plan has changed since you looked at it. Look again, then decide.")
    if not option.steps:
        raise Refused("That option leaves everything as it is.")
    if not option.presses:
        raise Refused("That is turned without the press.")
    words = advice.sentence_of(option)
    press = open_press_for(event, PressCycle.ADJUST, option.steps, words)
    answer = answer_record(advice.problem, advice.plan)
    GivenAdvice.objects.create(
        **event.fact,
        press=press,
        taken=words,
        core_version=core_version,
        inputs=problem_record(advice.problem),
        answer=answer.model_dump(mode="json"),
    )
    return press
