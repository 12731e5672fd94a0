"""Record an inspection: what was seen at each place; a dangerous finding holds the job."""

from collections.abc import Sequence
from dataclasses import dataclass

from bowcore.errors import Refused
from bowcore.stages.inspection.places import bad_parts, hold_for, place, places_on
from bowcore.work_order.services import service_replacing
from shop.casework.checks import require_press_closed
from shop.casework.job_act import job_act
from shop.casework.state import JobState
from shop.casework.submissions import EventDraft
from shop.schema.inspection.models import Finding
from shop.schema.jobs.models import Hold


@dataclass(frozen=True)
class PlaceSeen:
    """One place, its outcome ("fine", "watch", "replace", "stop"), a note, and which strings or cables
    it is about, by their roles."""

    place: str
    outcome: str
    note: str = ""
    parts: tuple[str, ...] = ()


@job_act("inspect", right="inspect")
def inspect_bow(event: EventDraft, seen: Sequence[PlaceSeen]) -> None:
    """Record the findings; place the holds that they demand.

    Raises
    ------
    Refused
        A place was left out, the press is open, the job is closed, or the person may not.
    BadInput
        No such place or outcome.
    """
    state = event.state
    require_press_closed(state, "inspect it")
    _require_every_place(state, seen)
    for one in seen:
        kind = hold_for(one.place, one.outcome)
        parts = bad_parts(one.place, one.outcome, one.parts, state.spec.replaceable)
        Finding.objects.create(
            **event.fact,
            place=one.place,
            outcome=one.outcome,
            note=one.note[:200],
            parts=list(parts),
        )
        if kind is not None:
            _hold(event, one, kind.key, parts)
        _add_services(event, parts)
    event.job.inspected = True
    bad = [place(one.place).name.lower() for one in seen if one.outcome != "fine"]
    event.summary = "inspected it: " + (", ".join(bad) + " not fine" if bad else "all fine")


def _require_every_place(state: JobState, seen: Sequence[PlaceSeen]) -> None:
    places, looked_at = places_on(state.spec), {one.place for one in seen}
    left_out = [one for one in places if one.key not in looked_at]
    if left_out:
        names = ", ".join(one.name.lower() for one in left_out)
        raise Refused(f"Look at every place. Not looked at: {names}.")


def _add_services(event: EventDraft, parts: Sequence[str]) -> None:
    """A string or cable that is to be replaced is asked for from now on."""
    wanted = (service_replacing(role).key for role in parts)
    event.job.services += [key for key in wanted if key not in event.job.services]


def _hold(event: EventDraft, one: PlaceSeen, kind: str, parts: Sequence[str]) -> None:
    """One hold of a kind at a time: a second finding adds its parts and its words."""
    reason = place(one.place).bad_words + (f": {one.note}" if one.note else "")
    held = event.job.holds.filter(kind=kind, lifted_at=None).first()
    if held is None:
        held = Hold(job=event.job, kind=kind, reason=reason[:200], placed_by=event.by)
    elif reason not in held.reason:
        held.reason = f"{held.reason}; {reason}"[:200]
        parts = parts if held.parts else []  # lifted by hand where one finding has no part
    held.parts = list(dict.fromkeys([*held.parts, *parts]))
    held.save()
