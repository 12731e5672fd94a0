"""The rule: a drawn scale with the band, the baseline, the last reading and the prediction.

The same drawing wherever a number meets a band. Band: a tinted field between two posts. Baseline:
open triangle. Reading: solid pointer (hollow when it is stale). Prediction: dashed line with its
90 % range.
"""

from dataclasses import dataclass
from math import ceil, floor

from django.utils.safestring import SafeString

from bowcore.measurement.bands import Band
from bowcore.measurement.normal import NINETY
from bowcore.quantities.inches import say_bare
from bowcore.quantities.quantity import MIDWAY, Quantity
from bowcore.quantities.units import MM_PER_INCH, LengthUnit, length_unit
from shop.drawings.svg import element, line, picture, text

WIDTH, HEIGHT, AXIS, EDGE = 300, 62, 38, 16
LABEL_ROOM = 50  # pixels that a label such as 31 1/16 needs


@dataclass(frozen=True)
class RuleMarks:
    """What to show on a rule; every value in the quantity's unit, None where there is no value."""

    band: Band | None = None
    baseline: float | None = None
    reading: float | None = None
    stale: bool = False
    prediction: float | None = None
    sigma: float = 0.0


@dataclass(frozen=True)
class _Scale:
    low: float
    high: float
    step: float

    def x(self, value: float) -> float:
        """Place of a value, kept on the drawing when it lies far off."""
        share = (value - self.low) / (self.high - self.low)
        return EDGE + min(max(share, 0.0), 1.0) * (WIDTH - 2 * EDGE)


def rule(quantity: Quantity, marks: RuleMarks) -> SafeString:
    """Draw the rule of a quantity; nothing where there is neither a band nor a value yet."""
    if marks == RuleMarks():
        return SafeString("")
    scale = _scale(quantity, marks)
    parts = [*_field(scale, marks.band), line(EDGE - 8, AXIS, WIDTH - EDGE + 8, AXIS, "axis")]
    parts += _ticks(scale, quantity)
    if marks.baseline is not None:
        x = scale.x(marks.baseline)
        points = f"{x:.1f},{AXIS} {x - 6:.1f},{AXIS - 11} {x + 6:.1f},{AXIS - 11}"
        parts.append(element("polygon", points=points, class_="baseline-mark"))
    parts += _prediction(scale, marks)
    if marks.reading is not None:
        parts += _pointer(scale.x(marks.reading), marks.stale)
    return picture(WIDTH, HEIGHT, _description(quantity, marks), "rule", parts)


def _field(scale: _Scale, band: Band | None) -> list[str]:
    if band is None:
        return []
    left, right = scale.x(band.low), scale.x(band.high)
    field = element(
        "rect", x=left, y=float(AXIS - 15), width=right - left, height=15.0, class_="field"
    )
    posts = [line(x, AXIS - 19, x, AXIS, "post") for x in (left, right)]
    return [field, *posts]


def _ticks(scale: _Scale, quantity: Quantity) -> list[str]:
    parts, labels = [], _label_every(scale, quantity)
    first, last = ceil(scale.low / scale.step - 1e-9), floor(scale.high / scale.step + 1e-9)
    for n in range(first, last + 1):
        value, x = n * scale.step, scale.x(n * scale.step)
        major = abs(value / labels - round(value / labels)) < 1e-6
        parts.append(
            line(x, AXIS, x, AXIS + (10 if major else 5), "tick" if major else "tick minor")
        )
        if major:
            parts.append(text(x, AXIS + 23, _label(quantity, value), text_anchor="middle"))
    return parts


def _prediction(scale: _Scale, marks: RuleMarks) -> list[str]:
    if marks.prediction is None:
        return []
    x = scale.x(marks.prediction)
    low = scale.x(marks.prediction - NINETY * marks.sigma)
    high = scale.x(marks.prediction + NINETY * marks.sigma)
    return [
        line(low, AXIS - 3, high, AXIS - 3, "range"),
        line(x, AXIS - 27, x, AXIS, "prediction-mark"),
    ]


def _pointer(x: float, stale: bool) -> list[str]:
    class_ = "stale-mark" if stale else "reading-mark"
    head = f"{x - 7:.1f},2 {x + 7:.1f},2 {x:.1f},14"
    return [element("polygon", points=head, class_=class_), line(x, 14, x, AXIS, class_)]


def _scale(quantity: Quantity, marks: RuleMarks) -> _Scale:
    """A scale that shows the band with room on both sides, and every mark if it is near."""
    given = (marks.baseline, marks.reading, marks.prediction)
    shown = [value for value in given if value is not None]
    if marks.band is not None:
        middle, half = marks.band.target, marks.band.half_width
        reach = max([2.4 * half, *(abs(value - middle) * 1.12 for value in shown)])
        reach = min(reach, 14 * half)
    else:
        middle = shown[0] if shown else sum(quantity.limits) / 2
        reach = 4 * quantity.tolerance
    return _Scale(middle - reach, middle + reach, _step(2 * reach, quantity))


def _step(span: float, quantity: Quantity) -> float:
    division = 0.5 / MM_PER_INCH if _metric(quantity) else float(quantity.tool.division)
    for factor in (1, 2, 4, 5, 8, 10, 16, 20, 32):
        if span / (division * factor) <= 30:
            return division * factor
    return span / 20


def _label_every(scale: _Scale, quantity: Quantity) -> float:
    ladder: tuple[float, ...] = (1 / 32, 1 / 16, 1 / 8, 1 / 4, 1 / 2, 1, 2, 4, 8)
    if _metric(quantity):
        ladder = tuple(mm / MM_PER_INCH for mm in (0.5, 1, 2, 5, 10, 20, 50, 100, 200))
    elif quantity.unit != "in":
        ladder = (0.5, 1, 2, 5, 10, 20, 40, 80, 160)
    for step in ladder:
        fits = (scale.high - scale.low) / step <= (WIDTH - 2 * EDGE) / LABEL_ROOM
        if fits and step >= scale.step - 1e-9:
            return step
    return scale.high - scale.low


def _label(quantity: Quantity, value: float) -> str:
    if quantity.unit != "in":
        return f"{value:g}"
    return say_bare(abs(value) if quantity.directions else value, MIDWAY)


def _metric(quantity: Quantity) -> bool:
    return quantity.unit == "in" and length_unit() is LengthUnit.MILLIMETRES


def _description(quantity: Quantity, marks: RuleMarks) -> str:
    words = [quantity.name]
    if marks.band:
        words.append(f"band {quantity.say(marks.band.low)} to {quantity.say(marks.band.high)}")
    for name, value in (
        ("baseline", marks.baseline),
        ("stale reading" if marks.stale else "reading", marks.reading),
        ("predicted", marks.prediction),
    ):
        if value is not None:
            words.append(f"{name} {quantity.say(value)}")
    return ", ".join(words)
