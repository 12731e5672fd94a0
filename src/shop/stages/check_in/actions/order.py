"""What was agreed at the counter, changed later; a job cancelled, or opened again."""

from dataclasses import dataclass, fields
from datetime import date
from decimal import Decimal
from typing import Any

from django.utils import timezone

from bowcore.errors import BadInput, Refused
from bowcore.work_order.services import asked_for, parts_to_replace, service_replacing
from shop.casework.checks import require_press_closed
from shop.casework.job_act import job_act
from shop.casework.state import JobState
from shop.casework.submissions import EventDraft
from shop.schema.accounts.models import Member

NAMES = {
    "promised_on": "due", "services": "asked for", "path": "how it is set up",
    "wanted_weight_lbf": "wanted weight", "wanted_draw_in": "wanted draw length",
    "wanted_gap_in": "wanted gap", "fitted": "on the bow", "arrows": "arrows", "arrow_here": "arrows here",
    "release": "release", "release_here": "release here", "brought": "came with it", "note": "note",
    "assigned_to": "assigned to", "phone": "phone", "tag": "markings",
}  # fmt: skip
"""How each field is called in the log."""


@dataclass(frozen=True)
class Order:
    """What was agreed: everything of a check-in that may be changed afterwards. [in], [lbf]"""

    promised_on: date
    services: list[str]
    path: str
    wanted_weight_lbf: Decimal | None
    wanted_draw_in: Decimal | None
    wanted_gap_in: Decimal | None
    fitted: list[str]
    arrows: str
    arrow_here: bool
    release: str
    release_here: bool
    brought: str
    note: str
    assigned_to: Member | None
    phone: str
    tag: str


@job_act("change_order", right="check_in")
def change_order(event: EventDraft, wanted: Order) -> list[str]:
    """Write down what was agreed anew; what changed stands in the log.

    Raises
    ------
    Refused
        The job is closed, nothing differs, or a part that is on already is no longer asked for.
    BadInput
        This bow has no such part.
    """
    state = event.state
    services = asked_for(wanted.services, state.spec.replaceable)
    _require_services(state, services)
    changed = _write(event, wanted, services)
    if not changed:
        raise Refused("Nothing is different.")
    event.summary = f"changed what was agreed: {', '.join(changed)}"[:300]
    return changed


@job_act("change_order", right="check_in")
def add_part(event: EventDraft, role: str) -> None:
    """A part turns out to be the wrong length: a new one is agreed on.

    Raises
    ------
    Refused
        It is agreed on already, or the job is closed.
    BadInput
        This bow has no such part.
    """
    state = event.state
    part, service = state.spec.part(role), service_replacing(role)
    if service.key in event.job.services:
        raise Refused(f"A new {part.label.lower()} is agreed on already.")
    event.job.services = [*event.job.services, service.key]
    event.summary = f"agreed on a new {part.label.lower()}: the one that is on is the wrong length"


@job_act("cancel", right="cancel")
def cancel_job(event: EventDraft, because: str) -> None:
    """The customer takes the bow back as it is.

    Raises
    ------
    Refused
        The press is open, no reason, or the person may not.
    """
    state = event.state
    require_press_closed(state, "cancel the job")
    if not because.strip():
        raise Refused("Write down why it is cancelled.")
    event.job.cancelled_at = timezone.now()
    event.job.cancelled_because = because.strip()[:200]
    event.summary = f"cancelled the job: {event.job.cancelled_because}"


@job_act("reopen", right="cancel", on_closed=True)
def reopen(event: EventDraft, because: str) -> None:
    """Go on with a job that was handed over or cancelled.

    Raises
    ------
    Refused
        It is open, no reason, or the person may not.
    """
    if not event.state.facts.handed_over:
        raise Refused("This job is open.")
    if not because.strip():
        raise Refused("Write down why it is opened again.")
    event.job.handed_over_at = event.job.cancelled_at = None
    event.job.cancelled_because = ""
    event.summary = f"opened the job again: {because.strip()[:200]}"


def _require_services(state: JobState, services: list[str]) -> None:
    if not services:
        raise BadInput("Choose what the bow is here for.", "services")
    asked = set(parts_to_replace(services))
    if asked - set(state.spec.replaceable):
        has = ", ".join(part.label.lower() for part in state.spec.whole_set)
        raise BadInput(f"{state.spec.name} has no such cable to replace.", "services", has)
    gone = [role for role in state.facts.replaced if role not in asked]
    if gone and set(parts_to_replace(state.job.services)) & set(gone):
        label = state.spec.part(gone[0]).label.lower()
        raise Refused(f"The new {label} is on already: it stays on what was asked for.")


def _write(event: EventDraft, wanted: Order, services: list[str]) -> list[str]:
    """Write every field that differs; their names in words."""
    job, bow = event.job, event.job.bow
    owner: dict[str, tuple[Any, str]] = {"phone": (bow.customer, "phone"), "tag": (bow, "tag")}
    changed = []
    for one in fields(wanted):
        value = services if one.name == "services" else getattr(wanted, one.name)
        target, name = owner.get(one.name, (job, one.name))
        if getattr(target, name) != value:
            setattr(target, name, value)
            changed.append(NAMES[one.name])
            if target is not job:
                target.save(update_fields=[name])
    return changed
