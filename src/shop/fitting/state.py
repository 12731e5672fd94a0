"""The fit of a job, computed from its facts."""

from dataclasses import dataclass

from bowcore.fitting.on_the_bow import LOOP
from bowcore.workflow.fit_advice import FitAdvice, fit_advice
from bowcore.workflow.fit_bow import FitBow
from shop.fitting.selectors import loops_tied
from shop.jobs.state import JobState


@dataclass(frozen=True)
class FitNow:
    """A job's bow as it is fitted, and what to do about it now."""

    bow: FitBow
    advice: FitAdvice


def fit_now(state: JobState) -> FitNow:
    """The fit of a job."""
    cord = str(state.on_bow.of(LOOP).get("cord", ""))
    bow = state.fit_bow(loops_tied(cord))
    return FitNow(bow, fit_advice(bow))
