"""A new part that was logged and never went on: the entry is taken back, not the part."""

from bowcore.errors import Refused
from shop.casework.actions.bow_parts import put_back_on
from shop.casework.checks import require_act
from shop.casework.state import job_state
from shop.casework.submissions import Submission, on_job
from shop.schema.press.models import Adjustment
from shop.stages.string_set.actions import off_again


def part_not_on(job_id: int, adjustment_id: int, submission: Submission) -> Adjustment:
    """Log that a part that was written down as put on is not on the bow; the one before it is.

    Raises
    ------
    Refused
        It is not the newest part of its role, or it has been turned or judged since.
    """
    with on_job(job_id, "change", submission) as event:
        state = job_state(event.job)
        require_act(submission.by, "change", state)
        row = next((r for r in state.just_put_on if r.pk == adjustment_id), None)
        if row is None or row.part is None:
            raise Refused(
                "Only the newest part can be taken back, and only before it was turned or judged. "
                "Replace it again instead."
            )
        put_back_on(row.part)
        off_again(row.part)
        event.summary = f"the new {row.part.label.lower()} did not go on: logged by mistake"
        return Adjustment.objects.create(
            **event.fact,
            press=row.press,
            change=row.change,
            adjuster=row.adjuster,
            role=row.role,
            corrects=row,
            note="logged by mistake",
        )
