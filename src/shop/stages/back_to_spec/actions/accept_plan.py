"""Open the press for what the plan proposes."""

from bowcore import __version__ as core_version
from bowcore.adjusters.steps import Steps
from bowcore.errors import Refused
from bowcore.io.stored_advice import answer_record, problem_record
from shop.casework.state import job_state
from shop.casework.submissions import Submission, on_job
from shop.schema.plans.models import GivenAdvice
from shop.schema.press.models import PressCycle
from shop.stages.replace.actions.cycle import open_press_for, require_pressable


def accept_plan(job_id: int, steps: Steps, submission: Submission) -> PressCycle:
    """Open the press for one of the options that the plan offers now.

    Parameters
    ----------
    job_id : int
        The job.
    steps : Steps
        Those of the option that was on the screen.
    submission : Submission
        Who, key, version seen.

    Raises
    ------
    Refused
        The plan no longer offers these steps, or they need no press.
    """
    with on_job(job_id, "open_press", submission) as event:
        state = job_state(event.job)
        require_pressable(state, submission)
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
        press = open_press_for(event, state, PressCycle.ADJUST, option.steps, words)
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
