"""The counter: find the bow or describe it, and check it in."""

from datetime import timedelta
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone

from bowcore.service.needs import PATH_ASKS
from shop.bench.acting import act
from shop.bench.actions.check_in import check_in
from shop.bench.forms import CheckInForm
from shop.bows.models import Bow
from shop.customers.models import Customer
from shop.customers.selectors import customers_called
from shop.records.models import Deed


def new(request: HttpRequest) -> HttpResponse:
    """Check in: first whose bow, then the rest."""
    if request.method == "POST":
        return _open(request)
    known = _known(request.GET)
    if known or "new" in request.GET:
        return _page(request, form=CheckInForm(initial=_initial() | known))
    name = request.GET.get("q", "").strip()
    found = customers_called(name).prefetch_related("bows__entry")[:12] if name else []
    return render(request, "bench/whose.html", {"section": "rack", "name": name, "found": found})


def _open(request: HttpRequest) -> HttpResponse:
    form = CheckInForm(request.POST)

    def do(form: CheckInForm, stamp: Any) -> None:
        check_in(form.intake(), stamp)

    refused = act(request, form, do, lambda **extra: _page(request, **extra))
    if refused is not None:
        return refused
    deed = Deed.objects.get(key=form.cleaned_data["key"])
    return redirect("job", int(deed.result))


def _page(request: HttpRequest, form: CheckInForm, status: int = 200, **extra: Any) -> HttpResponse:
    context = {"section": "rack", "form": form, "bow": _chosen(form, "bow", Bow),
               "customer": _chosen(form, "customer", Customer), "path_asks": PATH_ASKS} | extra  # fmt: skip
    return render(request, "bench/check_in.html", context, status=status)


def _known(query: Any) -> dict[str, Any]:
    """A bow or customer named in the address, if it exists."""
    for name, model in (("bow", Bow), ("customer", Customer)):
        if query.get(name, "").isdigit():
            found = model.objects.filter(pk=query[name]).first()
            if found is not None:
                return {name: found.pk} | (
                    {"fitted": found.fitted} if isinstance(found, Bow) else {}
                )
    return {"customer_name": query["new"]} if query.get("new") else {}


def _initial() -> dict[str, Any]:
    return {
        "promised_on": timezone.localdate() + timedelta(days=7),
        "hand": "right",
        "path": "carry_over",
        "fitted": ["rest", "sight", "peep", "loop"],
    }


def _chosen(form: CheckInForm, name: str, model: Any) -> Any:
    value = form[name].value()
    return model.objects.filter(pk=value).first() if value else None
