"""Fitting a twin to a measured curve: in the background, with progress that everybody can see."""

from django.db.models import QuerySet
from django.utils import timezone

from bowcore import __version__ as core_version
from bowcore.bow.fit import DRAW_LENGTH_OFFSET_IN
from bowcore.errors import BowcoreError, Refused
from bowcore.learning.belief import Belief
from bowcore.learning.stored_belief import belief_from_json, belief_to_json
from bowcore.response.measured import CurveFit, fit_curve
from bowcore.stages.back_to_spec.advice import fitted_prior
from shop.casework.engine.models import CurveFitTask
from shop.schema.accounts.models import Member
from shop.schema.core_values import spec_now
from shop.schema.jobs.models import Job
from shop.schema.measurements.models import CamByCaliper, DrawCurve

CURVE_POINTS = 60


class Cancelled(Exception):
    """Nobody waits for the fit any more."""


MOST_FITS_OF_ONE = 2
"""Whoever begins more at once keeps everybody else's waiting: they are done one after the other."""


def waiting_fit(curve: DrawCurve, by: Member) -> CurveFitTask | None:
    """The fit of a curve, made ready to be begun; None if it is under way, or done and not outdated.

    Raises
    ------
    Refused
        This person waits for two others already.
    """
    theirs = CurveFitTask.objects.filter(begun_by=by, state=CurveFitTask.WORKING)
    if theirs.exclude(curve=curve).count() >= MOST_FITS_OF_ONE:
        raise Refused("Two fits of yours are under way. Wait for one, or stop it.")
    found, new = CurveFitTask.objects.get_or_create(curve=curve)
    done = found.state == CurveFitTask.DONE and not outdated(found)
    if not new and (done or found.state == CurveFitTask.WORKING):
        return None
    CurveFitTask.objects.filter(pk=found.pk).update(
        state=CurveFitTask.WORKING,
        begun_by=by,
        begun_at=timezone.now(),
        round=0,
        message="",
        data=None,
    )
    found.refresh_from_db()
    return found


def outdated(fit: CurveFitTask) -> str:
    """Why a fit that is done is not used any more, in a sentence; "" while it is."""
    if fit.state != CurveFitTask.DONE:
        return ""
    if not fit.data or fit.data.get("core_version") != core_version:
        return "The model was fitted by an earlier version of the program."
    if CamByCaliper.objects.filter(job=fit.curve.job_id, at__gt=fit.begun_at).exists():
        return "The cam was measured after the model was fitted."
    return ""


def cancel(curve: DrawCurve) -> None:
    """Nobody waits for it any more: it stops after its present round."""
    waiting = CurveFitTask.objects.filter(curve=curve, state=CurveFitTask.WORKING)
    waiting.update(state=CurveFitTask.CANCELLED)


def work(fit_id: int) -> None:
    """Do the fit and keep what it found, if somebody still waits for it."""
    fit = CurveFitTask.objects.select_related("curve__job").get(pk=fit_id)
    spec, points = spec_now(fit.curve.job), fit.curve.points

    def on_round(number: int) -> None:
        if not _working(fit_id).update(round=number):
            raise Cancelled

    try:
        on_round(1)
        draw_in = [draw - DRAW_LENGTH_OFFSET_IN for draw, _ in points]
        fitted = fit_curve(spec, draw_in, [force for _, force in points], on_round)
        belief = fitted_prior(spec, fitted)
    except Cancelled:
        return
    except BowcoreError as error:
        _failed(fit_id, str(error))
        return
    except Exception:
        _failed(fit_id, "The fit stopped on a fault of the program; the server's log has it.")
        raise
    _working(fit_id).update(state=CurveFitTask.DONE, data=_found(fitted, belief))


def _failed(fit_id: int, why: str) -> None:
    _working(fit_id).update(state=CurveFitTask.FAILED, message=why[:300])


def newest_fit(job: Job) -> CurveFitTask | None:
    """The fit of the newest curve that one was begun for."""
    fits = CurveFitTask.objects.filter(curve__job=job).select_related("curve")
    return fits.order_by("-curve__seq").first()


def fitted_prior_of(job: Job) -> Belief | None:
    """What the newest curve of a job has shown of its bow, if a twin was fitted to it."""
    fit = newest_fit(job)
    if fit is None or fit.state != CurveFitTask.DONE or not fit.data or outdated(fit):
        return None
    return belief_from_json(fit.data["prior"])


def _working(fit_id: int) -> QuerySet[CurveFitTask]:
    return CurveFitTask.objects.filter(pk=fit_id, state=CurveFitTask.WORKING)


def _found(fitted: CurveFit, belief: Belief) -> dict[str, object]:
    """What is kept of a fit: its curve, how well it agrees, and what plans start from."""
    xs, force = fitted.twin.curve(CURVE_POINTS)
    return {
        "draw_in": [round(float(x) + DRAW_LENGTH_OFFSET_IN, 3) for x in xs],
        "force_lbf": [round(float(f), 3) for f in force],
        "before_lbf": round(fitted.rms_before_lbf, 3),
        "after_lbf": round(fitted.rms_after_lbf, 3),
        "valley_in": round(fitted.twin.valley_in(), 3),
        "parameters": {n: [round(v, 4), round(s, 4)] for n, (v, s) in fitted.parameters.items()},
        "core_version": core_version,
        "prior": belief_to_json(belief),
    }
