"""Look over: what was seen at each place; a dangerous finding holds the job."""

from collections.abc import Sequence
from dataclasses import dataclass

from bowcore.service.inspection import hold_for, place, services_for
from shop.bench.actions.rules import require_act, require_press_closed
from shop.jobs.models import Finding, Hold
from shop.records.deeds import Act, Stamp, on_job
from shop.tuning.selectors import View, view_of


@dataclass(frozen=True)
class Seen:
    """One place, its outcome ("fine", "watch", "stop") and a note."""

    place: str
    outcome: str
    note: str = ""


def look_over(job_id: int, seen: Sequence[Seen], stamp: Stamp) -> None:
    """Record the findings; place the holds that they demand.

    Raises
    ------
    Refused
        The press is open, the job is closed, or the person may not.
    """
    with on_job(job_id, "look_over", stamp) as act:
        view = view_of(act.job)
        require_act(stamp.by, "look_over", view)
        require_press_closed(view, "look it over")
        for one in seen:
            Finding.objects.create(**act.fact, place=one.place, outcome=one.outcome, note=one.note)
            _hold_if_dangerous(act, one)
        act.job.looked_over = True
        _add_services(act, view, seen)
        bad = [place(s.place).name.lower() for s in seen if s.outcome != "fine"]
        act.said = "looked it over: " + (", ".join(bad) + " not fine" if bad else "all fine")


def _add_services(act: Act, view: View, seen: Sequence[Seen]) -> None:
    """A string or cable that is to be replaced is asked for from now on."""
    roles = tuple(part.role for part in view.spec.parts)
    wanted = [s for one in seen for s in services_for(one.place, one.outcome, roles)]
    added = [s for s in dict.fromkeys(wanted) if s not in act.job.services]
    act.job.services = [*act.job.services, *added]


def _hold_if_dangerous(act: Act, one: Seen) -> None:
    kind = hold_for(one.place, one.outcome)
    if kind is None or act.job.holds.filter(kind=kind.key, lifted_at=None).exists():
        return
    reason = place(one.place).bad_words + (f": {one.note}" if one.note else "")
    Hold.objects.create(job=act.job, kind=kind.key, reason=reason[:200], placed_by=act.by)
