"""A new part that was logged and never went on: the entry is taken back, not the part."""

from bowcore.errors import Refused
from shop.casework.actions.bow_parts import put_back_on
from shop.casework.job_act import job_act
from shop.casework.submissions import EventDraft
from shop.schema.press.models import Adjustment
from shop.stages.string_set.actions import off_again


@job_act("change", right="change")
def part_not_on(event: EventDraft, adjustment_id: int) -> Adjustment:
    """Log that a part that was written down as put on is not on the bow; the one before it is.

    Raises
    ------
    Refused
        It is not the newest part of its role, or it has been turned or judged since.
    """
    state = event.state
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
