"""What the set step shows."""

from typing import Any

from bowcore.service.needs import FITTED
from shop.bench.actions.string_set import order_of
from shop.devices import string_maker
from shop.devices.models import BenchBow
from shop.jobs.models import MovedOver
from shop.sets.models import Component, StringSet
from shop.sets.selectors import sets_of
from shop.tuning.selectors import View

MAKERS = ("Ferrand Cordage", "Halyard & Twine", "Loomwright")


def screen(view: View) -> dict[str, Any]:
    """What the set step shows: the newest set, what it needs next, what goes over."""
    every = sets_of(view.job.pk)
    newest = every[0] if every else None
    coming = newest is not None and newest.state in (StringSet.ORDERED, StringSet.CONFIRMED)
    moved = list(MovedOver.objects.filter(job=view.job))
    names = {f.key: f for f in FITTED}
    return {
        "set": newest, "earlier": every[1:], "coming": coming, "makers": MAKERS,
        "wanted": [view.spec.part(role) for role in view.facts.still_to_replace],
        "rows": [_row(view, c) for c in newest.components.all()] if newest and coming else [],
        "moved": moved, "may_move": [names[k] for k in view.job.fitted if k in _TRAVELS],
        "rest_cord": view.facts.marks.get("rest_cord", ""), "cables": view.spec.parts,
    }  # fmt: skip


def _row(view: View, component: Component) -> dict[str, Any]:
    """A component to be measured; on the simulated bench the tape has measured it already."""
    found = None
    if BenchBow.objects.filter(job=view.job).exists():
        sent = order_of(component.set)
        found = next(d for d in string_maker.deliver(sent) if d.role == component.role)
    return {"component": component, "tape": found}


_TRAVELS = ("rest", "peep", "kisser", "silencers")
