"""The rack, the search, a bow's and a customer's page, and the pulse that shows that the server answers."""

from typing import Any

from django.contrib.auth.decorators import login_not_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.templatetags.static import static

from bowcore.bow.specification import Family
from bowcore.work_order.holds import HOLDS
from bowcore.work_order.roles import may
from shop.accounts.selectors import shops_beside_this
from shop.casework.action_view import ActionView
from shop.casework.submissions import Submission
from shop.rack.actions.change_customer import change_customer
from shop.rack.actions.move_bow import move_bow
from shop.rack.forms import CustomerForm, MoveBowForm
from shop.rack.selectors import (
    RackFilter,
    bows_of,
    find,
    grouped,
    jobs_of,
    open_presses_of,
    rack_now,
)
from shop.schema.bows.models import Bow
from shop.schema.customers.models import Customer
from shop.ui.pages import page_of

JOBS_ON_A_PAGE = 30


def rack(request: HttpRequest) -> HttpResponse:
    """Every open job: under load, ready to work, ready for pick-up, waiting; each by promised day."""
    now, me = rack_now(), request.user
    mine = request.GET.get("mine", "")
    shown = RackFilter(
        me if mine else None,  # type: ignore[arg-type]
        request.GET.get("family", ""),
        request.GET.get("hold", ""),
    )
    context = {
        "section": "rack",
        "slots": now.slots,
        "not_shown": now.not_shown,
        "in_the_making": now.in_the_making,
        "groups": grouped(now.slots, shown),
        "shown": shown,
        "families": [family.value for family in Family],
        "holds": HOLDS.values(),
        "dense": "dense" in request.GET,
        "open_presses": open_presses_of(me, now.slots),  # type: ignore[arg-type]
    }
    return render(request, "rack/rack.html", context)


def search(request: HttpRequest) -> HttpResponse:
    """Customers, bows and jobs."""
    text = request.GET.get("q", "")
    return render(request, "rack/find.html", {"found_for": text, "found": find(text)})


def bow_history(request: HttpRequest, bow_id: int, status: int = 200, **extra: Any) -> HttpResponse:
    """One bow: its parts and its jobs."""
    query = Bow.objects.select_related("customer", "entry").prefetch_related("parts")
    bow = get_object_or_404(query, pk=bow_id)
    page = page_of(request, bow.jobs.order_by("-pk"), JOBS_ON_A_PAGE)
    manager = may(request.user.staff_role, "move_bow")  # type: ignore[union-attr]
    shops = shops_beside_this() if manager else ()
    context = {"bow": bow, "page": page, "move_to": shops, "manager": manager}
    return render(request, "rack/bow.html", context | extra, status=status)


class MoveBowView(ActionView):
    """A bow goes to another shop of the chain."""

    right = "move_bow"
    form_class = MoveBowForm

    def act(self, form: MoveBowForm, submission: Submission) -> None:
        move_bow(self.kwargs["bow_id"], form.cleaned_data["shop"], submission)

    def done(self, form: MoveBowForm) -> HttpResponse:
        return redirect("rack")

    def show(self, status: int, **extra: Any) -> HttpResponse:
        return bow_history(self.request, self.kwargs["bow_id"], status, **extra)


class CustomerView(ActionView):
    """One customer: how to reach them, their bows, their jobs."""

    right = "check_in"
    http_method_names = ["get", "post"]
    form_class = CustomerForm

    def get(self, request: HttpRequest, **_: Any) -> HttpResponse:
        return self.show(200)

    def act(self, form: CustomerForm, submission: Submission) -> None:
        change_customer(self.kwargs["customer_id"], form.facts(), submission)

    def done(self, form: CustomerForm) -> HttpResponse:
        return redirect("customer", self.kwargs["customer_id"])

    def show(self, status: int, **extra: Any) -> HttpResponse:
        customer = get_object_or_404(Customer, pk=self.kwargs["customer_id"])
        same = {"name": customer.name, "phone": customer.phone, "note": customer.note}
        context = {
            "section": "rack",
            "customer": customer,
            "bows": bows_of(customer),
            "page": page_of(self.request, jobs_of(customer), JOBS_ON_A_PAGE),
            "form": CustomerForm(initial=same),
        }
        return render(self.request, "rack/customer.html", context | extra, status=status)


@login_not_required
def pulse(request: HttpRequest) -> HttpResponse:
    """Nothing but an answer."""
    return HttpResponse("here", content_type="text/plain")


@login_not_required
def favicon(request: HttpRequest) -> HttpResponse:
    """Browsers ask for it by themselves; an error page here would hand out a second CSRF cookie."""
    return redirect(static("icon.svg"))
