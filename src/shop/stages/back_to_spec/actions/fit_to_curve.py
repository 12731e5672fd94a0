"""Begin to fit the bow's twin to its newest curve, or stop."""

from bowcore.errors import Refused
from bowcore.stages.back_to_spec.by_curve import out_of_time
from shop.casework.checks import require_act
from shop.casework.engine.curve_fits import cancel, waiting_fit
from shop.casework.engine.tasks import begin_fit
from shop.casework.state import job_state
from shop.casework.submissions import Submission, on_job
from shop.schema.measurements.models import DrawCurve


def fit_to_curve(job_id: int, submission: Submission) -> None:
    """Begin a fit; plans rest on it once it is done.

    Raises
    ------
    Refused
        There is no curve, its cams were out of time, a fit of it is under way or done, the person may not, or
        waits for others.
    """
    with on_job(job_id, "fit_curve", submission) as event:
        state = job_state(event.job)
        require_act(submission.by, "fit_curve", state)
        curve = _newest(event.job.pk)
        if why := out_of_time(state.facts, curve.seq):
            raise Refused(why)
        fit = waiting_fit(curve, submission.by)
        if fit is None:
            raise Refused("A fit of this curve is under way or done already.")
        event.summary = "began to fit the twin to the measured curve"
    begin_fit(fit)


def cancel_fit(job_id: int, submission: Submission) -> None:
    """Stop a fit that is under way.

    Raises
    ------
    Refused
        There is no curve, or the person may not.
    """
    with on_job(job_id, "cancel_fit", submission) as event:
        require_act(submission.by, "fit_curve", job_state(event.job))
        cancel(_newest(event.job.pk))
        event.summary = "stopped the fit to the measured curve"


def _newest(job_id: int) -> DrawCurve:
    curve = DrawCurve.objects.filter(job=job_id).order_by("-seq").first()
    if curve is None:
        raise Refused("There is no measured curve yet.")
    return curve
