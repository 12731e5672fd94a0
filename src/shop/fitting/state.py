"""The fit of a job, computed from its facts."""

from bowcore.fitting.on_the_bow import LOOP
from bowcore.workflow.fit_advice import FitAdvice, fit_advice
from bowcore.workflow.fit_bow import FitBow
from shop.fitting.selectors import loops_tied
from shop.jobs.state import JobState


def fit_bow_of(state: JobState) -> FitBow:
    """A job's bow as it is fitted, with what loops of its cord have shown."""
    return state.fit_bow(loops_tied(str(state.on_bow.of(LOOP).get("cord", ""))))


def fit_now(state: JobState) -> FitAdvice:
    """What to do about it now."""
    return fit_advice(fit_bow_of(state))
