"""The acts of a job: one fact a post, nobody overwrites anybody, rules are kept."""

from datetime import timedelta
from decimal import Decimal

import pytest
from django.db import DatabaseError, connection, transaction
from django.utils import timezone

from bowcore.errors import Refused, Unreadable
from bowcore.service.gates import gate_points
from bowcore.service.needs import marks_needed, readings_needed
from shop.accounts.models import Shop
from shop.bench.actions import press
from shop.bench.actions.hand_over import NotReady, hand_over
from shop.bench.actions.lift_hold import lift_hold
from shop.bench.actions.note_mark import note_mark
from shop.bench.actions.take_reading import (
    Odd,
    Typed,
    cannot_read,
    correct_reading,
    take_reading,
)  # fmt: skip
from shop.bows.models import Part
from shop.demo.living import CABLE, MARKED
from shop.jobs.models import Job
from shop.ledger.models import Adjustment, PressCycle
from shop.measurements.models import Reading
from shop.papers.models import HandOver
from shop.records.deeds import AlreadyDone, SomeoneElse
from shop.records.models import Deed, Permanent
from shop.tuning.models import Advice
from shop.tuning.selectors import view_of

pytestmark = pytest.mark.django_db
ATA = Typed("axle_to_axle", "31 1/4+")


def points(bench):
    return [p.key for p in gate_points(bench.bow.spec.family)]


def test_a_reading_keeps_its_raw_text_tool_and_exact_value(bench, ines, stamp):
    bench.check_in(CABLE)
    row = take_reading(bench.job.pk, ATA, stamp(ines, bench.job))
    row.refresh_from_db()
    assert (row.raw, row.tool, row.value) == ("31 1/4+", "tape", Decimal("31.265625"))


def test_the_same_post_twice_is_one_fact(bench, ines, stamp):
    bench.check_in(CABLE)
    twice = stamp(ines, bench.job)
    take_reading(bench.job.pk, ATA, twice)
    with pytest.raises(AlreadyDone):
        take_reading(bench.job.pk, ATA, twice)
    assert Reading.objects.count() == 1


def test_two_people_never_overwrite_each_other(bench, ines, tomas, stamp):
    bench.check_in(CABLE)
    old = stamp(tomas, bench.job)
    take_reading(bench.job.pk, ATA, stamp(ines, bench.job))
    with pytest.raises(SomeoneElse) as caught:
        take_reading(bench.job.pk, Typed("axle_to_axle", "31 3/16"), old)
    assert "read axle to axle" in caught.value.meanwhile[0].said
    assert Reading.objects.count() == 1


@pytest.mark.parametrize("table", ["measurements_reading", "records_deed", "jobs_finding"])
def test_the_database_itself_refuses_to_change_or_delete_a_fact(bench, table):
    bench.check_in(CABLE)
    bench.look_over()
    bench.read("axle_to_axle")
    for sql in (f"UPDATE {table} SET seq = 99", f"DELETE FROM {table}"):
        with pytest.raises(DatabaseError, match="append-only"), transaction.atomic():
            connection.cursor().execute(sql)


def test_a_fact_cannot_be_saved_or_deleted_again(bench):
    bench.check_in(CABLE)
    bench.read("axle_to_axle")
    row = Reading.objects.get()
    with pytest.raises(Permanent):
        row.save()
    with pytest.raises(Permanent):
        row.delete()


def test_unreadable_text_writes_nothing(bench, ines, stamp):
    bench.check_in(CABLE)
    with pytest.raises(Unreadable):
        take_reading(bench.job.pk, Typed("axle_to_axle", "thirty"), stamp(ines, bench.job))
    assert not Reading.objects.exists()


def test_an_odd_value_needs_to_be_meant(bench, ines, stamp):
    bench.check_in(CABLE)
    odd = Typed("axle_to_axle", "331 1/16")
    with pytest.raises(Odd):
        take_reading(bench.job.pk, odd, stamp(ines, bench.job))
    meant = Typed("axle_to_axle", "331 1/16", sure=True)
    assert take_reading(bench.job.pk, meant, stamp(ines, bench.job)).value > 300


def test_a_correction_is_a_new_row_of_the_same_moment(bench, ines, stamp):
    bench.check_in(CABLE)
    bench.look_over()
    bench.baseline()
    wrong = Reading.objects.get(quantity="axle_to_axle")
    bench.replace("cable_a", 0.0)
    fixed = correct_reading(bench.job.pk, wrong.pk, Typed("", "31 3/16"), stamp(ines, bench.job))
    facts = view_of(Job.objects.get()).facts
    assert fixed.corrects == wrong
    assert facts.baseline("axle_to_axle").summary.value == 31.1875
    assert facts.current("axle_to_axle").stale is not None  # still from before the change
    with pytest.raises(Refused):
        correct_reading(bench.job.pk, wrong.pk, Typed("", "31"), stamp(ines, bench.job))


def test_the_press_stays_locked_until_the_baseline_is_there(bench, ines, stamp):
    bench.check_in(CABLE)
    bench.look_over()
    setup = view_of(bench.job).facts.setup
    with pytest.raises(Refused, match="still missing: axle to axle, brace"):
        press.open_press_to_replace(bench.job.pk, "cable_a", stamp(ines, bench.job))
    for name in readings_needed(setup):
        cannot_read(bench.job.pk, name, "board is broken", stamp(ines, bench.job))
    with pytest.raises(Refused, match="still missing: top limb bolt"):
        press.open_press_to_replace(bench.job.pk, "cable_a", stamp(ines, bench.job))
    for key in marks_needed(setup):
        note_mark(bench.job.pk, key, MARKED[key], stamp(ines, bench.job))
    assert press.open_press_to_replace(bench.job.pk, "cable_a", stamp(ines, bench.job))


def test_nothing_is_read_while_the_press_is_open(bench, ines, stamp):
    bench.check_in(CABLE)
    bench.look_over()
    bench.baseline()
    bench.replace("cable_a", 0.0, gate=False)
    with pytest.raises(Refused, match="a bow in the press is not drawn"):
        take_reading(bench.job.pk, Typed("peak_weight", "55"), stamp(ines, bench.job))
    with pytest.raises(Refused, match="press is open"):
        take_reading(bench.job.pk, ATA, stamp(ines, bench.job))


def test_the_gate_cannot_be_skipped(bench, ines, stamp):
    bench.check_in(CABLE)
    bench.look_over()
    bench.baseline()
    bench.replace("cable_a", 0.0, gate=False)
    with pytest.raises(Refused, match="Do not let down yet"):
        press.let_down(bench.job.pk, press.Gate(points(bench)[1:]), stamp(ines, bench.job))
    press.let_down(bench.job.pk, press.Gate(points(bench)), stamp(ines, bench.job))
    assert view_of(Job.objects.get()).press is None


def test_an_apprentices_gate_needs_a_second_pair_of_eyes(bench, ines, pia, stamp):
    bench.check_in(CABLE)
    bench.look_over()
    bench.baseline()
    bench.replace("cable_a", 0.0, gate=False)
    gate = press.Gate(points(bench))
    with pytest.raises(Refused, match="second person"):
        press.let_down(bench.job.pk, gate, stamp(pia, bench.job))
    with pytest.raises(Refused, match="second person"):
        press.let_down(bench.job.pk, press.Gate(points(bench), pia), stamp(pia, bench.job))
    row = press.let_down(bench.job.pk, press.Gate(points(bench), ines), stamp(pia, bench.job))
    assert row.second == ines


def test_the_old_part_becomes_the_spare(bench):
    bench.check_in(CABLE)
    bench.look_over()
    bench.baseline()
    bench.replace("cable_a", 0.0625)
    states = list(Part.objects.filter(role="cable_a").values_list("state", flat=True))
    assert states == [Part.SPARE, Part.FITTED]


def test_a_hold_stops_the_draw_until_a_skilled_person_lifts_it(bench, ines, pia, stamp):
    bench.check_in(CABLE)
    bench.look_over(string=("stop", "two strands at the bottom cam"))
    with pytest.raises(Refused, match="Do not draw"):
        take_reading(bench.job.pk, Typed("peak_weight", "55"), stamp(ines, bench.job))
    assert take_reading(bench.job.pk, ATA, stamp(ines, bench.job))
    hold = bench.job.holds.get()
    with pytest.raises(Refused, match="manager or technician"):
        lift_hold(bench.job.pk, hold.pk, "replaced", stamp(pia, bench.job))
    with pytest.raises(Refused, match="Say why"):
        lift_hold(bench.job.pk, hold.pk, " ", stamp(ines, bench.job))
    lift_hold(bench.job.pk, hold.pk, "cable replaced", stamp(ines, bench.job))
    assert view_of(Job.objects.get()).facts.holds == ()


def live_through(bench, model="Lark 31"):
    """From check-in until every number is inside, following the advice."""
    bench.check_in(CABLE, model=model)
    bench.look_over()
    bench.baseline()
    bench.replace("cable_a", -0.06)
    bench.read_asked()
    for _ in range(12):
        view = view_of(Job.objects.get(pk=bench.job.pk))
        plan = view.advice.plan
        if plan.read_again:
            bench.read(plan.read_again)
            continue
        if not view.course.outside:
            bench.read_asked()
            return
        bench.follow()
        bench.read_asked()


def test_a_whole_job_ends_inside_every_band(bench, ines, stamp):
    live_through(bench)
    view = view_of(Job.objects.get(pk=bench.job.pk))
    assert view.course.outside == ()
    advice = Advice.objects.first()
    assert advice.inputs["readings"]["stop_gap"][0] < 0  # a long top cable: the top cam was ahead
    assert advice.core_version
    hand_over(bench.job.pk, "", "sight not checked", stamp(ines, bench.job))
    assert HandOver.objects.get().open_points == []
    with pytest.raises(Refused, match="handed over"):
        take_reading(bench.job.pk, ATA, stamp(ines, bench.job))


def test_a_hybrid_is_brought_home_too(bench):
    live_through(bench, "Pilot 33")
    view = view_of(Job.objects.get(pk=bench.job.pk))
    assert view.course.outside == ()
    assert view.advice.problem.response.rests_on.startswith("the book and")


def test_a_bow_without_a_twin_falls_back_to_closed_forms_and_says_so(bench, monkeypatch):
    from bowcore.errors import NoModel
    from shop.tuning import priors

    def refuse(spec, twin=None):
        raise NoModel("no such bow")

    monkeypatch.setattr(priors, "model_prior", refuse)
    priors._kept.cache_clear()
    bench.check_in(["back_to_spec"])
    bench.look_over()
    bench.bow.off_in = {"cable_a": -0.06}
    bench.baseline()
    advice = view_of(Job.objects.get()).advice
    assert advice.problem.response.rests_on == "the book and closed formulas"
    priors._kept.cache_clear()


def test_hand_over_is_refused_with_the_list_and_a_manager_may_override(bench, ines, tomas, stamp):
    bench.check_in(CABLE)
    bench.look_over()
    bench.baseline()
    with pytest.raises(NotReady) as caught:
        hand_over(bench.job.pk, "", "", stamp(ines, bench.job))
    assert caught.value.open_points
    with pytest.raises(Refused, match="manager"):
        hand_over(bench.job.pk, "customer insists", "", stamp(tomas, bench.job))
    row = hand_over(bench.job.pk, "customer insists", "", stamp(ines, bench.job))
    assert row.override == "customer insists"


def test_nobody_hands_over_a_bow_in_the_press(bench, ines, stamp):
    bench.check_in(CABLE)
    bench.look_over()
    bench.baseline()
    bench.replace("cable_a", 0.0, gate=False)
    with pytest.raises(Refused, match="not handed over by anyone"):
        hand_over(bench.job.pk, "in a hurry", "", stamp(ines, bench.job))


def test_another_change_than_the_planned_one_is_logged_as_done(bench, ines, stamp):
    bench.check_in(["back_to_spec"])
    bench.look_over()
    bench.baseline()
    press.open_press_otherwise(bench.job.pk, [("cable_b", 2)], "to see", stamp(ines, bench.job))
    press.turn(bench.job.pk, [("cable_b", 1)], stamp(ines, bench.job))
    assert Adjustment.objects.get().half_twists == 1
    assert "not as planned" in Deed.objects.order_by("-seq").first().said
    assert PressCycle.objects.get().planned == [["cable_b", 2]]


def test_letting_down_on_nothing_done_leaves_every_reading_true(bench, ines, stamp):
    bench.check_in(["back_to_spec"])
    bench.look_over()
    bench.baseline()
    press.open_press_otherwise(bench.job.pk, [("cable_b", 2)], "", stamp(ines, bench.job))
    with pytest.raises(Refused, match="Log what was done"):
        press.let_down(bench.job.pk, press.Gate(points(bench)), stamp(ines, bench.job))
    gate = press.Gate(points(bench), nothing_done=True)
    press.let_down(bench.job.pk, gate, stamp(ines, bench.job))
    assert view_of(Job.objects.get()).course.to_read == ()


def test_a_job_keeps_the_book_it_was_opened_with(bench):
    bench.check_in(CABLE)
    entry = bench.job.bow.entry
    entry.axle_to_axle_in = Decimal("40")
    entry.save()
    assert view_of(Job.objects.get()).spec.axle_to_axle_in == 31.25


def test_the_shops_school_reaches_the_planner(bench):
    Shop.objects.update(half_twists=False)
    bench.check_in(["back_to_spec"])
    bench.look_over()
    bench.bow.off_in = {"cable_a": -0.06}
    bench.baseline()
    plan = view_of(Job.objects.get()).advice.plan
    assert plan.best.steps
    assert all(count % 2 == 0 for _, count in plan.best.steps)


def test_the_promise_is_kept_with_the_job(bench):
    bench.check_in(CABLE)
    assert bench.job.promised_on == timezone.localdate() + timedelta(days=3)
