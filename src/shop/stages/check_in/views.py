"""Find the customer and the bow or describe them, and check the bow in."""

from datetime import timedelta
from typing import Any

from django.db.models import prefetch_related_objects
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone

from bowcore.stages.back_to_spec.step import BackToSpecStep
from bowcore.stages.check_in.step import CheckInStep
from bowcore.work_order.needs import PATH_ASKS, PATHS
from shop.book.selectors import roles_of
from shop.casework.action_view import ActionView, Given, JobActionView
from shop.casework.forms import ReasonForm
from shop.casework.submissions import Submission
from shop.schema.audit.models import Event
from shop.schema.book.models import BookEntry
from shop.schema.bows.models import Bow
from shop.schema.customers.models import Customer
from shop.search.selectors import matches_of
from shop.stages.check_in.actions.check_in import check_in
from shop.stages.check_in.actions.order import add_part, cancel_job, change_order, reopen
from shop.stages.check_in.forms import AgreedForm, CheckInForm, PartToAddForm
from shop.ui.ids import row_id

USUALLY_DUE_AFTER = timedelta(days=7)
USUALLY_FITTED = ["rest", "sight", "peep", "loop"]
MOST_CUSTOMERS = 12


class CheckInView(ActionView):
    """First the customer, then the bow, then the job."""

    right = "check_in"
    http_method_names = ["get", "post"]
    form_class = CheckInForm

    def get(self, request: HttpRequest) -> HttpResponse:
        known = _known(request.GET)
        if known or "new" in request.GET:
            return self.show(200, form=CheckInForm(initial=_initial() | known))
        name = request.GET.get("q", "").strip()
        found = matches_of(name).customers
        prefetch_related_objects(found, "bows__entry")
        context = {"section": "rack", "name": name, "found": found[:MOST_CUSTOMERS]}
        return render(request, "check_in/find_customer.html", context)

    def act(self, form: CheckInForm, submission: Submission) -> None:
        check_in(form.answers(), submission)

    def done(self, form: CheckInForm) -> HttpResponse:
        event = Event.objects.get(key=form.cleaned_data["key"])
        return redirect("job", int(event.result))

    def show(self, status: int, **extra: Any) -> HttpResponse:
        form: CheckInForm = extra["form"]
        bow = _chosen(form, "bow", Bow)
        roles = roles_of(bow.entry if bow else _chosen(form, "entry", BookEntry))
        if roles:
            form.offer(roles)
        context = {
            "section": "rack",
            "bow": bow,
            "customer": _chosen(form, "customer", Customer),
            "path_asks": [(PATHS[key], asks) for key, asks in PATH_ASKS.items()],
        }
        return render(self.request, "check_in/check_in.html", context | extra, status=status)


def services_for(request: HttpRequest) -> HttpResponse:
    """What can be asked for on the model that was just chosen; what was ticked stays ticked."""
    ticked = request.GET.getlist("services")
    form = CheckInForm(initial={"services": ticked})
    if roles := roles_of(_from_address(request.GET, "entry", BookEntry)):
        form.offer(roles)
    return render(request, "check_in/services.html", {"form": form})


class ChangeOrderView(JobActionView):
    action = change_order
    form_class = AgreedForm
    screen = CheckInStep.key
    stay = True

    def given(self, form: AgreedForm) -> Given:
        return (form.order(),)

    def show(self, status: int, **extra: Any) -> HttpResponse:
        return super().show(status, agreed=extra["form"], **extra)


class AddPartView(JobActionView):
    """A new part for one that no twists bring to length."""

    action = add_part
    form_class = PartToAddForm
    screen = BackToSpecStep.key


class CancelView(JobActionView):
    action = cancel_job
    form_class = ReasonForm
    screen = CheckInStep.key
    stay = True


class ReopenView(JobActionView):
    action = reopen
    form_class = ReasonForm
    screen = CheckInStep.key
    stay = True


def _known(query: Any) -> dict[str, Any]:
    """A bow or customer named in the address, if it exists."""
    bow = _from_address(query, "bow", Bow)
    if bow is not None:
        return {"bow": bow.pk, "fitted": bow.fitted}
    customer = _from_address(query, "customer", Customer)
    if customer is not None:
        return {"customer": customer.pk}
    return {"customer_name": query["new"]} if query.get("new") else {}


def _from_address(query: Any, name: str, model: Any) -> Any:
    return model.objects.filter(pk=row_id(query.get(name))).first()


def _initial() -> dict[str, Any]:
    return {
        "promised_on": timezone.localdate() + USUALLY_DUE_AFTER,
        "hand": "right",
        "path": "carry_over",
        "fitted": USUALLY_FITTED,
    }


def _chosen(form: CheckInForm, name: str, model: Any) -> Any:
    return model.objects.filter(pk=row_id(form[name].value())).first()
