"""A set for a job: ordered, arrived and judged; what is moved over from the old one."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal
from typing import Any

from django.utils import timezone

from bowcore.bow.lay import lay_of, mixed
from bowcore.bow.specification import PartSpec
from bowcore.errors import BadInput, Refused
from bowcore.stages.string_set.arrival import (
    ArrivalVerdict,
    Arrived,
    Contact,
    JudgedComponent,
    LengthKnown,
    judge_component,
    judge_contacts,
    set_verdict,
    with_remarks,
)
from bowcore.work_order.needs import FITTED
from bowcore.work_order.roles import require
from bowcore.work_order.services import parts_to_replace
from bowcore.work_order.supply import Supply, supply_of
from shop.casework.devices.registry import string_maker
from shop.casework.job_act import job_act
from shop.casework.state import JobState
from shop.casework.submissions import EventDraft, Submission
from shop.schema.bows.models import Part
from shop.schema.jobs.models import Hold, Job
from shop.schema.string_sets.models import Component, MovedOver, StringSet
from shop.schema.string_sets.selectors import parts_here
from shop.stages.string_set.transfer import order


@dataclass(frozen=True)
class SetOrder:
    """From whom, how it should be made, by when it is wanted, and which parts come from elsewhere."""

    maker: str = ""
    wishes: str = ""
    wanted_by: date | None = None
    supply: Mapping[str, Supply] = field(default_factory=dict)

    @property
    def all_in_hand(self) -> bool:
        """Nothing is ordered and nothing declined: whoever does the work may say so."""
        return bool(self.supply) and all(kind.in_hand for kind in self.supply.values())


@job_act("order_set", right="change")
def order_set(event: EventDraft, wanted: SetOrder) -> StringSet | None:
    """Say where every new part comes from, and order what has to be ordered.

    Raises
    ------
    Refused
        Nothing is to be replaced, a set is on its way already, or the person may not order.
    BadInput
        No maker was named.
    """
    state = event.state
    if not wanted.all_in_hand:
        require(event.by.staff_role, "order_set")
    if StringSet.objects.filter(job=event.job, state__in=_UNDER_WAY).exists():
        raise Refused("A set for this bow is on its way already.")
    parts = _supplied(event, state, wanted)
    if not parts:
        event.summary = _say_supply(state, wanted)
        _wait_no_longer(event)
        return None
    if state.spec.guessed:
        raise Refused(
            "Nothing is ordered by a guess. Measure the old set, and write its lengths into the book."
        )
    if not wanted.maker.strip():
        raise BadInput("From which string maker?", "maker")
    found = StringSet.objects.create(
        job=event.job,
        maker=wanted.maker.strip()[:60],
        wishes=wanted.wishes.strip()[:200],
        wanted_by=wanted.wanted_by,
        ordered_by=event.by,
    )
    for part in parts:
        Component.objects.create(
            set=found,
            role=part.role,
            label=part.label,
            strands=part.strands,
            ordered_in=Decimal(str(part.length_in)),
        )
    _send(found)
    _wait(event, found)
    names = ", ".join(part.label.lower() for part in parts)
    others = _say_supply(state, wanted)
    event.summary = f"ordered {names} from {found.maker}{_when(found)}" + (
        f"; {others}" if others else ""
    )
    return found


def _supplied(event: EventDraft, state: JobState, wanted: SetOrder) -> list[PartSpec]:
    """Keep where each part comes from; what has to be ordered."""
    facts, services = state.facts, parts_to_replace(event.job.services)
    open_ones = dict.fromkeys(
        [*(r for r in services if r not in facts.replaced), *facts.still_to_replace]
    )
    asked = [role for role in open_ones if role not in facts.came]
    if not asked:
        raise Refused("Nothing is to be replaced on this job.")
    event.job.supply |= {role: kind.value for role, kind in wanted.supply.items() if role in asked}
    event.job.save(update_fields=["supply"])
    kinds = {role: supply_of(event.job.supply.get(role, Supply.ORDER)) for role in asked}
    return [state.spec.part(role) for role, kind in kinds.items() if kind is Supply.ORDER]


def _say_supply(state: JobState, wanted: SetOrder) -> str:
    """`string: from the shelf, cable a: declined`."""
    labels = state.spec.labels
    return ", ".join(
        f"{labels.get(role, role).lower()}: {kind.value}"
        for role, kind in wanted.supply.items()
        if kind is not Supply.ORDER
    )


@dataclass(frozen=True)
class MeasuredComponent:
    """A component as measured on arrival, under load, loop to loop. [in]"""

    role: str
    length_in: Decimal
    strands: int
    served_top_in: Decimal | None = None
    served_bottom_in: Decimal | None = None
    clipped: bool = True
    lay: str = ""
    known: LengthKnown = LengthKnown.MEASURED


def set_as_labelled(job_id: int, submission: Submission) -> StringSet:
    """The set that was under way is here; nobody has measured it: its labels say what was ordered.

    Raises
    ------
    Refused
        No set is under way, or the person may not.
    """
    coming = StringSet.objects.filter(job=job_id, state__in=_UNDER_WAY).first()
    if coming is None:
        raise Refused("No set for this bow is under way.")
    came = [
        MeasuredComponent(one.role, one.ordered_in, one.strands, known=LengthKnown.LABELLED)
        for one in coming.components.all()
    ]
    return set_arrived(job_id, submission, came, [])


@job_act("set_arrived", right="receive_set")
def set_arrived(
    event: EventDraft, measured: Sequence[MeasuredComponent], contacts: Sequence[Contact]
) -> StringSet:
    """Judge every component of the set that was under way; a wrong one goes back.

    Raises
    ------
    Refused
        No set is under way, or a component was not measured.
    BadInput
        A length or a count that is impossible for a string.
    """
    state = event.state
    found = StringSet.objects.filter(job=event.job, state__in=_UNDER_WAY).first()
    if found is None:
        raise Refused("No set for this bow is under way.")
    came = {one.role: one for one in measured}
    labels = state.spec.labels
    lays_differ = mixed({labels.get(o.role, o.role): lay_of(o.lay) for o in measured})
    verdicts = []
    for component in found.components.all():
        if component.role not in came:
            raise Refused(f"{component.label}: measure it too.")
        one = came[component.role]
        verdicts.append(_judged(state, component, one, contacts, lays_differ))
    verdict = set_verdict(verdicts)
    found.state = StringSet.BACK if verdict is ArrivalVerdict.BACK else StringSet.HERE
    found.arrived_at = timezone.now()
    found.save()
    if found.state == StringSet.HERE:
        _wait_no_longer(event)
    event.summary = f"set from {found.maker} has come: {verdict.value}"
    return found


@job_act("move_over", right="change")
def move_over(event: EventDraft, fittings: Sequence[str], note: str) -> list[MovedOver]:
    """Write down what is reused: it is moved from the old set to the new one."""
    names = {fitting.key: fitting.name for fitting in FITTED}
    unknown = [key for key in fittings if key not in names]
    if unknown or not fittings:
        raise BadInput("What is moved over to the new set?", "fittings", ", ".join(names.values()))
    event.summary = "moved over to the new set: " + ", ".join(
        names[key].lower() for key in fittings
    )
    return [
        MovedOver.objects.create(**event.fact, fitting=key, note=note.strip()[:120])
        for key in fittings
    ]


def put_on(job: Job, part: Part) -> None:
    """The component that a new part is, if it came with an order, is no longer ready but on the bow."""
    component = parts_here(job).get(part.role)
    if component is not None and component.came_in == part.length_in:
        component.part = part
        component.save(update_fields=["part"])


def off_again(part: Part) -> None:
    """A component that did not go on after all lies ready again."""
    Component.objects.filter(part=part).update(part=None)


def order_of(found: StringSet) -> dict[str, Any]:
    """The order of a set as it is sent."""
    parts = [
        {"role": c.role, "label": c.label, "length_in": float(c.ordered_in), "strands": c.strands}
        for c in found.components.all()
    ]
    by = found.wanted_by.isoformat() if found.wanted_by else ""
    made = {"wishes": found.wishes, "wanted_by": by}
    return order(found.pk, found.maker, str(found.job.bow.entry), parts) | made


_UNDER_WAY = (StringSet.ORDERED, StringSet.CONFIRMED)


def _send(found: StringSet) -> None:
    """Send the order to the string maker, if there is one that takes orders by itself."""
    maker = string_maker()
    if maker is None:
        return
    answer = maker.confirm(order_of(found), timezone.localdate())
    found.state, found.reference = StringSet.CONFIRMED, answer.reference
    found.ships_on = answer.ships_on
    found.save()


def _judged(
    state: JobState,
    component: Component,
    one: MeasuredComponent,
    contacts: Sequence[Contact],
    mixed: str,
) -> JudgedComponent:
    part = state.spec.part(component.role)
    served = [one.served_top_in, one.served_bottom_in]
    ends = tuple(float(x) for x in served if x is not None)
    came = Arrived(one.role, float(one.length_in), one.strands, ends, one.clipped)
    old = state.job.bow.parts.filter(role=one.role, state=Part.FITTED).order_by("-pk").first()
    measured_here = old is not None and state.facts.replaced.count(one.role)
    verdict = judge_component(part, came, float(old.length_in) if old and measured_here else None)
    verdict = with_remarks(verdict, judge_contacts(came, contacts))
    verdict = with_remarks(verdict, [mixed] if mixed else [])
    component.came_in, component.came_strands = one.length_in, one.strands
    component.length_known = one.known.value
    component.served_top_in, component.served_bottom_in = served
    component.clipped, component.lay = one.clipped, one.lay
    component.verdict = verdict.verdict.value
    component.reasons = list(verdict.reasons)
    component.save()
    return verdict


def _when(found: StringSet) -> str:
    return f", ships {found.ships_on:%d %b}" if found.ships_on else ""


def _wait(event: EventDraft, found: StringSet) -> None:
    if not event.job.holds.filter(kind="set", lifted_at=None).exists():
        reason = f"ordered from {found.maker}{_when(found)}"
        Hold.objects.create(job=event.job, kind="set", reason=reason, placed_by=event.by)


def _wait_no_longer(event: EventDraft) -> None:
    for hold in event.job.holds.filter(kind="set", lifted_at=None):
        hold.lifted_by, hold.lifted_at = event.by, timezone.now()
        hold.lifted_because = "the set is here and to length"
        hold.save()
