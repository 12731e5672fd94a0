"""What the screens of arrows show."""

from collections.abc import Mapping, Sequence, Set
from dataclasses import dataclass
from typing import Any

from bowcore.accessories.arrow_build import LEAST_CLEARANCE_IN, CarbonState, SetArrow, sort_set
from bowcore.accessories.on_the_bow import ARROW, thing
from bowcore.errors import BadInput
from bowcore.quantities.inches import say_bare, say_length
from bowcore.stages.arrow.arrow_plan import plan_arrow, read_value, say_set
from bowcore.stages.fit.fit_needs import arrow_too_light
from bowcore.stages.speed.speed_board import say_least_mass
from bowcore.work_order import cautions
from shop.casework.forms import MOST_FORM_ROWS
from shop.casework.screens import Context
from shop.casework.state import JobState
from shop.schema.arrows.selectors import arrow_sets_of, arrows_in
from shop.schema.chronograph.selectors import speeds_of
from shop.stages.arrow.forms import CARBON_WORDS, PARTS_ASKED, PartsForm, SetForm
from shop.stages.shooting_in.pages import pages_of

ROWS_IN_A_SET = 12
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
    """A row of a set as it is typed, and whether its arrow is one of the chosen."""

    number: str
    mass: str = ""
    spine: str = ""
    carbon: str = CarbonState.NOT_YET.value
    chosen: bool = False


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
            form.chosen_spine(),
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
        "set_name": typed.get("name", name),
        "sets": [one.name for one in sets],
        "rows": _rows_typed(typed) or _rows_known(arrows, best),
        "carbon": [(one.value, words) for one, words in CARBON_WORDS.items()],
        "said": say_set(found) if found else [],
        "best": found.best if found else (),
        "caution": cautions.AT_THE_SHAFT,
        "pages": pages_of(state),
    }


def _rows_known(arrows: Sequence[SetArrow], best: Set[SetArrow]) -> list[SetRow]:
    """Every arrow that was weighed, and empty rows up to a dozen."""
    known = [
        SetRow(
            one.number,
            f"{one.mass_gr:g}",
            f"{one.spine:g}" if one.spine else "",
            one.carbon.value,
            one in best,
        )
        for one in arrows
    ]
    return [*known, *(SetRow(str(n + 1)) for n in range(len(known), ROWS_IN_A_SET))]


def _rows_typed(typed: Mapping[str, Any]) -> list[SetRow]:
    """Rows as they were posted and refused; none where nothing was posted."""
    names = ("number", "mass", "spine", "carbon")
    found: list[SetRow] = []
    while f"{SetForm.prefix_of_rows}-{len(found)}-mass" in typed and len(found) < MOST_FORM_ROWS:
        place = f"{SetForm.prefix_of_rows}-{len(found)}"
        found.append(SetRow(**{name: typed.get(f"{place}-{name}", "") for name in names}))
    return found
