"""What the screens of arrows show."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from bowcore.errors import BadInput
from bowcore.fitting.arrow_build import LEAST_CLEARANCE_IN, SetArrow, sort_set
from bowcore.fitting.on_the_bow import ARROW, thing
from bowcore.quantities.inches import say_bare, say_length
from bowcore.workflow import cautions
from bowcore.workflow.arrow_plan import plan_arrow, read_value, say_set
from bowcore.workflow.fit_needs import arrow_too_light
from bowcore.workflow.speed_board import say_least_mass
from shop.arrows.forms import CARBON_WORDS, PartsForm
from shop.arrows.selectors import arrow_sets_of, arrows_in
from shop.chronograph.selectors import speeds_of
from shop.jobs.screens import Context
from shop.jobs.state import JobState
from shop.tuning.pages import pages_of

ROWS_IN_A_SET = 12
PARTS_ASKED = (
    ("draw_length", "Draw length", "in"), ("rest_ahead", "Rest ahead of the throat", "in, − behind it"),
    ("clearance", "Shaft ahead of the rest at full draw", "in"),
    ("length", "Length, if it is cut already", "in"), ("shaft_gr_per_in", "Bare shaft", "gr an inch"),
    ("shaft_in", "Shaft's diameter", "in"), ("point", "Point", "gr"), ("insert", "Insert", "gr"),
    ("nock", "Nock", "gr"), ("fletching", "Fletching", "gr"), ("wrap", "Wrap", "gr"),
)  # fmt: skip
_SAME_AS_DETAIL = {"shaft_in": "shaft_in", "point": "point_gr"}


@dataclass(frozen=True)
class PartField:
    """A figure of the arrow that is asked for, and what is known of it."""

    name: str
    label: str
    unit: str
    value: str


@dataclass(frozen=True)
class SetRow:
    """An arrow of a set as it is shown: in the set, left out, or broken."""

    arrow: SetArrow
    chosen: bool

    @property
    def carbon(self) -> str:
        return CARBON_WORDS[self.arrow.carbon]


def arrow_context(state: JobState, typed: Mapping[str, Any]) -> Context:
    """The parts of an arrow to be put together, and what it would be."""
    own = state.on_bow.of(ARROW)
    form = PartsForm(typed or _known(state))
    return {
        "fields": _fields(state, typed),
        "name": typed.get("name", own.get("name", "")),
        "spine": typed.get("spine", own.get("spine", "")),
        "known": thing(ARROW).say(own) if own else "",
        "least": say_least_mass(state.facts),
        "stop": arrow_too_light(state.facts),
        "caution": cautions.AT_THE_SHAFT,
        "pages": pages_of(state),
        **arrow_plan_context(state, form),
    }


def arrow_plan_context(state: JobState, form: PartsForm) -> Context:
    """What an arrow of these parts would be; what is missing where it cannot be said yet."""
    if not form.is_valid():
        missing = (
            "Write the bare shaft's mass an inch and the point: mass, balance and spine follow."
        )
        return {"plan": None, "missing": missing}
    try:
        cut, parts = form.cut_in(), form.parts()
        plan = plan_arrow(
            state.facts,
            parts,
            form.class_of_spine(),
            speeds_of(state.job),
            state.fit_bow().twin_now,
        )
    except BadInput as error:
        return {"plan": None, "missing": str(error)}
    return {"plan": plan, "cut": "" if cut is None else say_length(cut, 16)}


def _fields(state: JobState, typed: Mapping[str, Any]) -> list[PartField]:
    known = _known(state) | {name: typed[name] for name in typed}
    return [PartField(name, label, unit, known.get(name, "")) for name, label, unit in PARTS_ASKED]


def _known(state: JobState) -> dict[str, str]:
    """What was read or written down before, as it would be typed."""
    own = state.on_bow.of(ARROW)
    details = {one.key: one for one in thing(ARROW).details}
    found = {"clearance": say_bare(LEAST_CLEARANCE_IN, 8)}
    draw = read_value(state.facts, "draw_length")
    if draw is not None:
        found["draw_length"] = say_bare(draw, 16)
    return found | {
        name: details[key].as_typed(own[key]) for name, key in _SAME_AS_DETAIL.items() if key in own
    }


def set_context(state: JobState, typed: Mapping[str, Any]) -> Context:
    """A set to be weighed, and which of its arrows belong together."""
    sets = arrow_sets_of(state.job)
    name = typed.get("name") or (sets[0].name if sets else "")
    chosen = next((one for one in sets if one.name == name), None)
    arrows = arrows_in(chosen) if chosen else []
    found = sort_set(arrows) if arrows else None
    best = set(found.best) if found else set()
    return {
        "set_name": name,
        "sets": [one.name for one in sets],
        "rows": [SetRow(one, one in best) for one in arrows],
        "blank": range(len(arrows), max(ROWS_IN_A_SET, len(arrows))),
        "row_total": max(ROWS_IN_A_SET, len(arrows)),
        "carbon": [(one.value, words) for one, words in CARBON_WORDS.items()],
        "said": say_set(found) if found else [],
        "best": found.best if found else (),
        "caution": cautions.AT_THE_SHAFT,
        "pages": pages_of(state),
    }
