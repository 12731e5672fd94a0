"""A set for a job: ordered, arrived and judged; what travels over from the old one."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Any

from django.utils import timezone

from bowcore.errors import BadInput, Refused
from bowcore.service.arrival import (
    Arrived,
    Contact,
    Judged,
    Word,
    judge,
    judge_contacts,
    set_word,
    with_contacts,
)
from bowcore.service.needs import FITTED
from shop.bench.actions.rules import require_act, require_open
from shop.bows.models import Part
from shop.devices import string_maker
from shop.jobs.models import Hold, MovedOver
from shop.records.deeds import Act, Stamp, on_job
from shop.sets.models import Component, StringSet
from shop.tuning.selectors import View, view_of


def order_set(job_id: int, maker: str, stamp: Stamp) -> StringSet:
    """Order every part that is still to be replaced.

    Raises
    ------
    Refused
        Nothing is to be replaced, a set is on its way already, or the person may not order.
    BadInput
        No maker was named.
    """
    with on_job(job_id, "order_set", stamp) as act:
        view = view_of(act.job)
        require_act(stamp.by, "order_set", view)
        if not maker.strip():
            raise BadInput("From which string maker?", "maker")
        if StringSet.objects.filter(job=act.job, state__in=_UNDER_WAY).exists():
            raise Refused("A set for this bow is on its way already.")
        parts = [view.spec.part(role) for role in view.facts.still_to_replace]
        if not parts:
            raise Refused("Nothing is to be replaced on this job.")
        found = StringSet.objects.create(job=act.job, maker=maker.strip()[:60], ordered_by=stamp.by)
        for part in parts:
            Component.objects.create(
                set=found, role=part.role, label=part.label, strands=part.strands,
                ordered_in=Decimal(str(part.length_in)),
            )  # fmt: skip
        _confirmed(found)
        _wait(act, found)
        names = ", ".join(part.label.lower() for part in parts)
        act.said = f"ordered {names} from {found.maker}, ships {found.ships_on:%d %b}"
        return found


@dataclass(frozen=True)
class Measured:
    """A component as measured on arrival, under load, loop to loop. [in]"""

    role: str
    length_in: Decimal
    strands: int
    served_top_in: Decimal | None = None
    served_bottom_in: Decimal | None = None
    clipped: bool = True


def set_arrived(
    job_id: int, measured: Sequence[Measured], contacts: Sequence[Contact], stamp: Stamp
) -> StringSet:
    """Judge every component of the set that was under way; a wrong one goes back.

    Raises
    ------
    Refused
        No set is under way, or a component was not measured.
    BadInput
        A length or a count that no string has.
    """
    with on_job(job_id, "set_arrived", stamp) as act:
        view = view_of(act.job)
        require_open(view)
        found = StringSet.objects.filter(job=act.job, state__in=_UNDER_WAY).first()
        if found is None:
            raise Refused("No set for this bow is under way.")
        came = {one.role: one for one in measured}
        verdicts = []
        for component in found.components.all():
            if component.role not in came:
                raise Refused(f"{component.label}: measure it too.")
            verdicts.append(_judged(view, component, came[component.role], contacts))
        word = set_word(verdicts)
        found.state = StringSet.BACK if word is Word.BACK else StringSet.HERE
        found.arrived_at = timezone.now()
        found.save()
        if found.state == StringSet.HERE:
            _wait_no_longer(act, stamp)
        act.said = f"set from {found.maker} has come: {word.value}"
        return found


def move_over(job_id: int, fittings: Sequence[str], note: str, stamp: Stamp) -> list[MovedOver]:
    """Write down what is reused: it travels from the old set to the new one."""
    names = {fitting.key: fitting.name for fitting in FITTED}
    with on_job(job_id, "move_over", stamp) as act:
        view = view_of(act.job)
        require_act(stamp.by, "change", view)
        strange = [key for key in fittings if key not in names]
        if strange or not fittings:
            raise BadInput("What goes over to the new set?", "fittings", ", ".join(names.values()))
        act.said = "goes over to the new set: " + ", ".join(names[key].lower() for key in fittings)
        return [
            MovedOver.objects.create(**act.fact, fitting=key, note=note.strip()[:120])
            for key in fittings
        ]


def order_of(found: StringSet) -> dict[str, Any]:
    """The order of a set as it is sent."""
    parts = [
        {"role": c.role, "label": c.label, "length_in": float(c.ordered_in), "strands": c.strands}
        for c in found.components.all()
    ]
    return string_maker.order(found.pk, found.maker, str(found.job.bow.entry), parts)


_UNDER_WAY = (StringSet.ORDERED, StringSet.CONFIRMED)


def _confirmed(found: StringSet) -> None:
    answer = string_maker.confirm(order_of(found), timezone.localdate())
    found.state, found.reference = StringSet.CONFIRMED, answer["reference"]
    found.ships_on = date.fromisoformat(answer["ships_on"])
    found.save()


def _judged(view: View, component: Component, one: Measured, contacts: Sequence[Contact]) -> Judged:
    part = view.spec.part(component.role)
    served = [one.served_top_in, one.served_bottom_in]
    ends = tuple(float(x) for x in served if x is not None)
    came = Arrived(one.role, float(one.length_in), one.strands, ends, one.clipped)
    old = view.job.bow.parts.filter(role=one.role, state=Part.FITTED).order_by("-pk").first()
    measured_here = old is not None and view.facts.replaced.count(one.role)
    verdict = judge(part, came, float(old.length_in) if old and measured_here else None)
    verdict = with_contacts(verdict, judge_contacts(came, contacts))
    component.came_in, component.came_strands = one.length_in, one.strands
    component.served_top_in, component.served_bottom_in = served
    component.clipped, component.word = one.clipped, verdict.word.value
    component.reasons = list(verdict.reasons)
    component.save()
    return verdict


def _wait(act: Act, found: StringSet) -> None:
    if not act.job.holds.filter(kind="set", lifted_at=None).exists():
        reason = f"ordered from {found.maker}, ships {found.ships_on:%d %b}"
        Hold.objects.create(job=act.job, kind="set", reason=reason, placed_by=act.by)


def _wait_no_longer(act: Act, stamp: Stamp) -> None:
    for hold in act.job.holds.filter(kind="set", lifted_at=None):
        hold.lifted_by, hold.lifted_at = stamp.by, timezone.now()
        hold.lifted_because = "the set is here and to length"
        hold.save()
