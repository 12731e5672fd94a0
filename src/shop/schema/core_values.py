"""Rows of readings, of the ledger and of shots as the core takes them."""

from collections.abc import Iterable

from bowcore.bow.specification import BowSpec
from bowcore.errors import BadInput
from bowcore.evidence.facts import LedgerEntry, Take
from bowcore.evidence.looked_at import LookedAt
from bowcore.evidence.shots import ShaftKind, Shot, ShotTest
from bowcore.io.book import spec_from
from bowcore.quantities.changes import Change
from bowcore.stages.shooting_in.suspects import BY_KEY
from shop.schema.jobs.models import Job
from shop.schema.measurements.models import CamByCaliper, Reading
from shop.schema.press.models import Adjustment
from shop.schema.tuning.models import ShotFired, SuspectLookedAt


def cams_of(job: Job) -> list[CamByCaliper]:
    """Every time this bow's cam was measured on this job, the newest last."""
    return list(CamByCaliper.objects.filter(job=job).order_by("seq", "pk"))


def as_measured(book: BowSpec, cams: list[CamByCaliper]) -> BowSpec:
    """The book with the radii that a caliper gave on this bow, where there are any."""
    return cams[-1].radii.on(book) if cams else book


def spec_now(job: Job) -> BowSpec:
    """The book as this job kept it, with what a caliper gave since."""
    return as_measured(spec_from(job.spec), cams_of(job))


def takes_of(readings: list[Reading]) -> list[Take]:
    """The readings that count, each at the moment it is about.

    A correction is about the moment of what it corrects.
    """
    replaced = {row.corrects_id for row in readings if row.corrects_id}
    by_pk = {row.pk: row for row in readings}
    return [_take(row, _moment(row, by_pk)) for row in readings if row.pk not in replaced]


def _moment(row: Reading, by_pk: dict[int, Reading]) -> int:
    while row.corrects_id:
        row = by_pk[row.corrects_id]
    return row.seq


def _take(row: Reading, seq: int) -> Take:
    value = None if row.value is None else float(row.value)
    sheet = "baseline" if row.sheet.after_id is None else row.sheet.kind
    sigma = row.sigma or None
    return Take(seq, row.quantity, value, sheet, row.reason, row.start, row.end, sigma)


def ledger_entry(row: Adjustment) -> LedgerEntry:
    """A ledger entry as the core takes it."""
    return LedgerEntry(
        row.moment, Change(row.change), row.adjuster, row.role, row.steps, row.replaced
    )


def shots_of(rows: Iterable[ShotFired]) -> tuple[Shot, ...]:
    """Every shot that counts, in order; those that were taken out are left out, and those that a record from
    elsewhere holds and nobody could have shot."""
    every = list(rows)
    gone = {row.takes_out_id for row in every if row.takes_out_id}
    counted = (row for row in every if row.pk not in gone and not row.takes_out_id)
    return tuple(shot for row in counted if (shot := _shot(row)) is not None)


def _shot(row: ShotFired) -> Shot | None:
    try:
        return Shot(
            row.seq, ShotTest(row.test), row.distance_yd, row.x_in, row.y_in, ShaftKind(row.kind), row.arrow,
            row.shooter, row.good, row.spine,
        )  # fmt: skip
    except (BadInput, ValueError):
        return None


def looked_at(rows: Iterable[SuspectLookedAt]) -> tuple[LookedAt, ...]:
    """Every suspect that was looked at or mended, of those that are known."""
    known = (row for row in rows if row.suspect in BY_KEY)
    return tuple(LookedAt(row.seq, row.suspect, row.found, row.mended) for row in known)
