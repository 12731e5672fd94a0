"""A job's set and the shop's sets: order, arrival, what is moved over, spares, makers."""

import json

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, render

from bowcore.stages.string_set.step import StringSetStep
from shop.casework.action_view import Given, JobActionView, SubmissionForm
from shop.casework.screens import state_or_404, to_job
from shop.casework.submissions import Submission
from shop.schema.string_sets.models import StringSet
from shop.schema.string_sets.selectors import maker_records, spares, under_way
from shop.stages.string_set.actions import (
    move_over,
    order_of,
    order_set,
    set_arrived,
    set_as_labelled,
)
from shop.stages.string_set.forms import ArrivalForm, MoveOverForm, OrderForm
from shop.stages.string_set.transfer import as_csv
from shop.ui.pages import page_of

SPARES_ON_A_PAGE = 50
SETS_ON_A_PAGE = 30


class OrderSetView(JobActionView):
    """Stays where something is on its way; goes on where everything is here."""

    action = order_set  # to order or to decline takes more, which the action asks for
    form_class = OrderForm
    screen = StringSetStep.key

    def given(self, form: OrderForm) -> Given:
        return (form.order(),)

    def done(self, form: OrderForm) -> HttpResponse:
        if state_or_404(self.job_id).facts.to_order:
            return to_job(self.job_id, self.screen)
        return super().done(form)


class SetArrivedView(JobActionView):
    action = set_arrived
    form_class = ArrivalForm
    screen = StringSetStep.key
    stay = True

    def given(self, form: ArrivalForm) -> Given:
        return (form.measured(), form.contacts())


class SetAsLabelledView(JobActionView):
    """The whole set as its labels say, in one act."""

    right = "receive_set"
    form_class = SubmissionForm
    screen = StringSetStep.key

    def act(self, form: SubmissionForm, submission: Submission) -> None:
        set_as_labelled(self.job_id, submission)


class MoveOverView(JobActionView):
    action = move_over
    form_class = MoveOverForm
    screen = StringSetStep.key
    stay = True


def order_file(request: HttpRequest, set_id: int, form: str) -> HttpResponse:
    """The order as it was sent."""
    found = get_object_or_404(StringSet.objects.select_related("job__bow__entry"), pk=set_id)
    if form not in ("json", "csv"):
        raise Http404
    sent = order_of(found)
    text = json.dumps(sent, indent=1) if form == "json" else as_csv(sent)
    kind = "application/json" if form == "json" else "text/csv; charset=utf-8"
    headers = {"Content-Disposition": f'attachment; filename="order-{set_id}.{form}"'}
    return HttpResponse(text, content_type=kind, headers=headers)


def sets(request: HttpRequest) -> HttpResponse:
    """The shop's sets: under way, spares, makers."""
    context = {
        "section": "sets",
        "coming": page_of(request, under_way(), SETS_ON_A_PAGE, "coming"),
        "makers": maker_records(),
        "spares": page_of(request, spares(), SPARES_ON_A_PAGE),
    }
    return render(request, "string_set/sets.html", context)
