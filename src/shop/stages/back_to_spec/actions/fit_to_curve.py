"""Begin to fit the bow's twin to its newest curve, or stop."""

from bowcore.errors import Refused
from bowcore.stages.back_to_spec.by_curve import out_of_time
from shop.casework.engine.curve_fits import cancel, waiting_fit
from shop.casework.engine.models import CurveFitTask
from shop.casework.engine.tasks import begin_fit
from shop.casework.job_act import job_act
from shop.casework.submissions import EventDraft, Submission
from shop.schema.measurements.models import DrawCurve


def fit_to_curve(job_id: int, submission: Submission) -> None:
    """Begin a fit; plans rest on it once it is done.

    Raises
    ------
    Refused
        There is no curve, its cams were out of time, a fit of it is under way or done, the person may not, or
        waits for others.
    """
    begin_fit(_ask_for_fit(job_id, submission))


@job_act("fit_curve", right="fit_curve")
def _ask_for_fit(event: EventDraft) -> CurveFitTask:
    curve = _newest(event.job.pk)
    if why := out_of_time(event.state.facts, curve.seq):
        raise Refused(why)
    fit = waiting_fit(curve, event.by)
    if fit is None:
        raise Refused("A fit of this curve is under way or done already.")
    event.summary = "began to fit the twin to the measured curve"
    return fit


@job_act("cancel_fit", right="fit_curve")
def cancel_fit(event: EventDraft) -> None:
    """Stop a fit that is under way.

    Raises
    ------
    Refused
        There is no curve, or the person may not.
    """
    cancel(_newest(event.job.pk))
    event.summary = "stopped the fit to the measured curve"


def _newest(job_id: int) -> DrawCurve:
    curve = DrawCurve.objects.filter(job=job_id).order_by("-seq").first()
    if curve is None:
        raise Refused("There is no measured curve yet.")
    return curve
