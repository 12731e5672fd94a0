"""Work in the background: it is kept in the database, so that it survives a restart."""

from django_tasks import task

from bowcore.io.book import spec_from
from shop.casework.engine import curve_fits, pooling, priors
from shop.casework.engine.models import CurveFitTask
from shop.schema.jobs.models import Job
from shop.schema.tenancy.here import every_shop


@task()
def warm_prior(job_id: int) -> None:
    """Compute a bow's prior, so that it is there when the plan is asked for."""
    with every_shop():
        job = Job.objects.select_related("bow").get(pk=job_id)
        spec = spec_from(job.spec)
        prior = priors.book_prior(spec)
        if prior is not None:
            pooling.pooled_prior(job, spec, prior)


@task()
def work_on_fit(fit_id: int) -> None:
    """Fit a twin to a measured curve."""
    with every_shop():
        curve_fits.work(fit_id)


def resume() -> None:
    """Begin again what was under way when the workers were stopped."""
    for fit in CurveFitTask.objects.filter(state=CurveFitTask.WORKING):
        begin_fit(fit)


def begin_fit(fit: CurveFitTask) -> None:
    """Have a fit done in the background."""
    result = work_on_fit.enqueue(fit.pk)
    CurveFitTask.objects.filter(pk=fit.pk).update(task=str(result.id))
