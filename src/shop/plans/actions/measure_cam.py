"""The radii of a bow's cam, by caliper: they make what is advised on its timing surer."""

from decimal import Decimal

from bowcore.errors import BadInput, Contradicted, Refused
from bowcore.mechanics.cam_radii import CamRadii
from bowcore.mechanics.specification import BowSpec
from bowcore.workflow.by_caliper import unlikely_radii
from bowcore.workflow.roles import may
from shop.accounts.models import Member
from shop.audit.submissions import Submission, on_job
from shop.book.actions import save_entry
from shop.book.models import BookEntry
from shop.book.transfer import as_dict
from shop.engine.priors import book_prior
from shop.jobs.checks import require_act
from shop.jobs.state import job_state
from shop.measurements.models import CamByCaliper


def measure_cam(
    job_id: int, radii: CamRadii, submission: Submission, sure: bool = False
) -> CamByCaliper:
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
        Its timing does not depend on them, or the job is closed.
    """
    with on_job(job_id, "note", submission) as event:
        state = job_state(event.job)
        require_act(submission.by, "read", state)
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
        if goes_into_the_book(event.job.bow.entry, submission.by):
            _put_into_the_book(event.job.bow.entry, radii, job_id, submission.by)
            event.summary += ", put into the book"
        return row


def _require_a_bow(spec: BowSpec) -> None:
    if book_prior(spec) is None:
        raise BadInput(
            "With these radii the book's numbers do not make a bow. Measure again, at full draw and from the "
            "axle's centre.",
            "radii",
        )


def goes_into_the_book(entry: BookEntry, by: Member) -> bool:
    """Whether what is measured is put there: what is in it stays, and an apprentice does not change it."""
    written = (entry.peg_radius_in, entry.take_up_radius_in, entry.let_out_radius_in)
    return not any(written) and may(by.staff_role, "set_book")


def _put_into_the_book(entry: BookEntry, radii: CamRadii, job_id: int, by: Member) -> None:
    found = {
        "peg_radius_in": radii.peg_in,
        "take_up_radius_in": radii.take_up_in,
        "let_out_radius_in": radii.let_out_in,
    }
    save_entry(as_dict(entry) | found, f"measured by caliper on job {job_id}", by)
