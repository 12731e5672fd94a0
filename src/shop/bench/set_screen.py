"""What the set step shows."""

from collections.abc import Mapping
from typing import Any

from bowcore.quantities.inches import say_inches
from bowcore.service.needs import FITTED
from shop.bench.actions.string_set import order_of
from shop.devices import string_maker
from shop.devices.models import BenchBow
from shop.jobs.models import MovedOver
from shop.sets.models import Component, StringSet
from shop.sets.selectors import sets_of
from shop.tuning.selectors import View

MAKERS = ("Ferrand Cordage", "Halyard & Twine", "Loomwright")


def screen(view: View, typed: Mapping[str, str]) -> dict[str, Any]:
    """What the set step shows: the newest set, what it needs next, what goes over.

    `typed` is what was posted and refused; it is shown again.
    """
    every = sets_of(view.job.pk)
    newest = every[0] if every else None
    coming = newest if newest and newest.state in (StringSet.ORDERED, StringSet.CONFIRMED) else None
    tape = _tape(view, coming)
    moved = list(MovedOver.objects.filter(job=view.job))
    names = {f.key: f for f in FITTED}
    return {
        "set": newest, "earlier": every[1:], "coming": coming, "makers": MAKERS,
        "wanted": [view.spec.part(role) for role in view.facts.still_to_replace],
        "rows": [_row(c, typed, tape.get(c.role)) for c in coming.components.all()] if coming else [],
        "moved": moved, "may_move": [names[k] for k in view.job.fitted if k in _TRAVELS],
        "contacts": _contacts(view, typed), "cables": view.spec.parts,
    }  # fmt: skip


def _contacts(view: View, typed: Mapping[str, str]) -> list[dict[str, str]]:
    """What on this bow must meet a served zone of the new set."""
    cord = view.facts.marks.get("rest_cord", "")
    found = []
    if "rest" in view.job.fitted:
        known = f"written down: {cord}" if cord else "empty: no cord"
        found.append({"key": "clamp", "name": "Rest cord’s clamp", "known": known})
    if not view.spec.limb_stop:
        known = "where its peg has worn the old one; empty: not known"
        found.append({"key": "stop", "name": "Draw stop’s contact", "known": known})
    return [
        one | {"at": typed.get(f"{one['key']}_in", ""), "role": typed.get(f"{one['key']}_role", "")}
        for one in found
    ]


def _tape(view: View, coming: StringSet | None) -> dict[str, string_maker.Delivered]:
    """What the tape on the simulated bench has measured of a set already, by role."""
    if coming is None or not BenchBow.objects.filter(job=view.job).exists():
        return {}
    return {came.role: came for came in string_maker.deliver(order_of(coming))}


def _row(
    component: Component, typed: Mapping[str, str], tape: string_maker.Delivered | None
) -> dict[str, Any]:
    """A component to be measured, with what was typed, else what the tape says."""
    names = ("length", "strands", "top", "bottom")
    at = {name: typed.get(f"{name}-{component.role}", "") for name in names}
    if tape is not None and not any(at.values()):
        at = {
            "length": say_inches(tape.length_in, 64), "strands": str(tape.strands),
            "top": say_inches(tape.served_top_in, 64), "bottom": say_inches(tape.served_bottom_in, 64),
        }  # fmt: skip
    return {"component": component, "at": at}


_TRAVELS = ("rest", "peep", "kisser", "silencers")
