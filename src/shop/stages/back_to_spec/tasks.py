"""What the plan's and the bow's page show later, made in the background."""

from collections.abc import Iterator
from contextlib import contextmanager

from django_tasks import task

from bowcore.quantities.units import lengths_in
from shop.casework.engine.bow_states import readings_of, state_key
from shop.casework.engine.computing import state_values
from shop.casework.engine.heavy import computed
from shop.casework.engine.kept_answers import keep_answer
from shop.casework.state import JobState, job_state
from shop.schema.jobs.models import Job
from shop.schema.tenancy.here import every_shop
from shop.stages.back_to_spec.surer import caliper_would_say, surer_key


@task()
def work_out_bow(job_id: int) -> None:
    """Keep a bow's frames along the draw and what its readings point to."""
    with _at_its_shop(job_id) as state:
        values = computed(state_values, state.spec, readings_of(state.facts), state.facts.untouched)
        keep_answer(state_key(state.spec, state.facts), values)


@task()
def work_out_surer(job_id: int) -> None:
    """Keep what measuring the cam would do for the plan."""
    with _at_its_shop(job_id) as state:
        keep_answer(surer_key(state), caliper_would_say(state))


@contextmanager
def _at_its_shop(job_id: int) -> Iterator[JobState]:
    """The job as its own shop sees it and says it: under the same keys as on its pages."""
    with every_shop():
        job = Job.objects.select_related("shop").get(pk=job_id)
    with job.shop.during(), lengths_in(job.shop.length_unit):
        yield job_state(job)
