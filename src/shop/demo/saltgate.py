"""Saltgate Range & Workshop: the demo shop, made by a seeded script through the shop's own acts."""

import uuid
from collections.abc import Callable
from datetime import timedelta
from decimal import Decimal
from random import Random

from django.db import transaction
from django.utils import timezone

from bowcore.casefile import Case
from bowcore.cases import read_spec
from bowcore.quantities.catalogue import REQUIRED
from bowcore.service.gates import gate_points
from bowcore.service.handover import blockers
from bowcore.service.inspection import PLACES
from bowcore.service.needs import marks_needed, readings_needed
from shop.accounts.models import Member, Shop
from shop.bench.actions import press
from shop.bench.actions.bolts_back import bolts_back
from shop.bench.actions.check_in import Intake, check_in
from shop.bench.actions.check_part import Tugged, check_part
from shop.bench.actions.hand_over import hand_over
from shop.bench.actions.look_over import Seen, look_over
from shop.bench.actions.note_mark import note_mark
from shop.bench.actions.take_reading import Typed, take_reading
from shop.book.actions import save_entry
from shop.book.models import BookEntry
from shop.customers.models import Customer
from shop.demo import people
from shop.devices.bench import TOOLS
from shop.devices.hidden import HiddenBow
from shop.devices.models import BenchBow, BenchTool
from shop.jobs.models import Job
from shop.records.deeds import Stamp
from shop.tuning.selectors import view_of

SEED = 20261
PART_COLUMNS = ("role", "label", "ends", "length_in", "strands", "twists_per_in")


@transaction.atomic
def fill() -> None:
    """Fill an empty database with the demo shop."""
    open_shop()
    fill_rack()


def fill_rack() -> None:
    """Customers and their jobs, each at a stage of its own."""
    customers = [Customer.objects.create(name=n, phone=p) for n, p in people.CUSTOMERS]
    for number, (scene, days) in enumerate(SCENES):
        scene(Bench(customers[number], number, days))


def open_shop() -> None:
    """The shop, its people and its book; no customers yet."""
    Shop.objects.create(name="Saltgate Range & Workshop")
    for key in TOOLS:
        BenchTool.objects.create(key=key)
    for username, first, last, role in people.MEMBERS:
        Member.objects.create_user(
            username, password=people.PASSWORD, first_name=first, last_name=last, role=role
        )
    for values in people.ENTRIES:
        parts = [dict(zip(PART_COLUMNS, row, strict=True)) for row in people.PARTS[values["model"]]]
        save_entry(values | {"parts": parts}, "the maker's sheet", None)


class Bench:
    """One job being lived through: acts in order, read off a hidden bow."""

    def __init__(self, customer: Customer, number: int, days: int):
        self.customer, self.days = customer, days
        self.dice = Random(SEED + number)
        members = list(Member.objects.order_by("pk"))
        self.by = members[number % 3]
        self.job: Job
        self.bow: HiddenBow

    def stamp(self) -> Stamp:
        seen = Job.objects.get(pk=self.job.pk).version if hasattr(self, "job") else 0
        return Stamp(self.by, uuid.UUID(int=self.dice.getrandbits(128), version=4), seen)

    def check_in(self, services: list[str], model: str = "Lark 31", **more: object) -> None:
        entry = BookEntry.objects.get(model=model)
        weight = Decimal(self.dice.choice([50, 54, 55, 60]))
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
        """Parts of the bow as it came in that are not to length."""
        self.bow.off_in = dict(inches)
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
        setup = view_of(Job.objects.get(pk=self.job.pk)).facts.setup
        self.read(*readings_needed(setup))
        for key in marks_needed(setup):
            note_mark(self.job.pk, key, MARKED.get(key, "done"), self.stamp())

    def read_asked(self) -> None:
        """Everything that the job asks to be read now, until it asks for nothing."""
        while asked := view_of(Job.objects.get(pk=self.job.pk)).course.to_read:
            self.read(*asked)

    def replace(self, role: str, short_in: float, gate: bool = True) -> None:
        """Put a new part on that is a little short (or long, when negative)."""
        press.open_press_to_replace(self.job.pk, role, self.stamp())
        length = self.bow.spec.part(role).length_in - round(short_in * 16) / 16
        new = press.NewPart(Decimal(str(length)), 24, "Ferrand Cordage, batch 41")
        row = press.swap(self.job.pk, new, self.stamp())
        self.bow.off_in[role] = short_in
        self.bench.new_in[str(row.part_id)] = short_in
        self.bench.save()
        if gate:
            self.let_down()
            self.judge(role, short_in)

    def judge(self, role: str, short_in: float) -> None:
        """The tug test of a new cable; past what twists can mend, the mark is said to be gone."""
        if role not in view_of(Job.objects.get(pk=self.job.pk)).facts.unchecked:
            return
        off = Decimal(round(abs(short_in) * 64)) / 64
        tug = "on it" if off <= Decimal(1) / 64 else ("toward" if short_in > 0 else "away")
        tugged = Tugged(role, tug, Decimal(0) if tug == "on it" else off)
        if abs(short_in) > 0.1:
            tugged = Tugged(role, not_because="no mark on this cam")
        check_part(self.job.pk, tugged, self.stamp())

    def follow(self) -> None:
        """Do what the planner says, and let down."""
        cycle = press.accept_advice(self.job.pk, 0, self.stamp())
        press.turn(self.job.pk, [(r, n) for r, n in cycle.planned], self.stamp())
        for role, count in cycle.planned:
            self.bow.twist(role, count)
        self.let_down()

    def let_down(self) -> None:
        points = [p.key for p in gate_points(self.bow.spec.family)]
        press.let_down(self.job.pk, press.Gate(points), self.stamp())
        if view_of(Job.objects.get(pk=self.job.pk)).facts.bolts_away:
            bolts_back(self.job.pk, self.stamp())

    def hand_over(self) -> None:
        hand_over(self.job.pk, "", "", self.stamp())


MARKED = {
    "bolts_top": "2", "bolts_bottom": "2", "module": "module C, both stops in hole 3",
    "lay": "right", "paint": "done", "routing": "both cables right of the guard, control inside",
    "rest_cord": "bottom cable, 9 in above the axle", "silencers": "4 in from each cam",
}  # fmt: skip
AS_WORN = {"fitted": ["rest", "sight", "peep", "loop"], "arrows": "his own, 380 gr"}
CABLE = ["replace_cable_a", "back_to_spec"]


def to_plan(bench: Bench) -> None:
    """Everything read after a cable: the plan waits on the screen."""
    bench.check_in(CABLE)
    bench.look_over()
    bench.baseline()
    bench.replace("cable_a", -0.045)
    bench.read(*REQUIRED)


def half_baseline(bench: Bench) -> None:
    bench.check_in(["replace_cable_b", "back_to_spec"])
    bench.look_over()
    bench.read("axle_to_axle", "brace_height")


def arrived(bench: Bench) -> None:
    bench.check_in(CABLE, tag="bow 4", note="School league bow")


def waits_for_set(bench: Bench) -> None:
    bench.check_in(CABLE, waits=["set"])
    bench.look_over(servings=("watch", "end serving worn"))
    bench.baseline()


def cracked(bench: Bench) -> None:
    bench.check_in(["back_to_spec"])
    bench.look_over(limbs_bottom=("stop", "lower limb, at the pocket"))


def to_hand_over(bench: Bench) -> None:
    bench.check_in(["back_to_spec"])
    bench.look_over()
    bench.off(cable_a=0.03)
    bench.baseline()
    for _ in range(4):
        view_ready = _settled(bench)
        if view_ready:
            return
        bench.follow()
        bench.read_asked()


def press_open(bench: Bench) -> None:
    bench.check_in(["replace_cable_b", "back_to_spec"])
    bench.look_over()
    bench.baseline()
    bench.replace("cable_b", 0.03, gate=False)


def to_read_again(bench: Bench) -> None:
    bench.check_in(["replace_cable_b", "back_to_spec"])
    bench.look_over()
    bench.baseline()
    bench.replace("cable_b", 0.04)
    bench.read("axle_to_axle", "brace_height")


def hybrid_to_plan(bench: Bench) -> None:
    bench.check_in(["replace_cable_b", "back_to_spec"], model="Pilot 33")
    bench.look_over()
    bench.baseline()
    bench.replace("cable_b", 0.05)
    bench.read(*REQUIRED)


def unguided(bench: Bench) -> None:
    bench.check_in(["back_to_spec"], model="Sarn 35")


def finished(bench: Bench) -> None:
    to_hand_over(bench)
    if _settled(bench):
        bench.hand_over()


def _settled(bench: Bench) -> bool:

    view = view_of(Job.objects.get(pk=bench.job.pk))
    return not blockers(view.facts, view.bands)


SCENES: list[tuple[Callable[[Bench], None], int]] = [
    (to_plan, 1), (half_baseline, 1), (waits_for_set, 2), (cracked, 3), (to_hand_over, 0),
    (to_read_again, 2), (press_open, 5), (arrived, 2), (unguided, 6), (finished, 1), (hybrid_to_plan, 3),
]  # fmt: skip
