"""The string's middle to scale, from the side and from above: nock, peep, loop, arrow, rest, riser.

Every distance is the number that was read; what was not read is drawn where it usually is, and says so.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field

from django.utils.safestring import SafeString

from bowcore.accessories.on_the_bow import REST_HOLE_IN
from bowcore.quantities.catalogue import quantity
from shop.drawings.svg import element, line, picture, text

PIXELS_AN_INCH = 32.0
"""Pixels for an inch, the same across and up; heights of the arrow are drawn four times as large."""
LARGER = 4.0
WIDTH, HEIGHT, ABOVE_HEIGHT = 340, 300, 130
NOCK_Y = 228.0
STRING_X = 232.0
USUAL = {"peep": 5.0, "kisser": 1.2, "loop": 0.56, "shaft": 0.25}
LABEL_X = STRING_X + 14


@dataclass(frozen=True)
class FitFigures:
    """What the drawings show. [in] None: not read, or not on the bow."""

    brace_in: float
    peep_in: float | None = None
    kisser_in: float | None = None
    loop_in: float | None = None
    level_in: float | None = None
    height_in: float | None = None
    play_in: float | None = None
    centre_in: float | None = None
    centre_wanted_in: float | None = None
    shaft_in: float | None = None
    has_peep: bool = True
    has_kisser: bool = False
    has_loop: bool = True
    left_handed: bool = False
    asked: str = ""
    opens: Mapping[str, str] = field(default_factory=dict)
    """Key of the reading that is being typed; by key, the address that opens a reading of this bow."""


def fit_from_the_side(now: FitFigures) -> SafeString:
    """The string with what sits on it, the arrow on its rest, the rest's hole."""
    parts = [line(STRING_X, 12, STRING_X, HEIGHT - 16, "string"), *_arrow(now), *_ties(now)]
    if now.has_peep:
        parts += _peep(now)
    if now.has_kisser:
        parts += _on_string(now, "kisser", "nock_to_kisser", now.kisser_in)
    if now.has_loop:
        parts += _loop(now)
    note = f"to scale; the arrow's slope {LARGER:g} times as steep"
    parts.append(text(8, HEIGHT - 6, note, class_="note"))
    role = "group" if now.opens else "img"
    return picture(WIDTH, HEIGHT, "The middle of the string from the side", "fit", parts, role)


def _value(now: FitFigures, key: str, words: str, x: float, y: float, anchor: str = "start") -> str:
    """A reading beside its line; where it may be typed, it opens that reading."""
    here = " here" if key == now.asked else ""
    label = text(x, y, words, class_=f"value{here}", text_anchor=anchor)
    return element("a", label, href=now.opens[key]) if key in now.opens else label


def fit_from_above(now: FitFigures) -> SafeString:
    """The arrow against the riser's face: where it is, and where it should be."""
    out = 1.0 if now.left_handed else -1.0
    face, span = ABOVE_HEIGHT / 2 - out * 30, 2.2 * PIXELS_AN_INCH
    where = now.centre_in if now.centre_in is not None else now.centre_wanted_in
    parts = [
        line(16, face, WIDTH - 60, face, "riser-face"),
        text(16, face + (18 if out < 0 else -8), "riser's face", class_="note"),
    ]
    if now.centre_wanted_in is not None:
        wanted = face + out * now.centre_wanted_in * span / 2
        parts.append(line(16, wanted, WIDTH - 20, wanted, "wanted"))
    if where is not None:
        y = face + out * where * span / 2
        parts.append(
            line(24, y, STRING_X, y, "shaft" if now.centre_in is not None else "shaft guess")
        )
        what = quantity("centre_shot")
        words = (
            f"{what.say(where)} {what.sign}"
            if now.centre_in is not None
            else "centre shot not read"
        )
        parts.append(_value(now, what.key, words, STRING_X - 4, y - 8, "end"))
    parts.append(
        element("circle", cx=STRING_X, cy=face + out * (where or 0.8) * span / 2, r=4, class_="dot")
    )
    parts.append(text(STRING_X + 10, ABOVE_HEIGHT - 8, "string", class_="note"))
    role = "group" if now.opens else "img"
    return picture(WIDTH, ABOVE_HEIGHT, "The arrow from above", "fit", parts, role)


def _arrow(now: FitFigures) -> list[str]:
    """The arrow from nock to rest; the nock is where the string is."""
    level = now.level_in or 0.0
    rest_x = STRING_X - min(now.brace_in, 7.0) * PIXELS_AN_INCH
    rest_y = NOCK_Y + level * LARGER * PIXELS_AN_INCH / 4
    thick = max((now.shaft_in or USUAL["shaft"]) * PIXELS_AN_INCH, 5.0)
    shown = "shaft" if now.level_in is not None else "shaft guess"
    shaft = element(
        "line",
        x1=rest_x - 18,
        y1=rest_y,
        x2=STRING_X - 6,
        y2=NOCK_Y,
        class_=shown,
        stroke_width=thick,
    )
    nock = element(
        "path", d=f"M{STRING_X - 14},{NOCK_Y - 6} h12 v4 h-6 v4 h6 v4 h-12 z", class_="nock"
    )
    drop = (now.height_in or 0.0) * PIXELS_AN_INCH
    hole_y = NOCK_Y + drop
    hole = element(
        "circle", cx=rest_x, cy=hole_y, r=REST_HOLE_IN / 2 * PIXELS_AN_INCH, class_="hole"
    )
    rest = element("path", d=f"M{rest_x - 9},{rest_y + thick / 2} h18 l-9,16 z", class_="rest")
    words = quantity("arrow_level").say(level) if now.level_in is not None else "level not read"
    label = _value(now, "arrow_level", words, rest_x - 8, rest_y - 18)
    return [hole, shaft, nock, rest, label, *_height_of_nock(now, rest_x, hole_y)]


def _height_of_nock(now: FitFigures, rest_x: float, hole_y: float) -> list[str]:
    """The nock's height against the rest's hole."""
    if now.height_in is None:
        return []
    words = f"nock height {quantity('nock_height').say(now.height_in)}"
    low = max(hole_y, NOCK_Y) + 38
    return [_value(now, "nock_height", words, rest_x - 8, low)]


def _ties(now: FitFigures) -> list[str]:
    top, under = NOCK_Y - 10, NOCK_Y + 6
    ties = [
        element("rect", x=STRING_X - 4, y=y, width=8, height=4, class_="tie") for y in (top, under)
    ]
    if now.play_in is None:
        return ties
    what = quantity("nock_gap")
    words = f"play {what.say(now.play_in)} {what.sign}"
    return [*ties, _value(now, what.key, words, STRING_X - 12, NOCK_Y - 18, "end")]


def _peep(now: FitFigures) -> list[str]:
    y = NOCK_Y - (now.peep_in if now.peep_in is not None else USUAL["peep"]) * PIXELS_AN_INCH
    peep = element("ellipse", cx=STRING_X, cy=y, rx=6, ry=11, class_="peep")
    return [peep, *_height_label(now, "nock_to_peep", now.peep_in, y)]


def _on_string(now: FitFigures, name: str, key: str, value: float | None) -> list[str]:
    y = NOCK_Y - (value if value is not None else USUAL[name]) * PIXELS_AN_INCH
    button = element("rect", x=STRING_X - 5, y=y - 4, width=10, height=8, class_="tie")
    return [button, *_height_label(now, key, value, y)]


def _height_label(now: FitFigures, key: str, value: float | None, y: float) -> list[str]:
    what = quantity(key)
    words = f"{what.say(value)} {what.sign}" if value is not None else "not read"
    side = LABEL_X + 26
    return [
        line(side, y, side, NOCK_Y, "span"),
        line(STRING_X + 8, y, side + 5, y, "span"),
        _value(now, key, words, side + 8, (y + NOCK_Y) / 2),
    ]


def _loop(now: FitFigures) -> list[str]:
    reach = (now.loop_in if now.loop_in is not None else USUAL["loop"]) * PIXELS_AN_INCH
    loop = element("ellipse", cx=STRING_X + reach / 2, cy=NOCK_Y, rx=reach / 2, ry=9, class_="loop")
    what = quantity("loop_length")
    words = "loop not read" if now.loop_in is None else f"loop {what.say(now.loop_in)} {what.sign}"
    return [loop, _value(now, what.key, words, STRING_X + 4, NOCK_Y + 34)]
