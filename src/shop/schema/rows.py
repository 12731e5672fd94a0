"""The rows that say what is known of a job, looked up once when they are first asked for."""

from dataclasses import dataclass
from functools import cached_property
from typing import Any

from django.utils.functional import SimpleLazyObject

from bowcore.accessories.on_the_bow import REST, THINGS, OnTheBow, thing
from bowcore.bow.lay import Lay, lay_of
from bowcore.bow.specification import STRING, length_of
from bowcore.work_order.holds import may_be_lifted
from bowcore.work_order.needs import REST_CORD
from bowcore.work_order.services import SHOOT_IN, parts_to_replace
from bowcore.work_order.supply import not_in_hand
from shop.schema.accounts.models import Shop
from shop.schema.bows.models import Part
from shop.schema.core_values import cams_of
from shop.schema.fitting.models import ThingOnBow
from shop.schema.jobs.models import Hold, Job
from shop.schema.measurements.models import CamByCaliper, LeftOnPurpose, MarkEntry, Reading
from shop.schema.press.models import Adjustment, PartCheck, PressCycle
from shop.schema.string_sets.models import Component
from shop.schema.tuning.models import ShotFired, SuspectLookedAt


@dataclass(frozen=True)
class RowsAtHand:
    """The rows of one job, where many jobs are read at once. Each list in order."""

    readings: list[Reading]
    adjustments: list[Adjustment]
    presses: list[PressCycle]
    mark_rows: list[MarkEntry]
    cams: list[CamByCaliper]
    part_checks: list[PartCheck]
    left_rows: list[LeftOnPurpose]
    thing_rows: list[ThingOnBow]
    shot_rows: list[ShotFired]
    looked_at_rows: list[SuspectLookedAt]
    last_job: Job | None
    components: tuple[Component, ...] = ()
    """Not looked up: a list of jobs does not show what has arrived."""


class JobRows:
    """Every row of one job, and what follows from the rows alone."""

    def __init__(self, job: Job, rows: RowsAtHand | None = None, shop: Shop | None = None):
        self.job = job
        self.many_at_once = rows is not None
        self._shop = shop
        for name, value in vars(rows).items() if rows is not None else ():
            setattr(self, name, value)  # in the place of what would look them up

    @cached_property
    def cams(self) -> list[CamByCaliper]:
        """Every measure of its cams on this job, the newest last."""
        return cams_of(self.job)

    @cached_property
    def shop(self) -> Shop:
        return self._shop or self.job.shop

    @cached_property
    def adjustments(self) -> list[Adjustment]:
        rows = Adjustment.objects.filter(job=self.job).select_related("by", "part", "corrects")
        return list(rows.order_by("seq", "pk"))

    @cached_property
    def adjustments_made(self) -> list[Adjustment]:
        """What was done to the bow: without parts that were logged and never went on."""
        rows = self.adjustments
        never = {row.corrects_id for row in rows if row.takes_part_off}
        return [row for row in rows if row.pk not in never and not row.takes_part_off]

    @property
    def just_put_on(self) -> list[Adjustment]:
        """New parts whose entry can be taken back: the newest of a role, nothing done to it since."""
        judged = {check.part_id for check in self.part_checks}
        last = {row.role: row for row in self.adjustments_made if row.role}
        return [row for row in last.values() if row.replaced and row.part_id not in judged]

    @cached_property
    def readings(self) -> list[Reading]:
        """Every reading, corrected ones included, in order."""
        rows = Reading.objects.filter(job=self.job).select_related("by", "sheet", "corrects")
        return list(rows.order_by("seq", "pk"))

    @cached_property
    def presses(self) -> list[PressCycle]:
        """Every press cycle, in order, each with its let-down if there was one."""
        rows = PressCycle.objects.filter(job=self.job).select_related("let_down", "by")
        return list(rows.order_by("seq"))

    @property
    def press(self) -> PressCycle | None:
        """The press cycle that is open."""
        last = self.presses[-1] if self.presses else None
        return None if last is None or hasattr(last, "let_down") else last

    @cached_property
    def tray(self) -> tuple[str, ...]:
        """Small parts that are out of the bow while the press is open, each once."""
        if self.press is None:
            return ()
        return tuple(dict.fromkeys(self.press.tray.order_by("pk").values_list("name", flat=True)))

    @cached_property
    def holds(self) -> list[Hold]:
        return [hold for hold in self.job.holds.all() if hold.lifted_at is None]

    @property
    def do_not_draw(self) -> str:
        """Why this bow must not be drawn, "" while it may be."""
        return next((hold.reason for hold in self.holds if hold.danger), "")

    @cached_property
    def liftable(self) -> list[Hold]:
        """Holds whose parts are new since they were placed, the press let down."""
        return [
            hold
            for hold in self.holds
            if may_be_lifted(hold.parts, self._new_since(hold), self.press is not None)
        ]

    @cached_property
    def part_checks(self) -> list[PartCheck]:
        if not any(row.part_id for row in self.adjustments):
            return []
        return list(PartCheck.objects.filter(job=self.job).order_by("-seq"))

    @cached_property
    def left_rows(self) -> list[LeftOnPurpose]:
        return list(LeftOnPurpose.objects.filter(job=self.job).order_by("seq", "pk"))

    @cached_property
    def left(self) -> dict[str, str]:
        """What is left outside its band on purpose, by quantity, with the reason."""
        newest = {row.quantity: row.reason for row in self.left_rows}
        return {name: reason for name, reason in newest.items() if reason}

    @cached_property
    def on_bow(self) -> OnTheBow:
        """What is on the bow: written down on this job, or on an earlier visit; read when it is asked for."""
        things: Any = SimpleLazyObject(self._things)
        return OnTheBow(things)

    @cached_property
    def thing_rows(self) -> list[ThingOnBow]:
        """What was written down of the bow, on this job or an earlier visit, the newest last."""
        found = ThingOnBow.objects.filter(job__bow=self.job.bow_id, job__lte=self.job.pk)
        return list(found.order_by("job", "seq", "pk"))

    @cached_property
    def shot_rows(self) -> list[ShotFired]:
        """Every shot, in order; none are asked for where nobody is to shoot it in."""
        if SHOOT_IN not in self.job.services:
            return []
        return list(ShotFired.objects.filter(job=self.job).order_by("seq", "pk"))

    @cached_property
    def looked_at_rows(self) -> list[SuspectLookedAt]:
        if SHOOT_IN not in self.job.services:
            return []
        return list(SuspectLookedAt.objects.filter(job=self.job).order_by("seq", "pk"))

    def _things(self) -> dict[str, dict[str, object]]:
        known = {one.key: one for one in THINGS}
        return {
            r.thing: r.details
            for r in self.thing_rows
            if r.thing in known and known[r.thing].usable(r.details)
        }

    @cached_property
    def marks(self) -> dict[str, str]:
        """What was written down last, by mark. The rest that was written down on this visit says where its
        cord goes."""
        found = {row.mark: row.value for row in self.mark_rows}
        if REST in self.job.fitted and REST_CORD not in found:
            rests = [
                row for row in self.thing_rows if row.thing == REST and row.job_id == self.job.pk
            ]
            if rests and thing(REST).usable(rests[-1].details):
                found[REST_CORD] = thing(REST).say(rests[-1].details)
        return found

    @cached_property
    def mark_rows(self) -> list[MarkEntry]:
        return list(MarkEntry.objects.filter(job=self.job).order_by("seq", "pk"))

    @cached_property
    def last_job(self) -> Job | None:
        """The bow's last visit, if it was handed over."""
        before = Job.objects.filter(bow=self.job.bow_id, pk__lt=self.job.pk)
        closed = before.exclude(handed_over_at=None).select_related("bow__entry", "shop")
        return closed.order_by("-pk").first()

    @property
    def string_lay(self) -> Lay | None:
        """How the string's threads run; None where nobody has looked."""
        return self._lay_of(STRING)

    def _lay_of(self, role: str) -> Lay | None:
        """Of the part that is on now: as it came, else as somebody has looked since."""
        new = [row for row in self.adjustments_made if row.role == role and row.part is not None]
        if new and new[-1].part and new[-1].part.lay:
            return lay_of(new[-1].part.lay)
        on_since = new[-1].seq if new else 0
        looked = [r for r in self.mark_rows if r.mark == f"lay_{role}" and r.seq > on_since]
        return lay_of(looked[-1].value) if looked else None

    def fitted_part(self, role: str) -> Part:
        """The newest part that decides the length of this string or cable."""
        row = next(
            r for r in reversed(self.adjustments_made) if r.replaced and length_of(r.role) == role
        )
        assert row.part is not None
        return row.part

    def _new_since(self, hold: Hold) -> set[str]:
        """Roles of the parts that went on since a hold was placed."""
        made = self.adjustments_made
        return {row.role for row in made if row.replaced and row.at > hold.placed_at}

    @cached_property
    def components(self) -> list[Component]:
        """Of every set of this job, with the set; none where every part is in hand without an order."""
        if not not_in_hand(parts_to_replace(self.job.services), self.job.supply):
            return []
        return list(Component.objects.filter(set__job=self.job).select_related("set"))
