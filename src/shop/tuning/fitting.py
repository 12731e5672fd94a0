"""Fitting a twin to a measured curve: beside the requests, with a state everybody can see."""

from datetime import timedelta

from django.conf import settings
from django.utils import timezone

from bowcore import __version__ as core_version
from bowcore.errors import BowcoreError
from bowcore.mechanics.fit import DRAW_LENGTH_OFFSET_IN
from bowcore.mechanics.measured import fit_curve
from bowcore.mechanics.specification import BowSpec
from bowcore.planning.estimator import Belief, belief_from_json, belief_to_json
from bowcore.service.advice import fitted_prior
from shop.jobs.models import Job
from shop.measurements.models import DrawCurve
from shop.tuning.aside import aside
from shop.tuning.models import CurveFit

GIVEN_UP_AFTER = timedelta(minutes=2)


def begin(curve: DrawCurve, spec: BowSpec) -> CurveFit:
    """Start a fit, unless one is under way or done."""
    found, new = CurveFit.objects.get_or_create(curve=curve)
    stuck = found.state == CurveFit.WORKING and timezone.now() - found.begun_at > GIVEN_UP_AFTER
    if new or stuck or found.state in (CurveFit.CANCELLED, CurveFit.FAILED):
        CurveFit.objects.filter(pk=found.pk).update(
            state=CurveFit.WORKING, begun_at=timezone.now(), said="", data=None
        )
        found.refresh_from_db()
        if settings.FIT_ASIDE:
            aside(work, found.pk, spec)
        else:
            work(found.pk, spec)
    return found


def cancel(curve: DrawCurve) -> None:
    """Nobody waits for it any more; what it finds is thrown away."""
    CurveFit.objects.filter(curve=curve, state=CurveFit.WORKING).update(state=CurveFit.CANCELLED)


def work(pk: int, spec: BowSpec) -> None:
    """Do the fit and keep what it found, if somebody still waits for it."""
    points = CurveFit.objects.select_related("curve").get(pk=pk).curve.points
    try:
        fitted = fit_curve(
            spec, [draw - DRAW_LENGTH_OFFSET_IN for draw, _ in points], [f for _, f in points]
        )
        belief = fitted_prior(spec, fitted)
    except BowcoreError as error:
        _end(pk, CurveFit.FAILED, said=str(error)[:300])
        return
    xs, force = fitted.twin.curve(60)
    data = {
        "draw_in": [round(float(x) + DRAW_LENGTH_OFFSET_IN, 3) for x in xs],
        "force_lbf": [round(float(f), 3) for f in force],
        "before_lbf": round(fitted.rms_before_lbf, 3), "after_lbf": round(fitted.rms_after_lbf, 3),
        "valley_in": round(fitted.twin.valley_in(), 3),
        "insides": {name: [round(v, 4), round(s, 4)] for name, (v, s) in fitted.insides.items()},
        "core_version": core_version, "prior": belief_to_json(belief),
    }  # fmt: skip
    _end(pk, CurveFit.DONE, data=data)


def fitted_prior_of(job: Job) -> Belief | None:
    """What the newest curve of a job has shown of its bow, if a twin was fitted to it."""
    fit = CurveFit.objects.filter(curve__job=job).order_by("-curve__seq").first()
    if fit is None or fit.state != CurveFit.DONE or not fit.data:
        return None
    if fit.data.get("core_version") != core_version:
        return None  # another core's; it can be fitted again
    return belief_from_json(fit.data["prior"])


def _end(pk: int, state: str, **found: object) -> None:
    CurveFit.objects.filter(pk=pk, state=CurveFit.WORKING).update(state=state, **found)
