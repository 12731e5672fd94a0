"""What was agreed at the counter, to be seen and changed while the job is open."""

from django.http import HttpRequest

from bowcore.quantities.inches import say_bare
from bowcore.stages.check_in.step import CheckInStep
from bowcore.work_order.services import say_asked
from shop.casework.screens import Context, step_screen
from shop.casework.state import JobState
from shop.schema.inspection.models import AS_IT_CAME
from shop.schema.inspection.selectors import photos_by_subject
from shop.stages.check_in.forms import AgreedForm


@step_screen(CheckInStep.key)
def agreed(request: HttpRequest, state: JobState) -> tuple[str, Context]:
    """The order as it is now; the form is filled with it."""
    job = state.job
    lengths = {
        name: say_bare(float(value), 64)
        for name in ("wanted_draw_in", "wanted_gap_in")
        if (value := getattr(job, name)) is not None
    }
    same = {name: getattr(job, name) for name in AgreedForm.SAME}
    weight = None if job.wanted_weight_lbf is None else f"{job.wanted_weight_lbf.normalize():f}"
    more = {"wanted_weight_lbf": weight, "phone": job.bow.customer.phone, "tag": job.bow.tag}
    form = AgreedForm(initial=same | lengths | more)
    form.offer(state.spec.replaceable)
    return "check_in/agreed.html", {
        "agreed": form,
        "as_it_came": AS_IT_CAME,
        "photos": photos_by_subject(job).get(AS_IT_CAME, []),
        "asked_names": say_asked(job.services, state.spec.labels),
    }
