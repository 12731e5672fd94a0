"""What a let-down shows of a new part: the tug test, and what follows from it."""

from dataclasses import dataclass
from decimal import Decimal

from bowcore.bow.specification import length_of
from bowcore.errors import Contradicted, Refused
from bowcore.measurement.cam_mark import Tug
from bowcore.stages.replace.tug import OtherSigns, PartVerdict, contradictions, judge_by_mark
from bowcore.stages.string_set.arrival import LengthKnown
from shop.casework.checks import require_press_closed
from shop.casework.engine.priors import mark_lever_of
from shop.casework.job_act import job_act
from shop.casework.state import JobState
from shop.casework.submissions import EventDraft
from shop.schema.bows.models import Part
from shop.schema.jobs.models import Hold
from shop.schema.press.models import PartCheck

CHECK_FIRST = ("axle_to_axle", "brace_height")
"""Read at rest before a new part is judged: they show whether it is string or cable."""


@dataclass(frozen=True)
class TugResult:
    """How the mark moved and how far off its place it is; or why it could not be judged. [in]

    `looked_twice` says that it stays so, whatever else contradicts it.
    """

    role: str
    tug: str = ""
    off_mark_in: Decimal = Decimal(0)
    not_because: str = ""
    looked_twice: bool = False


@job_act("check_part", right="read")
def check_part(event: EventDraft, result: TugResult) -> PartCheck:
    """Judge a new part; a wrong one goes back and the job waits for another.

    Raises
    ------
    Refused
        The press is open, that part is not waiting to be judged, or neither a tug nor a reason.
    BadInput
        The distance is impossible, or contradicts the tug.
    Contradicted
        Something else that was read says otherwise, and nobody has looked a second time.
    """
    state = event.state
    require_press_closed(state, "squeeze the part")
    home = state.facts.to_bring_home
    waiting = {*state.facts.unchecked, *([home.part] if home else [])}
    if result.role not in waiting:
        raise Refused("That part is not waiting to be judged.")
    part = state.fitted_part(result.role)
    if not result.tug:
        return _not_judged(event, part, result)
    verdict = _judged(state, result)
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


@job_act("send_back", right="read")
def send_back(event: EventDraft, role: str, because: str) -> PartCheck:
    """A new part that no twists bring home comes off again, and another one is wanted.

    Raises
    ------
    Refused
        No new part of that role is on, the press is open, or the job is closed.
    """
    state = event.state
    require_press_closed(state, "send the part back")
    if role not in map(length_of, state.facts.replaced):
        raise Refused("No new part of that kind is on this bow.")
    part = state.fitted_part(role)
    event.summary = f"sent the new {part.label.lower()} back: {because.strip()}"[:300]
    _send_back(event, part)
    return PartCheck.objects.create(
        **event.fact, part=part, role=role, wrong_part=True, summary=event.summary[:200]
    )


def other_signs(state: JobState, role: str) -> OtherSigns:
    """What else was read that speaks for the length of a new part."""
    facts, spec, moved = state.facts, state.spec.part(role), {}
    for name in CHECK_FIRST:
        before, now = facts.read_before(name, facts.first_fitted_at(role)), facts.current(name)
        if before and before.summary and now and now.fresh and now.summary:
            moved[name] = now.summary.value - before.summary.value
    response, step = (state.prior.response() if state.prior else None), spec.bundle().shortening_in
    per_inch = {n: response.per_step(n, role) / step(1) for n in moved} if response else {}
    part, short = state.fitted_part(role), None
    if LengthKnown(part.length_known).counts_as_measured:
        book = state.spec.part(
            part.role
        )  # a harness decides its cable's length, and is itself shorter
        short = book.length_in - float(part.length_in) + step(facts.net_steps(role))
    return OtherSigns(short, moved if per_inch else {}, per_inch)


def _judged(state: JobState, result: TugResult) -> PartVerdict:
    part, off = state.spec.part(result.role), float(result.off_mark_in)
    turned = state.facts.net_steps(result.role)
    lever = mark_lever_of(state.spec, result.role)
    verdict = judge_by_mark(part, Tug(result.tug), off, lever, turned)
    against = contradictions(part, verdict, other_signs(state, result.role))
    if against and not result.looked_twice:
        raise Contradicted(f"{verdict.words} But: {' '.join(against)} Look again before you go on.")
    return verdict


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
    event.job.supply.pop(part.role, None)
    if not event.job.holds.filter(kind="set", lifted_at=None).exists():
        reason = f"{part.label} is the wrong length; another one is to be ordered"
        Hold.objects.create(job=event.job, kind="set", reason=reason, placed_by=event.by)
