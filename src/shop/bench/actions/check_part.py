"""What the first let-down says of a new part: the tug test, and what follows from it."""

from dataclasses import dataclass
from decimal import Decimal

from bowcore.errors import Refused
from bowcore.service.inspection import HOLDS
from bowcore.service.tug import Tug, judge_cable
from shop.bench.actions.rules import require_act, require_press_closed
from shop.bows.models import Part
from shop.jobs.models import Hold
from shop.ledger.models import PartCheck
from shop.records.deeds import Act, Stamp, on_job
from shop.tuning.selectors import View, view_of


@dataclass(frozen=True)
class Tugged:
    """How the mark moved and how far off it stands; or why it could not be told. [in]"""

    role: str
    tug: str = ""
    off_mark_in: Decimal = Decimal(0)
    not_because: str = ""


def check_part(job_id: int, tugged: Tugged, stamp: Stamp) -> PartCheck:
    """Judge a new cable; a wrong one goes back and the job waits for another.

    Raises
    ------
    Refused
        The press is open, that part is not waiting to be judged, or neither a tug nor a reason.
    BadInput
        The distance is none, or contradicts the tug.
    """
    with on_job(job_id, "check_part", stamp) as act:
        view = view_of(act.job)
        require_act(stamp.by, "read", view)
        require_press_closed(view, "pull on the string")
        if tugged.role not in view.facts.unchecked:
            raise Refused("That part is not waiting to be judged.")
        part = _fitted(view, tugged.role)
        if not tugged.tug:
            return _not_told(act, part, tugged)
        off = float(tugged.off_mark_in)
        verdict = judge_cable(view.spec.part(tugged.role), Tug(tugged.tug), off)
        act.said = verdict.said
        if verdict.wrong_part:
            _send_back(act, part)
        return PartCheck.objects.create(
            **act.fact, part=part, role=tugged.role, tug=tugged.tug,
            off_mark_in=tugged.off_mark_in, half_twists=verdict.half_twists,
            wrong_part=verdict.wrong_part, said=verdict.said[:200],
        )  # fmt: skip


def _not_told(act: Act, part: Part, tugged: Tugged) -> PartCheck:
    reason = tugged.not_because.strip()
    if not reason:
        raise Refused("Say what the mark does, or why it cannot be told.")
    said = f"{part.label}: length not judged, {reason}"
    act.said = said
    return PartCheck.objects.create(**act.fact, part=part, role=tugged.role, said=said[:200])


def _send_back(act: Act, part: Part) -> None:
    part.state = Part.BACK
    part.save(update_fields=["state"])
    if not act.job.holds.filter(kind="set", lifted_at=None).exists():
        reason = f"{part.label} is the wrong length; another one is to be ordered"
        Hold.objects.create(job=act.job, kind=HOLDS["set"].key, reason=reason, placed_by=act.by)


def _fitted(view: View, role: str) -> Part:
    row = next(r for r in reversed(view.adjustments) if r.role == role and r.replaced)
    assert row.part is not None
    return row.part
