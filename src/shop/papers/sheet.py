"""What the hand-over sheet says."""

from typing import Any

import segno
from django.utils.safestring import SafeString, mark_safe

from bowcore.accessories.on_the_bow import PEEP, PROVISIONAL, THINGS
from bowcore.measurement.bands import Band
from bowcore.quantities.changes import Change
from bowcore.quantities.quantity import Quantity
from bowcore.stages.back_to_spec.other_changes import other_change
from bowcore.stages.fit.sight_marks import say_moved, sight_marks
from bowcore.stages.hand_over.blockers import (
    blockers,
    left_as_they_are,
    recheck_shots,
    say_at_hand_over,
    stands_on_the_sheet,
)
from bowcore.stages.shooting_in.butt import say_groups
from bowcore.stages.shooting_in.tuning import say_paper
from bowcore.stages.speed.speed_board import say_speeds
from bowcore.work_order.services import say_asked
from shop.casework.readings.rows import reading_row
from shop.casework.state import JobState, job_state
from shop.schema.accounts.models import Shop
from shop.schema.chronograph.selectors import speeds_of
from shop.schema.fitting.selectors import speed_of_last_visit
from shop.schema.inspection.models import Finding
from shop.schema.inspection.selectors import findings_by_place
from shop.schema.jobs.models import Job
from shop.schema.papers.models import HandOver

PEEP_FOR_NOW = "The peep is tied for now: it is tied for good when the new threads have settled."
BRIEF_NOTE = 40  # characters: as much as fits beside the name of a change


def _sight(state: JobState) -> str:
    marks = sight_marks(state.facts, speed_of_last_visit(state.job))
    return "" if marks is None else say_moved(marks)


def sheet_context(job: Job, link: str) -> dict[str, Any]:
    """Final numbers against baseline and published specs, ledger, what was not done, cautions."""
    state = job_state(job)
    out = HandOver.objects.filter(job=job).select_related("by").order_by("-seq")
    made = out.first() if job.handed_over_at else None
    return {
        "job": job,
        "bow": job.bow,
        "shop": Shop.current(),
        "made": made,
        "state": state,
        "lines": [_line(state, n) for n in stands_on_the_sheet(state.facts)],
        "on_bow": [
            (one.name, words) for one in THINGS if (words := one.say(state.on_bow.of(one.key)))
        ],
        "for_now": [] if state.on_bow.of(PEEP).get("tied") != PROVISIONAL else [PEEP_FOR_NOW],
        "sight": _sight(state),
        "shot_in": _shot_in(state),
        "ledger": _changed(state),
        "cured": [f for f in _found_wrong(job) if _is_cured(state, f)],
        "open_points": made.open_points
        if made
        else [one.words for one in blockers(state.judged, state.bands)],
        "stays": left_as_they_are(state.judged, state.bands),
        "findings": [f for f in _found_wrong(job) if not _is_cured(state, f)],
        "cautions": say_at_hand_over(state.facts),
        "shots": recheck_shots(state.facts),
        "qr": _qr(link),
    }


def _shot_in(state: JobState) -> list[str]:
    """Tears, groups and speeds, in sentences."""
    paper = say_paper(state.judged, state.bands, state.shop.tear_words)
    groups = say_groups(state.judged, state.bands)
    return [*([paper] if paper else []), *groups, *say_speeds(state.facts, speeds_of(state.job))]


def _found_wrong(job: Job) -> list[Finding]:
    """The newest finding of each place that was not fine."""
    return [one for one in findings_by_place(job).values() if one.outcome != "fine"]


def _is_cured(state: JobState, finding: Finding) -> bool:
    """Whether every part that a finding is about is a new one by now."""
    return bool(finding.parts) and set(finding.parts) <= set(state.facts.replaced)


def _changed(state: JobState) -> list[str]:
    """What was changed, a line for each moment; a long note on how stays at the bench."""
    by_moment: dict[int, list[str]] = {}
    for line in state.ledger:
        by_hand = not line.row.adjuster and line.row.change != Change.MODULE_OR_STOP
        long = by_hand and len(line.row.note) > BRIEF_NOTE
        words = other_change(line.row.change).name if long else line.words
        by_moment.setdefault(line.row.seq, []).append(words)
    return ["; ".join(words) for words in by_moment.values()]


def ticket_context(job: Job, link: str) -> dict[str, Any]:
    """What was agreed, what came with the bow, and what was found wrong with it."""
    return {
        "job": job,
        "bow": job.bow,
        "shop": Shop.current(),
        "asked": say_asked(job.services, job_state(job).spec.labels),
        "findings": _found_wrong(job),
        "qr": _qr(link),
    }


def _line(state: JobState, name: str) -> dict[str, Any]:
    row, before = reading_row(state, name), state.facts.baseline(name)
    inside = row.verdict.inside if row.verdict is not None else None
    return {
        "quantity": row.quantity,
        "now": row.judged,
        "band": row.band,
        "before": before.summary.value if before and before.summary else None,
        "stale": row.stale or (row.apart and row.current is not None),
        "inside": inside,
        "rule": row.rule,
        "points": _points(state, name),
        "should": _should(row.quantity, row.band),
    }


def _should(quantity: Quantity, band: Band | None) -> str:
    """The band in words."""
    if band is None:
        return ""
    if quantity.directions:
        within = f"within {quantity.say_size(band.half_width)}".replace(" ", "\u00a0")
        return f"{quantity.say(band.target)}, {within}"
    ends = [quantity.say(end).replace(" ", "\u00a0") for end in (band.low, band.high)]
    return f"{ends[0]} to {ends[1]} {quantity.sign}"


def _points(state: JobState, name: str) -> str:
    """The reference points that were used, in words."""
    quantity = state.facts.named(name)
    mine = [take for take in state.facts.takes if take.quantity == name and take.start]
    if not mine:
        return quantity.how
    names = {point.key: point.name for point in (*quantity.starts, *quantity.ends)}
    start, end = names.get(mine[-1].start, ""), names.get(mine[-1].end, "")
    return f"{start} to {end}" if end else f"pulled from {start}"


def _qr(link: str) -> SafeString:
    """The bow's address as a QR code, inline SVG."""
    code = segno.make(link, micro=False)
    drawing = code.svg_inline(scale=1, border=2, omitsize=True, svgclass="qr", lineclass=None)
    return mark_safe(drawing)  # noqa: S308  drawn here from an address of our own
