"""What the set step shows: the newest set, what it needs next, what is moved over."""

from dataclasses import dataclass
from datetime import timedelta
from typing import Any

from django.http import HttpRequest
from django.utils import timezone

from bowcore.bow.specification import PartSpec
from bowcore.quantities.inches import say_bare
from bowcore.stages.string_set.arrival import STRING_LOAD_LBF
from bowcore.stages.string_set.step import StringSetStep
from bowcore.work_order.needs import FITTED, REST_CORD
from bowcore.work_order.supply import Supply, declined
from shop.casework.devices.interface import Delivered
from shop.casework.devices.registry import string_maker
from shop.casework.screens import Context, step_screen
from shop.casework.state import JobState
from shop.schema.string_sets.models import Component, MovedOver, StringSet
from shop.schema.string_sets.selectors import maker_names, sets_of
from shop.stages.string_set.actions import order_of
from shop.stages.string_set.forms import ArrivalForm, OrderForm

SPARE_TIME = timedelta(days=2)
"""A set is wanted so long before the bow was promised (common practice)."""
_TRAVELS = ("rest", "peep", "kisser", "silencers")


@dataclass(frozen=True)
class SupplyRow:
    """A new part, and where it comes from."""

    part: PartSpec
    source: str


@dataclass(frozen=True)
class ComponentRow:
    """A component to be measured, with what was typed, else what a tape has read."""

    component: Component
    at: dict[str, str]
    clipped: bool


@step_screen(StringSetStep.key)
def string_set(request: HttpRequest, state: JobState) -> tuple[str, Context]:
    """The set step. What was posted and refused is shown again."""
    every = sets_of(state.job.pk)
    newest = every[0] if every else None
    coming = newest if newest and newest.under_way else None
    names = {fitting.key: fitting for fitting in FITTED}
    wanted = _supply_rows(state)
    may_order = any(row.source != Supply.DECLINED for row in wanted) and coming is None
    return "string_set/string_set.html", {
        "may_supply": bool(wanted) and coming is None,
        "may_order": may_order,
        "set": newest,
        "earlier": every[1:],
        "coming": coming,
        "makers": maker_names() if may_order else [],
        "default_wanted": max(state.job.promised_on - SPARE_TIME, timezone.localdate()).isoformat(),
        "to_send": any(row.source == Supply.ORDER for row in wanted),
        "wanted": wanted,
        "load_lbf": STRING_LOAD_LBF,
        "rows": _component_rows(coming, request.POST) if coming else [],
        "prefix": ArrivalForm.prefix_of_rows,
        "supply_prefix": OrderForm.prefix_of_rows,
        "sources": [one.value for one in Supply],
        "shelf": Supply.SHELF.value,
        "moved": list(MovedOver.objects.filter(job=state.job)),
        "may_move": [names[key] for key in state.job.fitted if key in _TRAVELS],
        "contacts": _contacts(state, request.POST),
        "parts": state.spec.parts,
    }


def _supply_rows(state: JobState) -> list[SupplyRow]:
    """Every part that was asked for and is not on yet, those that were declined too."""
    facts, supply = state.facts, state.job.supply
    missing = [role for role in facts.still_to_replace if role not in facts.came]
    asked = dict.fromkeys((*missing, *declined(supply)))
    return [SupplyRow(state.spec.part(r), supply.get(r, Supply.ORDER.value)) for r in asked]


def _contacts(state: JobState, typed: Any) -> list[dict[str, str]]:
    """What on this bow must meet a served zone of the new set."""
    cord = state.marks.get(REST_CORD, "")
    found = []
    if "rest" in state.job.fitted:
        known = f"written down: {cord}" if cord else "empty: no cord"
        found.append({"key": "clamp", "name": "Rest cord’s clamp", "known": known})
    if not state.spec.limb_stop:
        known = "where its peg has worn the old one; empty: not known"
        found.append({"key": "stop", "name": "Draw stop’s contact", "known": known})
    return [
        one | {"at": typed.get(f"{one['key']}_in", ""), "role": typed.get(f"{one['key']}_role", "")}
        for one in found
    ]


def _component_rows(coming: StringSet, typed: Any) -> list[ComponentRow]:
    maker = string_maker()
    tape = {one.role: one for one in maker.deliver(order_of(coming))} if maker else {}
    return [
        _component_row(number, component, typed, tape.get(component.role))
        for number, component in enumerate(coming.components.all())
    ]


def _component_row(
    number: int, component: Component, typed: Any, tape: Delivered | None
) -> ComponentRow:
    names = ("length_in", "strands", "served_top_in", "served_bottom_in", "lay")
    prefix = f"{ArrivalForm.prefix_of_rows}-{number}"
    at = {name: typed.get(f"{prefix}-{name}", "") for name in names}
    posted = any(at.values())
    if tape is not None and not posted:
        at = {
            "length_in": say_bare(tape.length_in, 64),
            "strands": str(tape.strands),
            "served_top_in": say_bare(tape.served_top_in, 64),
            "served_bottom_in": say_bare(tape.served_bottom_in, 64),
        }
    return ComponentRow(component, at, not posted or f"{prefix}-clipped" in typed)
