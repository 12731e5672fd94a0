"""The bow on the bench as its twin sees it: fitted to what was read, kept for all processes."""

from typing import Any

from django.db import transaction

from bowcore.errors import BadInput, NoModel
from bowcore.mechanics.frames import frames
from bowcore.mechanics.specification import BowSpec
from bowcore.mechanics.twin import build_twin
from bowcore.response.measured import fit_to_readings
from bowcore.workflow.facts import Facts
from shop.engine.heavy import heavy_work
from shop.engine.models import BowState
from shop.engine.priors import fingerprint

FITTED_TO = (
    "axle_to_axle", "brace_height", "draw_length", "peak_weight", "holding_weight", "stop_gap",
)  # fmt: skip
KEPT = 500
"""States that are kept, the newest; an older one is computed again when it is asked for."""
Readings = dict[str, tuple[float, float]]


def readings_of(facts: Facts) -> Readings:
    """What is fresh and known to the twin: value and uncertainty."""
    found: Readings = {}
    for name in FITTED_TO:
        now = facts.current(name)
        if now and now.fresh and now.summary:
            found[name] = (round(now.summary.value, 4), round(now.summary.sigma, 4))
    return found


def state_of(
    spec: BowSpec, readings: Readings, trusted: tuple[str, ...] = ()
) -> dict[str, Any] | None:
    """Frames and pattern of this bow, from the cache or computed; None if it does not make a twin.

    `trusted` names what nobody touched, which is not the suspect.
    """
    key = fingerprint(spec, readings, trusted)
    row = BowState.objects.filter(fingerprint=key).first()
    if row is None:
        row = _computed_in_turn(key, spec, readings, trusted)
    found: dict[str, Any] | None = row.data
    return found


def _computed_in_turn(
    key: str, spec: BowSpec, readings: Readings, trusted: tuple[str, ...]
) -> BowState:
    with heavy_work():
        row = BowState.objects.filter(fingerprint=key).first()
        if row is not None:
            return row
        values = {"data": _computed(spec, readings, trusted)}
        with transaction.atomic():
            row = BowState.objects.get_or_create(fingerprint=key, defaults=values)[0]
        BowState.objects.filter(pk__lte=row.pk - KEPT).delete()
        return row


def _computed(spec: BowSpec, readings: Readings, trusted: tuple[str, ...]) -> dict[str, Any] | None:
    try:
        twin, errors, residuals = build_twin(spec), {}, {}
        if readings:
            fitted = fit_to_readings(twin, readings, trusted)
            twin, errors, residuals = fitted.twin, fitted.errors, fitted.residuals
        data = frames(twin) | {"errors": errors, "residuals": residuals}
    except (NoModel, BadInput):
        return None
    rounded: dict[str, Any] = _rounded(data)
    return rounded


def _rounded(value: Any) -> Any:
    """To a thousandth: finer than any pixel or tool."""
    if isinstance(value, float):
        return round(value, 3)
    if isinstance(value, dict):
        return {key: _rounded(inner) for key, inner in value.items()}
    if isinstance(value, list | tuple):
        return [_rounded(inner) for inner in value]
    return value
