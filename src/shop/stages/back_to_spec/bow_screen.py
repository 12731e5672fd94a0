"""What the bow's own page shows: the drawing along the draw, its numbers, one part, the pattern."""

from typing import Any

from bowcore.bow.lay import say_turning
from bowcore.deciding.causes import RESTS_ON, names_causes
from bowcore.deciding.reasons import say_timing
from bowcore.errors import BadInput
from bowcore.learning.pattern import Pattern, pattern_of, weight_cause
from bowcore.measurement.curve_file import CurvePoint, checked_curve, summary_of
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.quantities.inches import as_mixed, say_bare, say_length
from bowcore.response.matrix import Response
from bowcore.stages.back_to_spec.by_curve import out_of_time
from shop.casework.devices.registry import bench_with
from shop.casework.engine.bow_states import readings_of, state_key
from shop.casework.engine.curve_fits import outdated
from shop.casework.engine.kept_answers import answer_or_begin
from shop.casework.engine.models import CurveFitTask
from shop.casework.engine.priors import book_prior
from shop.casework.screens import Context
from shop.casework.state import JobState
from shop.drawings.cam_close_up import CAM_NAMES, Stop, cam_close_up
from shop.drawings.force_draw_curve import force_draw_curve, frames_drawing
from shop.drawings.stopgap import stop_gap
from shop.schema.bows.models import Part
from shop.schema.measurements.models import DrawCurve
from shop.stages.back_to_spec.tasks import work_out_bow


def bow_context(state: JobState, chosen: str | None) -> Context:
    """The parts to choose from, and what is known of the chosen one."""
    roles = state.spec.roles
    role = chosen if chosen in roles else roles[0]
    part = state.spec.part(role)
    on_it = state.job.bow.parts.filter(role=role, state=Part.FITTED).order_by("-pk").first()
    turned = state.facts.net_steps(role)
    return {
        "parts": state.spec.parts,
        "part": part,
        "on_it": on_it,
        "turned": state.adjuster(role).say(turned) if turned else "",
        "entries": [line for line in state.ledger if line.row.role == role],
        "does": does(state, role),
        "fitted_to": [QUANTITIES[n].name.lower() for n in readings_of(state.facts)],
    }


def does(state: JobState, role: str) -> list[tuple[str, str]]:
    """What half a twist in a part does to each number, in words; nothing without a twin."""
    response: Response | None = None if state.prior is None else state.prior.response()
    if response is None:
        return []
    found = []
    for name in response.quantities:
        quantity, change = QUANTITIES[name], response.per_step(name, role)
        if not quantity.shows(change):
            continue
        size = quantity.say_size(change)
        sign = "" if quantity.directions else ("+" if change > 0 else "−")
        found.append((state.facts.named(name).name, f"{sign}{size}"))
    return found


def drawn_context(state: JobState, role: str) -> Context:
    """The computed part of the screen. `computed` is None without a twin."""
    computed = _worked_out(state)
    measured = DrawCurve.objects.filter(job=state.job).select_related("by").order_by("-seq").first()
    if computed is None:
        return {"computed": None, "measured": measured, "role": role}
    points, no_curve = _points_of(measured)
    fit = CurveFitTask.objects.filter(curve=measured).first() if measured else None
    old = outdated(fit) if fit else ""
    fitted = fit.data if fit and fit.state == CurveFitTask.DONE and not old else None
    found = _pattern(state, computed)
    return {
        "computed": computed,
        "role": role,
        "frames": frames_drawing(computed["outlines"], role),
        "curve": force_draw_curve(computed, points, fitted),
        "effect": _effect(state) if fitted else [],
        "measured": measured,
        "no_curve": no_curve,
        "summary": summary_of(points) if points else None,
        "fit": fit,
        "outdated": old,
        "no_fit": out_of_time(state.facts, measured.seq) if measured else "",
        "has_board": bench_with(state, "draw_board") is not None and state.facts.may_be_drawn,
        "steps": _steps(computed),
        "last": len(computed["draw_in"]) - 1,
        "pattern": found,
        "bars": _bars(found) if names_causes(state.spec, state.facts) else [],
        **_stops(state, computed, role),
    }


def _points_of(measured: DrawCurve | None) -> tuple[list[CurvePoint], str]:
    """The points of a curve on file, and why it is not drawn, "" if it is: an earlier version may have
    kept what no bow draws."""
    if measured is None:
        return [], ""
    try:
        return checked_curve([(float(draw), float(force)) for draw, force in measured.points]), ""
    except BadInput as error:
        return [], str(error)


def pattern_context(state: JobState) -> Context:
    """What all readings point to, and why the weight is off if it is; nothing without a twin."""
    now = state.facts.current("peak_weight")
    if now is None or now.summary is None or not names_causes(state.spec, state.facts):
        return {}
    computed = _worked_out(state)
    if computed is None:
        return {}
    found = _pattern(state, computed)
    verdict = state.bands["peak_weight"].judge(now.summary.value)
    return {
        "pattern": found,
        "weight": weight_cause(found, verdict),
        "rests_on": RESTS_ON if found.names_a_part else "",
    }


def _worked_out(state: JobState) -> dict[str, Any] | None:
    key = state_key(state.spec, state.facts)
    values: dict[str, Any] | None = answer_or_begin(key, work_out_bow, state.job.pk)
    return values


def _pattern(state: JobState, computed: dict[str, Any]) -> Pattern:
    errors = {key: tuple(pair) for key, pair in computed["errors"].items()}
    return pattern_of(state.spec, errors, computed["residuals"])


def _effect(state: JobState) -> list[str]:
    """What the fit changes: half a twist in each part by the bow's own curve and by the book."""
    book, mine = book_prior(state.spec), state.prior
    if book is None or mine is None or mine is book:
        return []
    lines = []
    for part in state.spec.parts:
        weights = [one.response().per_step("peak_weight", part.role) for one in (mine, book)]
        lines.append(
            f"{part.label}: half a twist in makes {weights[0]:+.2f} lbf, by the book {weights[1]:+.2f}"
        )
    return lines


def _steps(computed: dict[str, Any]) -> list[dict[str, str]]:
    """What is words beside the slider at each frame."""
    gaps = computed["gap_in"] or [None] * len(computed["draw_in"])
    return [
        {
            "draw": say_bare(draw, 16),
            "force": f"{abs(force):.1f}",
            "stops": ""
            if gap is None
            else f"top {say_bare(gap[0], 32)}, bottom {say_length(gap[1], 32)}",
        }
        for draw, force, gap in zip(computed["draw_in"], computed["force_lbf"], gaps, strict=True)
    ]


def _stops(state: JobState, computed: dict[str, Any], role: str) -> Context:
    """Both cams where the first stop touches, the gap large, the aim, what brings it there."""
    band = state.bands["stop_gap"]
    if not computed["gap_in"]:
        return {"stops": [], "aim": band.because}
    top, bottom = computed["gap_in"][-1]
    found = []
    for side, (left, aim) in enumerate(((top, band.target), (bottom, -band.target))):
        gap = say_length(left)
        words = "its stop touches" if as_mixed(left).zero else f"its stop is {gap} open"
        found.append(
            (
                CAM_NAMES[side],
                words,
                cam_close_up(
                    computed["outlines"][-1], side, Stop(left, max(aim, 0.0), words), role
                ),
            )
        )
    labels = state.spec.labels
    cables = [part.role for part in state.spec.parts if not part.is_string]
    inside = band.judge(top - bottom).inside
    return {
        "stops": found,
        "aim": band.because,
        "large": stop_gap(top - bottom, band.target),
        "timing": "" if inside else say_timing(top - bottom, labels, band.target),
        "turning": "" if inside else say_turning(state.lays_of(cables)),
    }


def _size(off_in: float) -> str:
    size = say_length(abs(off_in), 32)
    return (
        "right" if as_mixed(abs(off_in), 32).zero else f"{size} {'short' if off_in > 0 else 'long'}"
    )


def _bars(pattern: Pattern) -> list[dict[str, Any]]:
    """Each part's likely error as a bar on a common scale, the middle being right."""
    lengths = [one for one in pattern.suspects if one.key != "limb_bolts"]
    reach = max([0.125, *(abs(one.off) + one.sigma for one in lengths)])
    return [
        {
            "label": one.label,
            "stands_out": one.stands_out,
            "words": _size(one.off),
            "x": round(100 + 100 * -one.off / reach, 1),
            "low": round(100 + 100 * (-one.off - one.sigma) / reach, 1),
            "width": round(200 * one.sigma / reach, 1),
        }
        for one in lengths
    ]
