"""What is on a bow, with the details that the fit asks for: arrow, rest, ties, loop, peep, sight and so on.

Each thing is written down once, kept with its history, and carried from visit to visit.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Any

from bowcore.accessories.arrow import Arrow, class_of_spine
from bowcore.accessories.centre_shot import CENTRE_METHODS, CentreMethod
from bowcore.accessories.rest_cord import (
    ANYWHERE,
    ARM_LIFT_IN,
    CLAMP_WIDTH_IN,
    DRIVERS,
    LONGEST_RUN_IN,
    Clamp,
    Driver,
)
from bowcore.accessories.sight import AXES, SightGeometry, SightMark
from bowcore.accessories.ties import TIE_METHODS, TieMethod
from bowcore.errors import BadInput, Unreadable
from bowcore.quantities.inches import parse_inches, say_bare
from bowcore.quantities.units import MM_PER_INCH, LengthUnit, length_unit

ARROW, REST, TIES, LOOP, PEEP, KISSER, SIGHT, WEIGHTS = (
    "arrow", "rest", "ties", "loop", "peep", "kisser", "sight", "weights",
)  # fmt: skip
MOST_WORDS = 80
REST_HOLE_IN = 5 / 16
"""Diameter of the threaded rest hole (common practice, no published source)."""
THIN_IN = 0.6
"""What is thinner than this is said in thousandths."""


DetailValue = float | str | list[float]
"""A detail as it is kept."""


class DetailKind(StrEnum):
    """How a detail is typed."""

    LENGTH = "length"
    NUMBER = "number"
    NUMBERS = "numbers"
    CHOICE = "choice"
    WORDS = "words"


@dataclass(frozen=True)
class Detail:
    """One thing that is known of something on the bow. Lengths in inches; `must` where nothing is computed
    without it; `only` are the values of `of` for which it is asked. `in_line` is how it is said in a line
    about the thing, "" where it is left out there."""

    key: str
    name: str
    kind: DetailKind = DetailKind.WORDS
    unit: str = ""
    choices: Mapping[str, str] = field(default_factory=dict)
    limits: tuple[float, float] = (0, 1000)
    must: bool = False
    in_line: str = ""
    of: str = ""
    only: tuple[str, ...] = ()

    def asked(self, others: Mapping[str, Any]) -> bool:
        """Whether it is asked for, given the other details."""
        return not self.only or others.get(self.of) in self.only

    def read(self, text: str) -> DetailValue:
        """What was typed, as it is kept.

        Raises
        ------
        BadInput
            Not one of the choices, no number, or one that nothing on a bow has.
        """
        if self.kind is DetailKind.CHOICE:
            if text not in self.choices:
                raise BadInput(
                    f"{self.name}: choose one.", self.key, ", ".join(self.choices.values())
                )
            return text
        if self.kind is DetailKind.WORDS:
            return text[:MOST_WORDS]
        if self.kind is DetailKind.NUMBERS:
            return [self._number(one) for one in text.replace(",", " ").split()]
        return self._number(text)

    def _number(self, text: str) -> float:
        value, (low, high) = self._plain_number(text), self.limits
        if not low <= value <= high:
            allowed = f"{low:g} to {high:g} {self.unit}".strip()
            raise BadInput(f"{self.name} of {text}?", self.key, allowed)
        return value

    def _plain_number(self, text: str) -> float:
        plain = None if self.kind is DetailKind.LENGTH else LengthUnit.INCHES
        try:
            return float(parse_inches(text, plain=plain).value)
        except Unreadable:
            asked = (
                "write it as 27 1/2 or 27.5" if self.kind is DetailKind.LENGTH else "write a number"
            )
            raise BadInput(f"{self.name}: {asked}.", self.key) from None

    def allows(self, value: Any) -> bool:
        """Whether a value that is on file is one that could have been typed."""
        if self.kind is DetailKind.CHOICE:
            return isinstance(value, str) and value in self.choices
        if self.kind is DetailKind.WORDS:
            return isinstance(value, str)
        numbers = value if self.kind is DetailKind.NUMBERS and isinstance(value, list) else [value]
        low, high = self.limits
        plain = all(isinstance(n, (int, float)) and not isinstance(n, bool) for n in numbers)
        return plain and all(low <= n <= high for n in numbers)

    def as_typed(self, value: DetailValue) -> str:
        """A kept value as it would be typed again, in the shop's unit."""
        if isinstance(value, list):
            return ", ".join(f"{one:g}" for one in value)
        if isinstance(value, str):
            return value
        if self.kind is not DetailKind.LENGTH:
            return f"{value:g}"
        if self.limits[1] > THIN_IN:
            return say_bare(value, 64)
        metric = length_unit() is LengthUnit.MILLIMETRES
        return f"{value * MM_PER_INCH:.2f}" if metric else f"{value:.3f}".lstrip("0")

    def say(self, value: DetailValue) -> str:
        """A kept value in words."""
        if self.kind is DetailKind.CHOICE:
            return self.choices.get(str(value), str(value))
        if self.kind is DetailKind.LENGTH:
            return f"{self.as_typed(value)} {length_unit().sign}"
        unit = self.unit if self.kind is DetailKind.NUMBER else ""
        return f"{self.as_typed(value)} {unit}".strip()


@dataclass(frozen=True)
class Thing:
    """Something on a bow, what is known of it, and why it is asked."""

    key: str
    name: str
    why: str
    details: tuple[Detail, ...]

    def read(self, typed: Mapping[str, str]) -> dict[str, DetailValue]:
        """Details as they were typed, as they are kept; what is not asked or left empty is left out.

        Raises
        ------
        BadInput
            One of them cannot be used, or one that is a must is missing.
        """
        found: dict[str, DetailValue] = {}
        for detail in self.details:
            text = typed.get(detail.key, "").strip()
            if not detail.asked(found):
                continue
            if text:
                found[detail.key] = detail.read(text)
            elif detail.must:
                raise BadInput(f"{self.name}: {detail.name.lower()} is missing.", detail.key)
        if self.key == ARROW:
            _arrow(found)
        if self.key == SIGHT:
            _require_a_place_each(found)
        return found

    def usable(self, details: Any) -> bool:
        """Whether details that are on file are what could have been typed."""
        if not isinstance(details, dict):
            return False
        return all(
            one.allows(details[one.key]) if one.key in details else not one.must
            for one in self.details
        )

    def say(self, details: Mapping[str, Any]) -> str:
        """What is known of it, in a line."""
        shown = (one for one in self.details if one.in_line and one.key in details)
        words = [one.in_line.format(one.say(details[one.key])) for one in shown]
        ahead = _arrow(details).forward_of_centre if self.key == ARROW and words else None
        if ahead is not None:
            words.append(f"FOC {ahead:.1%}")
        return ", ".join(words)


def _length(
    key: str, name: str, low: float, high: float, must: bool = False, **more: Any
) -> Detail:
    return Detail(key, name, DetailKind.LENGTH, "in", limits=(low, high), must=must, **more)


def _number(
    key: str, name: str, unit: str, low: float, high: float, must: bool = False, **more: Any
) -> Detail:
    """A number with its unit."""
    return Detail(key, name, DetailKind.NUMBER, unit, limits=(low, high), must=must, **more)


def _choice(
    key: str, name: str, choices: Mapping[Any, str], must: bool = False, **more: Any
) -> Detail:
    plain = {str(value): words for value, words in choices.items()}
    return Detail(key, name, DetailKind.CHOICE, choices=plain, must=must, **more)


FIXED, DROP_CABLE, DROP_LIMB, CAPTURED = "fixed", "drop_cable", "drop_limb", "captured"
DROPS = (DROP_CABLE, DROP_LIMB)
REST_KINDS = {
    FIXED: "Fixed blade", DROP_CABLE: "Drop-away, pulled up by a cable",
    DROP_LIMB: "Drop-away, let up by a limb", CAPTURED: "Captured, does not move",
}  # fmt: skip


class NockHold(StrEnum):
    """How the nock holds on the served string."""

    FALLS = "falls"
    CLICKS = "clicks"
    TIGHT = "tight"


NOCK_HOLDS = {
    NockHold.FALLS: "Falls off at a tap", NockHold.CLICKS: "Clicks on, and off at a tap",
    NockHold.TIGHT: "Tight",
}  # fmt: skip
PROVISIONAL, FINAL = "provisional", "final"
PEEP_TIED = {PROVISIONAL: "Tied for now", FINAL: "Tied for good"}

THINGS = (
    Thing(ARROW, "Arrow", "Nock, rest and sight are set for this arrow; it must not be too light.", (
        Detail("name", "Name", must=True, in_line="{}"),
        _choice("whose", "Whose", {"own": "The customer's own", "shop": "The shop's"}),
        _number("mass_gr", "Mass, complete", "gr", 100, 1500, must=True, in_line="{}"),
        _length("length_in", "Length, nock groove to cut", 15, 40, must=True, in_line="{} long"),
        _length("shaft_in", "Shaft's diameter", 0.1, 0.5, must=True, in_line="shaft {}"),
        Detail("nock", "Nock", in_line="{} nock"),
        _length("nock_in", "Nock's height between the ties", 0.1, 0.6),
        Detail("spine", "Spine", in_line="spine {}"),
        _number("point_gr", "Point", "gr", 20, 400),
        _length("balance_in", "Balances at, from the groove", 5, 40),
    )),
    Thing(REST, "Rest", "A drop-away rest has a cord that every twist moves.", (
        _choice("kind", "Kind", REST_KINDS, must=True, in_line="{}"),
        _choice("driver", "Cord goes to", DRIVERS, of="kind", only=DROPS),
        _length("clamp_in", "Clamp, from the lower cam or the limb's pocket", 0, 40, of="kind", only=DROPS,
                in_line="clamped at {}"),
        _length("served_to_in", "Its cable is served from the lower cam up to", 0, 40, of="kind",
                only=(DROP_CABLE,)),
        _length("served_from_in", "Served again from, upward", 0, 60, of="kind", only=(DROP_CABLE,)),
        _length("lift_in", "Cord that the arm takes, down to up", 0.2, 2, of="kind", only=DROPS),
        _choice("set_screw", "Set screw", {"in": "In and tight", "none": "Has none"}),
        _length("room_up_in", "Room left upward in its slot", 0, 2),
        _length("room_down_in", "Room left downward", 0, 2),
        _length("hole_in", "Rest hole's diameter, where it is not 5/16", 0.1, 1),
        _choice("centre_by", "Centre shot by", CENTRE_METHODS),
        _length("plane_in", "Riser's face to the string's plane", 0.1, 2),
    )),
    Thing(TIES, "Nock ties", "Too tight, and the nock is pinched at full draw.", (
        _choice("school", "Ties", TIE_METHODS, must=True, in_line="{}"),
        _length("above_in", "Thread above", 0.005, 0.05),
        _length("below_in", "Thread below", 0.005, 0.05),
        _length("height_in", "Height of one tie along the string", 0.02, 0.7),
        _choice("hold", "The nock on its serving", NOCK_HOLDS),
        _length("serving_in", "Diameter of the served string", 0.06, 0.2),
    )),
    Thing(LOOP, "Loop", "The release decides its length; how much cord it takes is learned.", (
        Detail("cord", "Cord", in_line="{}"),
        _length("cut_in", "Cord was cut to", 3, 9, in_line="cut to {}"),
        _choice("knots", "Knots", {"opposite": "On opposite sides", "same": "On the same side"}),
    )),
    Thing(PEEP, "Peep", "Tied for good only after some days on new threads.", (
        Detail("hole", "Hole", in_line="{}"),
        _length("height_in", "Its height, lower edge to top edge", 0.1, 1),
        Detail("split", "Strands on each side"),
        _choice("tied", "Tied", PEEP_TIED, in_line="{}"),
    )),
    Thing(KISSER, "Kisser", "The archer's anchor depends on it.", (Detail("what", "Which", in_line="{}"),)),
    Thing(SIGHT, "Sight", "A faster or slower bow needs other marks.", (
        Detail("name", "Name", in_line="{}"),
        _length("peep_to_pin_in", "Peep to pin at full draw", 15, 50, in_line="peep to pin {}"),
        _length("eye_above_arrow_in", "Peep above the arrow at full draw", 1, 8),
        Detail("marks", "Distances of its marks", DetailKind.NUMBERS, "yd", limits=(5, 200),
               in_line="marks at {} yd"),
        Detail("places", "Where each of them is on the bar, downward", DetailKind.NUMBERS, "in",
               limits=(-10, 20)),
        *(_choice(key, name, {"checked": "Checked", "open": "Not yet"}) for key, name, _ in AXES),
    )),
    Thing("quiver", "Quiver", "On or off, it turns the bow.", (Detail("what", "Which", in_line="{}"),)),
    Thing(WEIGHTS, "String weights", "Where they sit makes the bow faster or slower.", (
        _number("each_gr", "Mass at each end", "gr", 1, 100, in_line="{} at each end"),
        _length("from_cam_in", "From each cam", 0, 10, in_line="{} from each cam"),
    )),
    Thing("stabiliser", "Stabiliser", "As it is on.", (Detail("what", "Bars and weights", in_line="{}"),)),
)  # fmt: skip
"""In the order of work."""
_BY_KEY = {one.key: one for one in THINGS}


def thing(key: str) -> Thing:
    """The thing of that key; BadInput if it does not exist."""
    if key not in _BY_KEY:
        raise BadInput(f"Nothing on a bow is called '{key}'.", "thing", ", ".join(_BY_KEY))
    return _BY_KEY[key]


def _arrow(details: Mapping[str, Any]) -> Arrow:
    measured = ("mass_gr", "length_in", "shaft_in", "nock_in", "balance_in")
    figures = {key: float(details[key]) for key in measured if key in details}
    return Arrow(**figures, spine=class_of_spine(str(details.get("spine", ""))))


def _require_a_place_each(details: Mapping[str, Any]) -> None:
    distances, places = details.get("marks", []), details.get("places", [])
    if places and len(places) != len(distances):
        raise BadInput(
            f"{len(distances)} distances and {len(places)} places: write one place for each distance.",
            "places",
        )


def _measured(details: Mapping[str, Any], key: str) -> float | None:
    found = details.get(key)
    return None if found is None else float(found)


@dataclass(frozen=True)
class OnTheBow:
    """Everything that is written down of a bow, by thing: details by key, as `Thing.read` gave them."""

    details: Mapping[str, Mapping[str, Any]] = field(default_factory=dict)

    def of(self, key: str) -> Mapping[str, Any]:
        """Details of a thing; empty where nothing was written down."""
        return self.details.get(key, {})

    @property
    def arrow(self) -> Arrow | None:
        """The arrow that the bow is set up for."""
        return _arrow(self.of(ARROW)) if self.of(ARROW) else None

    @property
    def rest_drops(self) -> bool:
        return self.of(REST).get("kind") in DROPS

    @property
    def clamp(self) -> Clamp | None:
        """Where a drop-away rest's cord is clamped, if that was written down."""
        rest = self.of(REST)
        if not self.rest_drops or "driver" not in rest or "clamp_in" not in rest:
            return None
        return Clamp(Driver(rest["driver"]), float(rest["clamp_in"]))

    @property
    def served(self) -> tuple[tuple[float, float], ...]:
        """Stretches of the rest's cable on which a clamp holds, from where it leaves the lower cam; all of
        it where nobody has measured them. [in]"""
        upto, again = (_measured(self.of(REST), key) for key in ("served_to_in", "served_from_in"))
        if upto is None and again is None:
            return ANYWHERE
        low = () if upto is None else ((-CLAMP_WIDTH_IN, upto),)
        high = () if again is None else ((again, LONGEST_RUN_IN),)
        return (*low, *high)

    @property
    def lift_in(self) -> float:
        """Cord that the rest's arm takes. [in]"""
        return float(self.of(REST).get("lift_in", ARM_LIFT_IN))

    @property
    def tie_method(self) -> TieMethod | None:
        """How its nock is tied; None where nobody has said."""
        found = self.of(TIES).get("school")
        return None if found is None else TieMethod(found)

    @property
    def tie_height_in(self) -> float | None:
        """Height of one tie along the string; None where nobody has measured it. [in]"""
        return _measured(self.of(TIES), "height_in")

    @property
    def peep_height_in(self) -> float | None:
        """Height of the peep itself along the string; None where nobody has measured it. [in]"""
        return _measured(self.of(PEEP), "height_in")

    @property
    def tied(self) -> bool:
        """Whether its nock sits between ties, or beside one."""
        return self.tie_method not in (None, TieMethod.NONE)

    @property
    def nock_is_tied(self) -> bool:
        """Whether ties hold its nock, or nobody has said that they do not."""
        return self.tie_method is not TieMethod.NONE

    @property
    def sight(self) -> SightGeometry | None:
        """Where eye and pin are, if both were measured."""
        sight = self.of(SIGHT)
        if "peep_to_pin_in" not in sight or "eye_above_arrow_in" not in sight:
            return None
        return SightGeometry(float(sight["peep_to_pin_in"]), float(sight["eye_above_arrow_in"]))

    @property
    def shot_marks(self) -> tuple[SightMark, ...]:
        """The archer's own marks, the nearest first; none unless each distance has its place."""
        sight = self.of(SIGHT)
        distances, places = sight.get("marks", []), sight.get("places", [])
        if len(distances) != len(places):
            return ()
        pairs = sorted(zip(distances, places, strict=True))
        return tuple(SightMark(float(yards), float(place)) for yards, place in pairs)

    @property
    def hole_in(self) -> float:
        """Diameter of the rest's hole. [in]"""
        return float(self.of(REST).get("hole_in", REST_HOLE_IN))

    @property
    def string_plane_in(self) -> float | None:
        """From the riser's face out to the string's plane; None where nobody has measured it. [in]"""
        return _measured(self.of(REST), "plane_in")

    @property
    def weights_in(self) -> float | None:
        """Where the string weights sit, from each cam; None where none are known. [in]"""
        return _measured(self.of(WEIGHTS), "from_cam_in")

    def room_in(self, up: bool) -> float | None:
        """How far the rest can still go in its slot. [in]"""
        return _measured(self.of(REST), "room_up_in" if up else "room_down_in")

    @property
    def features(self) -> frozenset[str]:
        """What it has that a quantity may need."""
        gauged = self.of(REST).get("centre_by") in (CentreMethod.GAUGE, CentreMethod.LASER)
        has = {"drop_away": self.rest_drops, "ties": self.tied, "gauged": gauged}
        return frozenset(key for key, found in has.items() if found)


NOTHING_WRITTEN_DOWN = OnTheBow()
