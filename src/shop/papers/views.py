"""The hand-over sheet, on the screen, on paper and as PDF."""

from datetime import timedelta

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, render
from django.template.loader import render_to_string
from django.urls import reverse
from django.utils import timezone

from bowcore.stages.hand_over.blockers import RECHECK_DAYS
from shop.casework.engine.kept_answers import BeingComputed
from shop.papers.pdf import LOOK_AGAIN_S, pdf_or_begin
from shop.papers.sheet import sheet_context, ticket_context
from shop.schema.jobs.models import Job


def sheet(request: HttpRequest, job_id: int) -> HttpResponse:
    """The sheet as a page that prints well."""
    return render(request, "papers/sheet_page.html", _context(request, job_id))


def sheet_pdf(request: HttpRequest, job_id: int) -> HttpResponse:
    """The same sheet as PDF; a page that waits for it where it is still being made."""
    context = _context(request, job_id)
    try:
        made = pdf_or_begin(render_to_string("papers/sheet_paper.html", context))
    except BeingComputed:
        waiting = render(request, "papers/pdf_soon.html", context)
        waiting["Refresh"] = str(LOOK_AGAIN_S)
        return waiting
    answer = HttpResponse(made, content_type="application/pdf")
    answer["Content-Disposition"] = f'inline; filename="fennock-job-{job_id}.pdf"'
    return answer


def ticket(request: HttpRequest, job_id: int) -> HttpResponse:
    """The claim ticket: what the customer takes home while the bow is here."""
    job = get_object_or_404(Job.objects.select_related("bow__customer", "bow__entry"), pk=job_id)
    link = request.build_absolute_uri(reverse("job", args=[job.pk]))
    return render(request, "papers/ticket.html", ticket_context(job, link))


def _context(request: HttpRequest, job_id: int) -> dict[str, object]:
    query = Job.objects.select_related("bow__customer", "bow__entry")
    job = get_object_or_404(query, pk=job_id)
    day = timezone.localdate(job.handed_over_at or timezone.now())
    link = request.build_absolute_uri(reverse("bow_history", args=[job.bow_id]))
    return sheet_context(job, link) | {"recheck_on": day + timedelta(days=RECHECK_DAYS), "day": day}
