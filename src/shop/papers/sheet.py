"""What the hand-over sheet says, and how it becomes a PDF."""

import io
from typing import Any

import segno
from django.contrib.staticfiles import finders
from django.utils.safestring import SafeString, mark_safe

from bowcore.measurement.bands import Band
from bowcore.quantities.catalogue import Quantity
from bowcore.quantities.inches import say_inches
from bowcore.service import cautions
from bowcore.service.handover import RECHECK_SHOTS, blockers
from shop.accounts.models import Shop
from shop.drawings.rule import Marks, rule
from shop.jobs.models import Job
from shop.papers.models import HandOver
from shop.tuning.selectors import View, view_of


def sheet_context(job: Job, link: str) -> dict[str, Any]:
    """Final numbers against baseline and book, ledger, what was not done, cautions."""
    view = view_of(job)
    made = HandOver.objects.filter(job=job).select_related("by").first()
    return {
        "job": job, "bow": job.bow, "shop": Shop.current(), "made": made, "view": view,
        "lines": [_line(view, name) for name in view.needed],
        "ledger": [_entry(view, row) for row in view.adjustments],
        "open_points": made.open_points if made else blockers(view.facts, view.bands),
        "findings": [f for f in job.finding_set.all() if f.outcome != "fine"],
        "cautions": cautions.AT_HAND_OVER, "shots": RECHECK_SHOTS, "qr": _qr(link),
    }  # fmt: skip


def _line(view: View, name: str) -> dict[str, Any]:
    now, before = view.facts.current(name), view.facts.baseline(name)
    quantity = view.facts.named(name)
    band = view.bands.get(name)
    value = now.summary.value if now and now.summary else None
    start = before.summary.value if before and before.summary else None
    inside = band.judge(value).inside if band and value is not None else None
    stale = bool(now and (now.stale or now.apart))
    marks = Marks(band, start, value, stale)
    points = _points(view, name)
    return {
        "quantity": quantity, "now": value, "before": start, "band": band, "stale": stale,
        "inside": inside, "rule": rule(quantity, marks), "points": points,
        "should": _should(quantity, band),
    }  # fmt: skip


def _should(quantity: Quantity, band: Band | None) -> str:
    """The band in words."""
    if band is None:
        return ""
    if quantity.ways:
        return f"{quantity.say(band.target)}, within {quantity.say_size(band.half_width)}"
    ends = [quantity.say(end).replace(" ", "\u00a0") for end in (band.low, band.high)]
    return f"{ends[0]} to {ends[1]} {quantity.unit}"


def _points(view: View, name: str) -> str:
    """The reference points that were used, in words."""
    quantity = view.facts.named(name)
    mine = [take for take in view.facts.takes if take.quantity == name and take.start]
    if not mine:
        return quantity.how
    names = {point.key: point.name for point in (*quantity.starts, *quantity.ends)}
    start, end = names.get(mine[-1].start, ""), names.get(mine[-1].end, "")
    return f"{start} to {end}" if end else f"pulled from {start}"


def _entry(view: View, row: Any) -> str:
    if row.replaced:
        label = view.spec.part(row.role).label
        length = say_inches(float(row.part.length_in))
        return f"{label}: new, {length} in, {row.part.strands} strands {row.note}".strip()
    return str(row.said)


def _qr(link: str) -> SafeString:
    """The bow's address as a QR code, inline SVG."""
    code = segno.make(link, micro=False)
    drawing = code.svg_inline(scale=1, border=2, omitsize=True, svgclass="qr", lineclass=None)
    return mark_safe(drawing)  # noqa: S308  drawn here from an address of our own


def pdf_of(html: str) -> bytes:
    """An HTML page with the sheet's own style as PDF."""
    from weasyprint import CSS, HTML  # slow to import, needed only here

    styles = [CSS(filename=finders.find(f"css/{name}.css")) for name in ("fennock", "paper")]
    target = io.BytesIO()
    HTML(string=html).write_pdf(target, stylesheets=styles)
    return target.getvalue()
