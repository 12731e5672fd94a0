"""The radii of a bow's cam, by caliper: they make what is advised on its timing surer."""

from decimal import Decimal

from bowcore.bow.cam_radii import CamRadii
from bowcore.bow.specification import BowSpec
from bowcore.errors import BadInput, Contradicted, Refused
from bowcore.stages.back_to_spec.by_caliper import unlikely_radii
from bowcore.work_order.roles import may
from shop.book.actions import save_entry
from shop.book.transfer import as_dict
from shop.casework.checks import (
    require_bolts_back,
    require_not_held,
    require_press_closed,
)
from shop.casework.engine.priors import book_prior
from shop.casework.job_act import job_act
from shop.casework.submissions import EventDraft
from shop.schema.accounts.models import Member
from shop.schema.book.models import BookEntry
from shop.schema.measurements.models import CamByCaliper


@job_act("note", right="read")
def measure_cam(event: EventDraft, radii: CamRadii, sure: bool = False) -> CamByCaliper:
    """Append what a caliper gave at full draw, and put it into the book where the book has nothing.

    Parameters
    ----------
    sure : bool
        It was measured twice: what is unlikely is taken all the same.

    Raises
    ------
    BadInput
        With these radii the book's numbers do not make a bow.
    Contradicted
        A radius is far from what is usual, and nobody is sure of it.
    Refused
        Its timing does not depend on them, the bow may not be drawn now, or the job is closed.
    """
    state = event.state
    require_press_closed(state, "measure the cam")
    require_bolts_back(state)
    require_not_held(state, "draw")
    if not state.spec.timed_by_tracks:
        raise Refused("On this family the radii of the cam do not decide the timing.")
    unlikely = unlikely_radii(radii, state.book.spec())
    if unlikely and not sure:
        raise Contradicted(f"{unlikely} Measure it again, or keep it if you are sure.")
    _require_a_bow(radii.on(state.spec))
    row = CamByCaliper.objects.create(
        **event.fact,
        peg_in=Decimal(str(radii.peg_in)),
        take_up_in=Decimal(str(radii.take_up_in)),
        let_out_in=Decimal(str(radii.let_out_in)),
    )
    event.summary = f"measured the cam by caliper: {radii.say()}"
    entry = event.job.bow.entry
    if missing := missing_in_the_book(entry, event.by):
        _put_into_the_book(event, missing, radii)
        event.summary += ", put into the book"
    return row


def _require_a_bow(spec: BowSpec) -> None:
    if book_prior(spec) is None:
        raise BadInput(
            "With these radii the book's numbers do not make a bow. Measure again, at full draw and from the "
            "axle's centre.",
            "radii",
        )


def missing_in_the_book(entry: BookEntry, by: Member) -> tuple[str, ...]:
    """Fields that are filled in with what is measured: what is in the book stays, and an apprentice does not
    change it."""
    if not may(by.staff_role, "set_book"):
        return ()
    return tuple(name for name in _IN_BOOK if getattr(entry, name) is None)


_IN_BOOK = {
    "peg_radius_in": "peg_in",
    "take_up_radius_in": "take_up_in",
    "let_out_radius_in": "let_out_in",
}
"""By the book's field, the radius that belongs there."""


def _put_into_the_book(event: EventDraft, missing: tuple[str, ...], radii: CamRadii) -> None:
    found = {name: getattr(radii, _IN_BOOK[name]) for name in missing}
    entry = event.job.bow.entry
    save_entry(
        as_dict(entry) | found, f"measured by caliper on job {event.job.pk}", event.by, entry
    )
