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
    coming = newest is not None and newest.state in (StringSet.ORDERED, StringSet.CONFIRMED)
    moved = list(MovedOver.objects.filter(job=view.job))
    names = {f.key: f for f in FITTED}
    return {
        "set": newest, "earlier": every[1:], "coming": coming, "makers": MAKERS,
        "wanted": [view.spec.part(role) for role in view.facts.still_to_replace],
        "rows": [_row(view, c, typed) for c in newest.components.all()] if newest and coming else [],
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


def _row(view: View, component: Component, typed: Mapping[str, str]) -> dict[str, Any]:
    """A component to be measured; on the simulated bench the tape has measured it already."""
    at = {
        key: typed.get(f"{key}-{component.role}", "")
        for key in ("length", "strands", "top", "bottom")
    }
    if not any(at.values()) and BenchBow.objects.filter(job=view.job).exists():
        sent = order_of(component.set)
        found = next(d for d in string_maker.deliver(sent) if d.role == component.role)
        at = {
            "length": say_inches(found.length_in, 64), "strands": str(found.strands),
            "top": say_inches(found.served_top_in, 64), "bottom": say_inches(found.served_bottom_in, 64),
        }  # fmt: skip
    return {"component": component, "at": at}


_TRAVELS = ("rest", "peep", "kisser", "silencers")
