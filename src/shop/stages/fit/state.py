"""The fit of a job, computed from its facts."""

from bowcore.accessories.on_the_bow import LOOP
from bowcore.quantities.catalogue import quantity
from bowcore.stages.fit.fit_advice import FitAdvice, fit_advice
from bowcore.stages.fit.fit_bow import FitBow, PeepElsewhere
from bowcore.work_order.needs import NEW_SETUP
from shop.casework.engine.priors import twin_at_hand
from shop.casework.state import JobState, job_state
from shop.schema.fitting.selectors import loops_tied, peep_of_another_bow


def fit_bow_of(state: JobState) -> FitBow:
    """A job's bow as it is fitted, with what loops of its cord have shown, and on a new setup with where the
    customer's peep sits on another bow."""
    cord = state.on_bow.of(LOOP).get("cord")
    loops = loops_tied(cord) if cord else []
    elsewhere = _peep_elsewhere(state) if state.job.path == NEW_SETUP else None
    return state.fit_bow(loops, elsewhere)


def fit_now(state: JobState) -> FitAdvice:
    """What to do about it now."""
    return fit_advice(fit_bow_of(state))


def _peep_elsewhere(state: JobState) -> PeepElsewhere | None:
    row = peep_of_another_bow(state.job)
    twin = None if row is None else twin_at_hand(job_state(row.job).spec)
    if row is None or row.value is None or twin is None:
        return None
    what = quantity(row.quantity)
    names = {one.key: one.name for one in (*what.starts, *what.ends)}
    points = f"{names.get(row.start, 'nock')} to {names.get(row.end, 'peep')}"
    return PeepElsewhere(str(row.job.bow), twin, float(row.value), points)
