"""A job worked through: the shop's own acts in order, read off a simulated bow."""

import uuid
from datetime import timedelta
from decimal import Decimal
from random import Random
from typing import Any

from django.utils import timezone

from bowcore.accessories.arrow_build import CarbonState, SetArrow
from bowcore.adjusters.steps import Steps
from bowcore.bow.specification import length_of
from bowcore.evidence.shots import ShaftKind, ShotTest
from bowcore.io.book import spec_from
from bowcore.quantities.quantity import Quantity
from bowcore.simulation.simulated_bow import SimulatedBow, simulated_bow
from bowcore.stages.inspection.places import PLACES
from bowcore.stages.replace.gates import gate_points
from bowcore.stages.stabiliser.bars import Bars, FloatSet, PinFloat
from bowcore.work_order.needs import marks_needed, marks_welcome, readings_needed
from bowcore.work_order.supply import Supply
from shop.casework.readings.actions.take_reading import TypedReading, take_reading
from shop.casework.readings.actions.write_mark import write_mark
from shop.casework.state import JobState, job_state
from shop.casework.submissions import Submission
from shop.schema.accounts.models import Member
from shop.schema.book.models import BookEntry
from shop.schema.customers.models import Customer
from shop.schema.jobs.models import Job
from shop.schema.string_sets.models import StringSet
from shop.simulated.bench import bow_now, faults_of
from shop.simulated.models import SimulatedBench
from shop.simulated.string_maker import SimulatedStringMaker
from shop.stages.arrow.actions import write_down_set
from shop.stages.back_to_spec.actions.accept_plan import accept_plan
from shop.stages.check_in.actions.check_in import CheckInAnswers, check_in
from shop.stages.fit.actions import do_fit_act, write_down_thing
from shop.stages.fit.state import fit_now
from shop.stages.hand_over.actions import hand_over
from shop.stages.inspection.actions import PlaceSeen, inspect_bow
from shop.stages.replace.actions import cycle
from shop.stages.replace.actions.bolts_back import bolts_back
from shop.stages.replace.actions.check_part import TugResult, check_part
from shop.stages.replace.actions.draw_in import draw_in
from shop.stages.shooting_in.actions import (
    ShotTyped,
    look_at_suspect,
    mend_suspect,
    write_down_shot,
)
from shop.stages.speed.actions import SpeedTyped, write_down_speed
from shop.stages.stabiliser.actions import write_down_float
from shop.stages.string_set.actions import (
    MeasuredComponent,
    SetOrder,
    order_of,
    order_set,
    set_arrived,
)

SEED = 20261
STRING_MAKER = "Ferrand Cordage"
MARKED = {
    "bolts_top": "2", "bolts_bottom": "2", "module_top": "module 3, hole 3",
    "module_bottom": "module 3, hole 3",
    "lay_string": "z", "lay_cable_a": "z", "lay_cable_b": "z", "paint": "done",
    "routing": "both cables right of the guard, control inside",
    "shims_top": ".125/.125", "shims_bottom": ".125/.125",
    "rest_cord": "bottom cable, 9 in above the axle", "silencers": "4 in from each cam",
}  # fmt: skip
AS_WORN = {"fitted": ["rest", "sight", "peep", "loop"], "arrows": "own arrows, 412 gr"}
CABLE = ["replace_cable_a", "back_to_spec"]
MOST_PLANS = 4


class JobScript:
    """One job being worked through: acts in order, read off a simulated bow."""

    def __init__(self, customer: Customer, number: int, days: int):
        self.customer, self.days = customer, days
        self.rng = Random(SEED + number)
        members = list(Member.objects.order_by("pk"))
        self.by = members[number % 3]
        self.job: Job
        self.bow: SimulatedBow
        self.set: StringSet

    def submission(self) -> Submission:
        """A new post by this technician, having seen the job as it is now."""
        seen = Job.objects.get(pk=self.job.pk).version if hasattr(self, "job") else 0
        return Submission(self.by, uuid.UUID(int=self.rng.getrandbits(128), version=4), seen)

    def check_in(self, services: list[str], model: str = "Lark 31", **more: Any) -> None:
        entry = BookEntry.objects.get(model=model)
        weight = Decimal(self.rng.choice([54, 54, 60, 60]))
        answers = CheckInAnswers(
            promised_on=timezone.localdate() + timedelta(days=self.days),
            services=services,
            customer=self.customer,
            entry=entry,
            marked_weight_lbf=weight,
            marked_draw_in=Decimal("28.5"),
            arrow_here=True,
            **({"hand": self.rng.choice(["right", "right", "left"])} | AS_WORN | more),
        )
        self.job = check_in(answers, self.submission())
        seed = self.rng.getrandbits(32)
        self.bow = simulated_bow(spec_from(self.job.spec), seed)
        self.bench = SimulatedBench.objects.create(job=self.job, seed=seed)

    def came_in(self, lean: float = 0.0, lean_bottom: float = 0.0, **short_in: float) -> None:
        """Parts of the bow as it came in that are not to length; how much its cams lean. [in]"""
        self.bench.off_in = short_in
        self.bench.leans_in = {"lean": lean, "lean_bottom": lean_bottom}
        self.bench.save()
        self.bow.came_in(faults_of(self.bench))

    def new_string_sits(self, **off: float) -> None:
        """How far off each number of the fit will be on the new string, in its unit."""
        self.bench.misfit = off
        self.bench.save()
        self.bow.came_in(faults_of(self.bench))

    def on_the_bow(self, key: str, **details: str) -> None:
        """Write down something that is on the bow."""
        write_down_thing(self.job.pk, self.submission(), key, details)

    def shot(
        self, x: float, y: float, shooter: str = "", arrow: str = "", good: bool = True
    ) -> None:
        """Shoot once through paper: the nock's hole less the point's. [in]"""
        write_down_shot(self.job.pk, self.submission(), ShotTyped(x, y, shooter, arrow, good))

    def shot_at(
        self, test: ShotTest, yards: float, x: float, y: float, kind: ShaftKind = ShaftKind.FLETCHED
    ) -> None:
        """Shoot once at a butt: the impact less the point aimed at. [in]"""
        typed = ShotTyped(x, y, test=test, distance_yd=yards, kind=kind)
        write_down_shot(self.job.pk, self.submission(), typed)

    def speeds(
        self,
        *texts: str,
        arrow: str = "",
        mass_gr: float | None = None,
        weights_in: float | None = None,
    ) -> None:
        """Shoot over the chronograph: the job's own arrow where no mass is given."""
        for text in texts:
            reading = TypedReading("arrow_speed", text, sure=True)
            typed = SpeedTyped(reading, arrow, mass_gr, weights_in)
            write_down_speed(self.job.pk, self.submission(), typed)

    def weighed(self, name: str, *masses_gr: float) -> None:
        """Weigh a set of arrows."""
        arrows = [
            SetArrow(str(number), mass, carbon=CarbonState.SOUND)
            for number, mass in enumerate(masses_gr, 1)
        ]
        write_down_set(self.job.pk, self.submission(), name, arrows)

    def held_with(self, bars: Bars, pin: PinFloat, rating: int) -> None:
        """Hold at a dot with some bars and weights."""
        write_down_float(self.job.pk, self.submission(), FloatSet(bars, pin, rating))

    def looked_at(self, suspect: str, found: bool, mended: bool = False) -> None:
        """Look at a suspect behind a tear, or mend it."""
        if mended:
            mend_suspect(self.job.pk, self.submission(), suspect)
        else:
            look_at_suspect(self.job.pk, self.submission(), suspect, found)

    def back_to_spec(self) -> None:
        """Read, plan and turn until every number is inside."""
        self.read_asked()
        for _ in range(MOST_PLANS):
            if not self.state().course.outside:
                return
            self.follow_plan()
            self.read_asked()

    def fit(self, most: int = 100) -> None:
        """Follow the fit, reading by reading and act by act, as far as it goes or for so many acts."""
        for _ in range(most):
            state = self.state()
            if unread := state.course.situation.fit_unread:
                self.read(unread[0])
                continue
            acts = fit_now(state).acts
            if not acts:
                return
            do_fit_act(self.job.pk, self.submission(), acts[0].sets[0])
            if self.state().press is not None:
                cycle.turn(self.job.pk, self.submission(), acts[0].steps)
                self.let_down()
                self.read_asked()
            self.bow = bow_now(self.state())

    def inspect(self, **seen: tuple[str, str]) -> None:
        rows = [PlaceSeen(p.key, *seen.get(p.key, ("fine", "")), parts=p.parts) for p in PLACES]
        inspect_bow(self.job.pk, self.submission(), rows)

    def read(self, *quantities: str) -> None:
        for name in quantities:
            quantity = self.bow.named(name)
            start = _from_where(quantity)
            end = quantity.ends[0].key if quantity.ends else ""
            for _ in range(quantity.takes):
                text, direction = self.bow.typed(name)
                typed = TypedReading(name, text, direction, start, end, sure=True)
                take_reading(self.job.pk, self.submission(), typed)

    def baseline(self) -> None:
        """Everything this job needs before the press, readings and marks."""
        self.read(*readings_needed(self.state().facts.setup))
        self.write_marks()

    def write_marks(self) -> None:
        """What is written down before the press and is not measured."""
        setup = self.state().facts.setup
        for key in (*marks_needed(setup), *marks_welcome(setup)):
            write_mark(self.job.pk, self.submission(), key, MARKED.get(key, "done"))

    def read_asked(self) -> None:
        """Everything that the job asks to be read now, until it asks for nothing."""
        while asked := self.state().course.to_read:
            self.read(*asked)

    def read_until_sure(self) -> None:
        """What the plan wants read once more before it decides."""
        while again := self.state().advice.plan.read_again:
            self.read(again)

    def replace(self, role: str, short_in: float, gate: bool = True, judge: bool = True) -> None:
        """Put a new part on that is a little short (or long, when negative)."""
        self.have_parts()
        cycle.open_press_to_replace(self.job.pk, self.submission(), role)
        length = self.bow.spec.part(role).length_in - round(short_in * 16) / 16
        new = cycle.NewPart(Decimal(str(length)), 24, f"{STRING_MAKER}, batch 41", "z")
        row = cycle.swap(self.job.pk, self.submission(), new)
        self.bow.fit_part(role, short_in)
        self.bench.new_in[str(row.part_id)] = short_in
        self.bench.save()
        if gate:
            self.let_down()
        if gate and judge:
            self.judge(length_of(role), short_in)
            self.draw_in()

    def have_parts(self) -> None:
        """What was not ordered is from the shelf."""
        if hasattr(self, "set") or not (roles := self.state().facts.to_order):
            return
        order_set(
            self.job.pk, self.submission(), SetOrder(supply=dict.fromkeys(roles, Supply.SHELF))
        )

    def draw_in(self) -> None:
        """New threads are drawn in as often as the shop wants it, once all new parts are on."""
        if draws := self.state().course.to_draw:
            draw_in(self.job.pk, self.submission(), draws)
            self.bow.shoot(draws)

    def judge(self, role: str, short_in: float) -> None:
        """The tug test of a new part, left to the plan; past what twists can correct, there is no
        mark to judge by."""
        if role not in self.state().facts.unchecked:
            return
        off, tug = self.bow.mark(role)
        result = TugResult(role, tug, Decimal(str(off)), looked_twice=True)
        if abs(short_in) > 0.1:
            result = TugResult(role, not_because="no mark on this cam")
        check_part(self.job.pk, self.submission(), result)
        if self.state().facts.to_bring_home:
            left = TugResult(role, not_because="left to the plan")
            check_part(self.job.pk, self.submission(), left)

    def tugged(self, role: str, tug: str, off_in: Decimal) -> None:
        check_part(self.job.pk, self.submission(), TugResult(role, tug, off_in))

    def follow_plan(self) -> None:
        """Read once more what the plan asks for, do what it proposes, and let down."""
        self.read_until_sure()
        best = self.state().advice.plan.best
        if not best.steps:
            return
        if best.presses:
            accept_plan(self.job.pk, self.submission(), best.steps)
            cycle.turn(self.job.pk, self.submission(), best.steps)
            self.let_down()
        else:
            cycle.turn_without_press(self.job.pk, self.submission(), best.steps)
        self.bow.turn(Steps(best.steps))

    def let_down(self) -> None:
        points = [p.key for p in gate_points(self.state().in_press)]
        cycle.let_down(self.job.pk, self.submission(), cycle.Gate(points))
        if self.state().facts.bolts_backed_off:
            bolts_back(self.job.pk, self.submission())

    def state(self) -> JobState:
        return job_state(Job.objects.get(pk=self.job.pk))

    def order_set(self) -> None:
        found = order_set(self.job.pk, self.submission(), SetOrder(STRING_MAKER))
        assert found is not None
        self.set = found

    def set_arrives(self) -> None:
        """The maker's set comes and is measured as it is."""
        came = [
            MeasuredComponent(
                d.role,
                Decimal(str(d.length_in)),
                d.strands,
                Decimal(str(d.served_top_in)),
                Decimal(str(d.served_bottom_in)),
                d.clipped,
            )
            for d in SimulatedStringMaker().deliver(order_of(self.set))
        ]
        set_arrived(self.job.pk, self.submission(), came, [])

    def hand_over(self) -> None:
        hand_over(self.job.pk, self.submission(), "", "")


def _from_where(quantity: Quantity) -> str:
    """The point that this shop reads from: the nock tie, the loop, the riser's face; "" where it has none."""
    if not quantity.starts:
        return ""
    second = len(quantity.starts) > 1 and not quantity.limits_from
    return quantity.starts[1 if second else 0].key
