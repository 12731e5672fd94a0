"""What the bow's own screen shows: the drawing along the draw, its numbers, one part, the pattern."""

from typing import Any

from bowcore.measurement.curve_file import summary_of
from bowcore.mechanics.response import Response
from bowcore.planning.pattern import Pattern, pattern_of, weight_cause
from bowcore.planning.reasons import say_timing
from bowcore.planning.words import say_steps, say_turning
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.quantities.inches import say_inches
from shop.bows.models import Part
from shop.devices.models import BenchBow
from shop.drawings.close import SIDES, Stop, cam
from shop.drawings.draw import curve, frames
from shop.drawings.stopgap import stop_gap
from shop.measurements.models import DrawCurve
from shop.tuning.bow import readings_of, state_of
from shop.tuning.models import CurveFit
from shop.tuning.priors import prior_of
from shop.tuning.selectors import View

Context = dict[str, Any]


def bow(view: View, chosen: str | None) -> Context:
    """The parts to choose from, and what is known of the chosen one."""
    roles = [part.role for part in view.spec.parts]
    role = chosen if chosen in roles else roles[0]
    part = view.spec.part(role)
    on_it = view.job.bow.parts.filter(role=role, state=Part.FITTED).order_by("-pk").first()
    turned = view.facts.half_twists(role)
    return {
        "parts": view.spec.parts, "part": part, "on_it": on_it,
        "turned": say_steps(role, turned) if turned else "",
        "entries": [row for row in view.adjustments if row.role.partition(".")[0] == role],
        "does": does(view, role), "pulled_to": [QUANTITIES[n].name.lower() for n in readings_of(view)],
    }  # fmt: skip


def does(view: View, role: str) -> list[tuple[str, str]]:
    """What half a twist in a part does to each number, in words; nothing without a twin."""
    response: Response | None = None if view.prior is None else view.prior.response()
    if response is None:
        return []
    found = []
    for name in response.quantities:
        quantity, change = QUANTITIES[name], response.per_step(name, role)
        size = quantity.say_size(change)
        if size.startswith(("under", "0.0")):
            continue
        way = "" if quantity.ways else ("+" if change > 0 else "−")
        found.append((view.facts.named(name).name, f"{way}{size}"))
    return found


def drawn(view: View, role: str) -> Context:
    """The computed part of the screen: frames, curve, numbers, pattern; `state` None without a twin."""
    state = state_of(view.spec, readings_of(view))
    measured = DrawCurve.objects.filter(job=view.job).select_related("by").order_by("-seq").first()
    if state is None:
        return {"state": None, "measured": measured, "role": role}
    points = [(float(draw), float(force)) for draw, force in measured.points] if measured else []
    fit = CurveFit.objects.filter(curve=measured).first() if measured else None
    fitted = fit.data if fit and fit.state == CurveFit.DONE and fit.data else None
    pattern = pattern_of(view.spec, {k: tuple(v) for k, v in state["errors"].items()})
    return {
        "state": state, "role": role, "frames": frames(state["outlines"], role),
        "curve": curve(state["draw_in"], state["force_lbf"], points, fitted),
        "effect": _effect(view) if fitted else [],
        "measured": measured, "told": summary_of(points) if points else None, "fit": fit,
        "has_board": BenchBow.objects.filter(job=view.job).exists(),
        "steps": _steps(state), "last": len(state["draw_in"]) - 1,
        "pattern": pattern, "bars": _bars(pattern), **_stops(view, state, role),
    }  # fmt: skip


def pattern(view: View) -> Context:
    """What all readings point to, and why the weight is off if it is; nothing without a twin."""
    state = state_of(view.spec, readings_of(view))
    now = view.facts.current("peak_weight")
    if state is None or now is None or now.summary is None:
        return {}
    found = pattern_of(view.spec, {k: tuple(v) for k, v in state["errors"].items()})
    verdict = view.bands["peak_weight"].judge(now.summary.value)
    return {"pattern": found, "weight": weight_cause(found, verdict)}


def _effect(view: View) -> list[str]:
    """What the fit changes: half a twist in each part by the bow's own curve and by the book."""
    book, mine = prior_of(view.spec), view.prior
    if book is None or mine is None or mine is book:
        return []
    said = []
    for part in view.spec.parts:
        weights = [one.response().per_step("peak_weight", part.role) for one in (mine, book)]
        said.append(
            f"{part.label}: half a twist in makes {weights[0]:+.2f} lbf, by the book {weights[1]:+.2f}"
        )
    return said


def _steps(state: dict[str, Any]) -> list[dict[str, str]]:
    """What is said beside the slider at each frame."""
    gaps = state["gap_in"] or [None] * len(state["draw_in"])
    return [
        {
            "draw": say_inches(draw, 16), "force": f"{abs(force):.1f}",
            "stops": "" if gap is None else f"top {say_inches(gap[0], 32)}, bottom {say_inches(gap[1], 32)}",
        }
        for draw, force, gap in zip(state["draw_in"], state["force_lbf"], gaps, strict=True)
    ]  # fmt: skip


def _stops(view: View, state: dict[str, Any], role: str) -> Context:
    """Both cams where the first stop touches, the gap large, the school's aim, what brings it home."""
    band = view.bands["stop_gap"]
    if not state["gap_in"]:
        return {"stops": [], "aim": band.because}
    top, bottom = state["gap_in"][-1]
    found = []
    for side, (left, aim) in enumerate(((top, band.target), (bottom, -band.target))):
        gap = say_inches(left, 64)
        said = "its stop touches" if gap == "0" else f"its stop is {gap} in open"
        found.append(
            (
                SIDES[side],
                said,
                cam(state["outlines"][-1], side, Stop(left, max(aim, 0.0), said), role),
            )
        )
    labels = {part.role: part.label for part in view.spec.parts}
    inside = band.judge(top - bottom).inside
    return {
        "stops": found, "aim": band.because, "large": stop_gap(top - bottom, band.target),
        "timing": "" if inside else say_timing(top - bottom, labels),
        "turning": "" if inside else say_turning(view.facts.marks.get("lay", "")),
    }  # fmt: skip


def _size(off_in: float) -> str:
    size = say_inches(abs(off_in), 32)
    return "right" if size == "0" else f"{size} in {'short' if off_in > 0 else 'long'}"


def _bars(pattern: Pattern) -> list[dict[str, Any]]:
    """Each part's likely error as a bar on a common scale, the middle being right."""
    lengths = [one for one in pattern.suspects if one.key != "limb_bolts"]
    reach = max([0.125, *(abs(one.off) + one.sigma for one in lengths)])
    return [
        {
            "label": one.label, "stands_out": one.stands_out,
            "said": _size(one.off),
            "x": round(100 + 100 * -one.off / reach, 1),
            "low": round(100 + 100 * (-one.off - one.sigma) / reach, 1),
            "width": round(200 * one.sigma / reach, 1),
        }
        for one in lengths
    ]  # fmt: skip
