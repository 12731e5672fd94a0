"""What the step of work by hand shows."""

from django.http import HttpRequest

from bowcore.stages.work.step import WorkStep, work_open
from bowcore.work_order import cautions
from bowcore.work_order.needs import mark, work_marks
from shop.casework.readings.marks import TURNS_PAD, MarkRow
from shop.casework.readings.screens import chosen_row
from shop.casework.screens import Context, step_screen
from shop.casework.state import JobState
from shop.schema.inspection.selectors import photos_by_subject

WORK_CAUTIONS = {"work_arrow_cut": cautions.AT_THE_SAW}


@step_screen(WorkStep.key)
def work_screen(request: HttpRequest, state: JobState) -> tuple[str, Context]:
    """Work done by hand: each asked for, one open to be written down."""
    keys, photos = work_marks(state.facts.setup), photos_by_subject(state.job)
    rows = [MarkRow(mark(k), state.marks.get(k, ""), photos.get(k, [])) for k in keys]
    waiting, at = work_open(state.facts), chosen_row(request)
    opened = at if at in keys else next(iter(waiting), "")
    return "work/work.html", {
        "marks": rows,
        "noting": next((row for row in rows if row.mark.key == opened), None),
        "turns_pad": TURNS_PAD,
        "caution": WORK_CAUTIONS.get(opened, ""),
    }
