"""What is computed of a bow, as plain values. Knows no Django, so that another process can do it."""

from typing import Any

from bowcore.bow.frames import frames
from bowcore.bow.mark_lever import mark_levers
from bowcore.bow.outline import outline
from bowcore.bow.specification import BowSpec
from bowcore.bow.static_timing import gap_per_turn
from bowcore.bow.twin import build_twin
from bowcore.errors import BadInput, NoModel
from bowcore.learning.stored_belief import belief_to_json
from bowcore.response.measured import fit_to_readings
from bowcore.stages.back_to_spec.advice import model_prior

Readings = dict[str, tuple[float, float]]
"""Value and uncertainty by quantity."""
Values = dict[str, Any]


def prior_values(spec: BowSpec) -> tuple[Values | None, Values | None]:
    """The prior of a bow and its drawing at rest; neither for a bow without a twin."""
    try:
        twin = build_twin(spec)
        data, drawing = belief_to_json(model_prior(spec, twin)), outline(twin, twin.rest)
        drawing["mark_levers"] = mark_levers(twin)
        if not spec.one_cam:
            drawing["gap_per_turn"] = gap_per_turn(twin)
    except NoModel:
        return None, None
    return data, drawing


def state_values(spec: BowSpec, readings: Readings, trusted: tuple[str, ...]) -> Values | None:
    """Frames along the draw and what its readings point to; None for a bow without a twin."""
    try:
        twin, errors, residuals = build_twin(spec), {}, {}
        if readings:
            fitted = fit_to_readings(twin, readings, trusted)
            twin, errors, residuals = fitted.twin, fitted.errors, fitted.residuals
        data = frames(twin) | {"errors": errors, "residuals": residuals}
    except (NoModel, BadInput):
        return None
    rounded: Values = _rounded(data)
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
