"""What the first let-down shows of a new part: the tug test, and what follows from it."""

from dataclasses import dataclass
from decimal import Decimal

from bowcore.errors import Refused
from bowcore.workflow.tug import Tug, judge_cable
from shop.audit.submissions import EventDraft, Submission, on_job
from shop.bows.models import Part
from shop.jobs.checks import require_act, require_press_closed
from shop.jobs.models import Hold
from shop.jobs.state import JobState, job_state
from shop.press.models import PartCheck


@dataclass(frozen=True)
class TugResult:
    """How the mark moved and how far off its place it is; or why it could not be judged. [in]"""

    role: str
    tug: str = ""
    off_mark_in: Decimal = Decimal(0)
    not_because: str = ""


def check_part(job_id: int, result: TugResult, submission: Submission) -> PartCheck:
    """Judge a new cable; a wrong one goes back and the job waits for another.

    Raises
    ------
    Refused
        The press is open, that part is not waiting to be judged, or neither a tug nor a reason.
    BadInput
        The distance is impossible, or contradicts the tug.
    """
    with on_job(job_id, "check_part", submission) as event:
        state = job_state(event.job)
        require_act(submission.by, "read", state)
        require_press_closed(state, "pull on the string")
        if result.role not in state.facts.unchecked:
            raise Refused("That part is not waiting to be judged.")
        part = _fitted(state, result.role)
        if not result.tug:
            return _not_judged(event, part, result)
        off = float(result.off_mark_in)
        verdict = judge_cable(state.spec.part(result.role), Tug(result.tug), off)
        event.summary = f"judged the new part. {verdict.words}"
        if verdict.wrong_part:
            _send_back(event, part)
        return PartCheck.objects.create(
            **event.fact,
            part=part,
            role=result.role,
            tug=result.tug,
            off_mark_in=result.off_mark_in,
            steps=verdict.steps,
            wrong_part=verdict.wrong_part,
            summary=verdict.words[:200],
        )


def _not_judged(event: EventDraft, part: Part, result: TugResult) -> PartCheck:
    reason = result.not_because.strip()
    if not reason:
        raise Refused("Say what the mark does, or why it cannot be judged.")
    event.summary = f"{part.label}: length not judged, {reason}"
    return PartCheck.objects.create(
        **event.fact, part=part, role=result.role, summary=event.summary[:200]
    )


def _send_back(event: EventDraft, part: Part) -> None:
    part.state = Part.BACK
    part.save(update_fields=["state"])
    if not event.job.holds.filter(kind="set", lifted_at=None).exists():
        reason = f"{part.label} is the wrong length; another one is to be ordered"
        Hold.objects.create(job=event.job, kind="set", reason=reason, placed_by=event.by)


def _fitted(state: JobState, role: str) -> Part:
    row = next(r for r in reversed(state.adjustments) if r.role == role and r.replaced)
    assert row.part is not None
    return row.part
