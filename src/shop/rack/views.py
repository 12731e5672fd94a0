"""The rack, the search, a bow's page, and the pulse that shows a browser that the server answers."""

from django.contrib.auth.decorators import login_not_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.templatetags.static import static

from bowcore.mechanics.specification import Family
from bowcore.workflow.holds import HOLDS
from shop.bows.models import Bow
from shop.rack.selectors import RackFilter, find, grouped, open_presses_of, open_slots
from shop.ui.pages import page_of

JOBS_ON_A_PAGE = 30


def rack(request: HttpRequest) -> HttpResponse:
    """Every open job: under load, ready to work, ready to fetch, waiting; each by promised day."""
    slots, me = open_slots(), request.user
    mine = request.GET.get("mine", "")
    shown = RackFilter(
        me if mine else None,  # type: ignore[arg-type]
        request.GET.get("family", ""),
        request.GET.get("hold", ""),
    )
    context = {
        "section": "rack",
        "slots": slots,
        "groups": grouped(slots, shown),
        "shown": shown,
        "families": [family.value for family in Family],
        "holds": HOLDS.values(),
        "dense": "dense" in request.GET,
        "open_presses": open_presses_of(me, slots),  # type: ignore[arg-type]
    }
    return render(request, "rack/rack.html", context)


def search(request: HttpRequest) -> HttpResponse:
    """Customers, bows and jobs."""
    text = request.GET.get("q", "")
    return render(request, "rack/find.html", {"found_for": text, "found": find(text)})


def bow_history(request: HttpRequest, bow_id: int) -> HttpResponse:
    """One bow: its parts and its jobs."""
    query = Bow.objects.select_related("customer", "entry").prefetch_related("parts")
    bow = get_object_or_404(query, pk=bow_id)
    page = page_of(request, bow.jobs.order_by("-pk"), JOBS_ON_A_PAGE)
    return render(request, "rack/bow.html", {"bow": bow, "page": page})


@login_not_required
def pulse(request: HttpRequest) -> HttpResponse:
    """Nothing but an answer."""
    return HttpResponse("here", content_type="text/plain")


@login_not_required
def favicon(request: HttpRequest) -> HttpResponse:
    """Browsers ask for it by themselves; an error page here would hand out a second CSRF cookie."""
    return redirect(static("icon.svg"))
