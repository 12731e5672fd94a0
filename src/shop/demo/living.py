"""A job being lived through: the shop's own acts in order, read off a hidden bow."""

import uuid
from datetime import timedelta
from decimal import Decimal
from random import Random

from django.utils import timezone

from bowcore.book_case import read_spec
from bowcore.casefile import Case
from bowcore.service.gates import gate_points
from bowcore.service.inspection import PLACES
from bowcore.service.needs import marks_needed, readings_needed
from shop.accounts.models import Member
from shop.bench.actions import press
from shop.bench.actions.bolts_back import bolts_back
from shop.bench.actions.check_in import Intake, check_in
from shop.bench.actions.check_part import Tugged, check_part
from shop.bench.actions.hand_over import hand_over
from shop.bench.actions.look_over import Seen, look_over
from shop.bench.actions.note_mark import note_mark
from shop.bench.actions.string_set import Measured, order_of, order_set, set_arrived
from shop.bench.actions.take_reading import Typed, take_reading
from shop.book.models import BookEntry
from shop.customers.models import Customer
from shop.devices import string_maker
from shop.devices.hidden import HiddenBow
from shop.devices.models import BenchBow
from shop.jobs.models import Job
from shop.records.deeds import Stamp
from shop.sets.models import StringSet
from shop.tuning.selectors import View, view_of

SEED = 20261
MARKED = {
    "bolts_top": "2", "bolts_bottom": "2", "module": "module C, both stops in hole 3",
    "lay": "right", "paint": "done", "routing": "both cables right of the guard, control inside",
    "shims_top": ".125/.125", "shims_bottom": ".125/.125",
    "rest_cord": "bottom cable, 9 in above the axle", "silencers": "4 in from each cam",
}  # fmt: skip
AS_WORN = {"fitted": ["rest", "sight", "peep", "loop"], "arrows": "his own, 380 gr"}
CABLE = ["replace_cable_a", "back_to_spec"]


class Bench:
    """One job being lived through: acts in order, read off a hidden bow."""

    def __init__(self, customer: Customer, number: int, days: int):
        self.customer, self.days = customer, days
        self.dice = Random(SEED + number)
        members = list(Member.objects.order_by("pk"))
        self.by = members[number % 3]
        self.job: Job
        self.bow: HiddenBow
        self.set: StringSet

    def stamp(self) -> Stamp:
        seen = Job.objects.get(pk=self.job.pk).version if hasattr(self, "job") else 0
        return Stamp(self.by, uuid.UUID(int=self.dice.getrandbits(128), version=4), seen)

    def check_in(self, services: list[str], model: str = "Lark 31", **more: object) -> None:
        entry = BookEntry.objects.get(model=model)
        weight = Decimal(self.dice.choice([54, 54, 60, 60]))
        intake = Intake(
            promised_on=timezone.localdate() + timedelta(days=self.days), services=services,
            customer=self.customer, entry=entry, hand=self.dice.choice(["right", "right", "left"]),
            marked_weight_lbf=weight, marked_draw_in=Decimal("28.5"), arrow_here=True,
            **(AS_WORN | more),  # type: ignore[arg-type]
        )  # fmt: skip
        self.job = check_in(intake, self.stamp())
        self.bow = HiddenBow(read_spec(Case(self.job.spec)), self.dice.getrandbits(32))
        self.bench = BenchBow.objects.create(job=self.job, seed=self.bow.seed)

    def off(self, **inches: float) -> None:
        """Parts of the bow as it came in that are not to length; how much more its cams lean."""
        self.bow.as_it_came(inches)
        self.bench.off_in = dict(inches)
        self.bench.save()

    def look_over(self, **seen: tuple[str, str]) -> None:
        rows = [Seen(p.key, *seen.get(p.key, ("fine", ""))) for p in PLACES]
        look_over(self.job.pk, rows, self.stamp())

    def read(self, *quantities: str) -> None:
        for name in quantities:
            quantity = self.bow.named(name)
            start = quantity.starts[min(1, len(quantity.starts) - 1)].key if quantity.starts else ""
            end = quantity.ends[0].key if quantity.ends else ""
            for _ in range(quantity.takes):
                text, first = self.bow.read(name)
                take_reading(self.job.pk, Typed(name, text, first, start, end), self.stamp())

    def baseline(self) -> None:
        """Everything this path needs before the press, readings and marks."""
        setup = self.view().facts.setup
        self.read(*readings_needed(setup))
        for key in marks_needed(setup):
            note_mark(self.job.pk, key, MARKED.get(key, "done"), self.stamp())

    def read_asked(self) -> None:
        """Everything that the job asks to be read now, until it asks for nothing."""
        while asked := self.view().course.to_read:
            self.read(*asked)

    def replace(self, role: str, short_in: float, gate: bool = True, judge: bool = True) -> None:
        """Put a new part on that is a little short (or long, when negative)."""
        press.open_press_to_replace(self.job.pk, role, self.stamp())
        length = self.bow.spec.part(role).length_in - round(short_in * 16) / 16
        new = press.NewPart(Decimal(str(length)), 24, "Ferrand Cordage, batch 41")
        row = press.swap(self.job.pk, new, self.stamp())
        self.bow.renew(role, short_in)
        self.bench.new_in[str(row.part_id)] = short_in
        self.bench.save()
        if gate:
            self.let_down()
        if gate and judge:
            self.judge(role, short_in)

    def judge(self, role: str, short_in: float) -> None:
        """The tug test of a new cable; past what twists can mend, the mark is said to be gone."""
        if role not in self.view().facts.unchecked:
            return
        off = Decimal(round(abs(short_in) * 64)) / 64
        tug = "on it" if off <= Decimal(1) / 64 else ("toward" if short_in > 0 else "away")
        tugged = Tugged(role, tug, Decimal(0) if tug == "on it" else off)
        if abs(short_in) > 0.1:
            tugged = Tugged(role, not_because="no mark on this cam")
        check_part(self.job.pk, tugged, self.stamp())

    def tugged(self, role: str, tug: str, off_in: Decimal) -> None:
        check_part(self.job.pk, Tugged(role, tug, off_in), self.stamp())

    def follow(self) -> None:
        """Do what the planner says, and let down."""
        best = self.view().advice.plan.best
        if not best.presses:
            press.turn_without_press(self.job.pk, best.steps, self.stamp())
            for key, count in best.steps:
                self.bow.twist(key, count)
            return
        cycle = press.accept_advice(self.job.pk, 0, self.stamp())
        press.turn(self.job.pk, [(r, n) for r, n in cycle.planned], self.stamp())
        for role, count in cycle.planned:
            self.bow.twist(role, count)
        self.let_down()

    def let_down(self) -> None:
        spacers = self.view().facts.has_spacers
        points = [p.key for p in gate_points(self.bow.spec.family, spacers)]
        press.let_down(self.job.pk, press.Gate(points), self.stamp())
        if self.view().facts.bolts_away:
            bolts_back(self.job.pk, self.stamp())

    def view(self) -> View:
        return view_of(Job.objects.get(pk=self.job.pk))

    def order_set(self) -> None:
        self.set = order_set(self.job.pk, "Ferrand Cordage", self.stamp())

    def set_arrives(self) -> None:
        """The maker's set comes and is measured as it is."""
        came = [
            Measured(
                d.role, Decimal(str(d.length_in)), d.strands, Decimal(str(d.served_top_in)),
                Decimal(str(d.served_bottom_in)), d.clipped,
            )
            for d in string_maker.deliver(order_of(self.set))
        ]  # fmt: skip
        set_arrived(self.job.pk, came, [], self.stamp())

    def hand_over(self) -> None:
        hand_over(self.job.pk, "", "", self.stamp())
