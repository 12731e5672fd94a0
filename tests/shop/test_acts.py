"""The acts of a job: one fact a post, nobody overwrites anybody, rules are kept."""

from datetime import timedelta
from decimal import Decimal

import pytest
from django.utils import timezone

from bowcore.adjusters.steps import Steps
from bowcore.errors import BadInput, Contradicted, Refused, Unreadable
from bowcore.stages.replace.gates import gate_points
from bowcore.work_order.needs import marks_needed, readings_needed
from bowcore.work_order.replacement import OldPart
from shop.casework.actions.lift_hold import lift_hold
from shop.casework.readings.actions.take_reading import (
    TypedReading,
    cannot_read,
    correct_reading,
    take_reading,
)
from shop.casework.readings.actions.write_mark import write_mark
from shop.casework.state import job_state
from shop.casework.submissions import DuplicateSubmission, StaleJob
from shop.demo.job_script import CABLE, MARKED
from shop.schema.accounts.models import Shop
from shop.schema.audit.models import Event, Permanent
from shop.schema.bows.models import Part
from shop.schema.jobs.models import Job
from shop.schema.measurements.models import Reading
from shop.schema.papers.models import HandOver
from shop.schema.plans.models import GivenAdvice
from shop.schema.press.models import Adjustment, PressCycle
from shop.stages.hand_over.actions import NotReady, hand_over
from shop.stages.replace.actions import cycle

pytestmark = pytest.mark.django_db
ATA = TypedReading("axle_to_axle", "31 1/4+")


def points(script):
    return [p.key for p in gate_points(script.state().in_press)]


def test_a_reading_keeps_its_raw_text_tool_and_exact_value(script, ines, submission):
    script.check_in(CABLE)
    row = take_reading(script.job.pk, submission(ines, script.job), ATA)
    row.refresh_from_db()
    assert (row.raw, row.tool, row.value) == ("31 1/4+", "tape", Decimal("31.265625"))


def test_the_same_post_twice_is_one_fact(script, ines, submission):
    script.check_in(CABLE)
    twice = submission(ines, script.job)
    take_reading(script.job.pk, twice, ATA)
    with pytest.raises(DuplicateSubmission):
        take_reading(script.job.pk, twice, ATA)
    assert Reading.objects.count() == 1


def test_two_people_never_overwrite_each_other(script, ines, tomas, submission):
    script.check_in(CABLE)
    old = submission(tomas, script.job)
    take_reading(script.job.pk, submission(ines, script.job), ATA)
    with pytest.raises(StaleJob) as caught:
        take_reading(script.job.pk, old, TypedReading("axle_to_axle", "31 3/16"))
    assert "read axle to axle" in caught.value.meanwhile[0].summary
    assert Reading.objects.count() == 1


def test_a_fact_cannot_be_saved_or_deleted_again(script):
    script.check_in(CABLE)
    script.read("axle_to_axle")
    row = Reading.objects.get()
    with pytest.raises(Permanent):
        row.save()
    with pytest.raises(Permanent):
        row.delete()


def test_unreadable_text_writes_nothing(script, ines, submission):
    script.check_in(CABLE)
    with pytest.raises(Unreadable):
        take_reading(
            script.job.pk, submission(ines, script.job), TypedReading("axle_to_axle", "thirty")
        )
    assert not Reading.objects.exists()


def test_an_odd_value_needs_to_be_meant(script, ines, submission):
    script.check_in(CABLE)
    odd = TypedReading("axle_to_axle", "51 1/16")
    with pytest.raises(Contradicted):
        take_reading(script.job.pk, submission(ines, script.job), odd)
    meant = TypedReading("axle_to_axle", "51 1/16", sure=True)
    assert take_reading(script.job.pk, submission(ines, script.job), meant).value > 50


def test_what_cannot_be_is_not_kept_however_sure_somebody_is(script, ines, submission):
    script.check_in(CABLE)
    for name, text in (("axle_to_axle", "331 1/16"), ("peak_weight", "999")):
        with pytest.raises(BadInput, match="Nothing was saved"):
            sure = TypedReading(name, text, sure=True)
            take_reading(script.job.pk, submission(ines, script.job), sure)
    assert not Reading.objects.exists()


def test_a_correction_is_a_new_row_of_the_same_moment(script, ines, submission):
    script.check_in(CABLE)
    script.inspect()
    script.baseline()
    wrong = Reading.objects.get(quantity="axle_to_axle")
    script.replace("cable_a", 0.0)
    fixed = correct_reading(
        script.job.pk, submission(ines, script.job), wrong.pk, TypedReading("", "31 3/16")
    )
    facts = job_state(Job.objects.get()).facts
    assert fixed.corrects == wrong
    assert facts.baseline("axle_to_axle").summary.value == 31.1875
    assert facts.current("axle_to_axle").stale is not None  # still from before the change
    with pytest.raises(Refused):
        correct_reading(
            script.job.pk, submission(ines, script.job), wrong.pk, TypedReading("", "31")
        )


def test_the_press_stays_locked_until_the_baseline_is_there(script, ines, submission):
    script.check_in(CABLE)
    script.have_parts()
    script.inspect()
    setup = job_state(script.job).facts.setup
    with pytest.raises(Refused, match="still missing: axle to axle, nock to peep"):
        cycle.open_press_to_replace(script.job.pk, submission(ines, script.job), "cable_a")
    for name in readings_needed(setup):
        cannot_read(script.job.pk, submission(ines, script.job), name, "board is broken")
    with pytest.raises(Refused, match="still missing: shims, top cam"):
        cycle.open_press_to_replace(script.job.pk, submission(ines, script.job), "cable_a")
    for key in marks_needed(setup):
        write_mark(script.job.pk, submission(ines, script.job), key, MARKED[key])
    assert cycle.open_press_to_replace(script.job.pk, submission(ines, script.job), "cable_a")


def test_nothing_is_read_while_the_press_is_open(script, ines, submission):
    script.check_in(CABLE)
    script.inspect()
    script.baseline()
    script.replace("cable_a", 0.0, gate=False)
    with pytest.raises(Refused, match="a bow in the press is not drawn"):
        take_reading(script.job.pk, submission(ines, script.job), TypedReading("peak_weight", "55"))
    with pytest.raises(Refused, match="press is open"):
        take_reading(script.job.pk, submission(ines, script.job), ATA)


def test_the_gate_cannot_be_skipped(script, ines, submission):
    script.check_in(CABLE)
    script.inspect()
    script.baseline()
    script.replace("cable_a", 0.0, gate=False)
    with pytest.raises(Refused, match="Do not let down yet"):
        cycle.let_down(script.job.pk, submission(ines, script.job), cycle.Gate(points(script)[1:]))
    cycle.let_down(script.job.pk, submission(ines, script.job), cycle.Gate(points(script)))
    assert job_state(Job.objects.get()).press is None


def test_an_apprentices_gate_needs_a_second_pair_of_eyes(script, ines, pia, submission):
    script.check_in(CABLE)
    script.inspect()
    script.baseline()
    script.replace("cable_a", 0.0, gate=False)
    gate = cycle.Gate(points(script))
    with pytest.raises(Refused, match="second person"):
        cycle.let_down(script.job.pk, submission(pia, script.job), gate)
    with pytest.raises(Refused, match="second person"):
        cycle.let_down(script.job.pk, submission(pia, script.job), cycle.Gate(points(script), pia))
    row = cycle.let_down(
        script.job.pk, submission(pia, script.job), cycle.Gate(points(script), ines)
    )
    assert row.second == ines


@pytest.mark.parametrize(
    ("seen", "becomes", "state"),
    [("fine", None, Part.OFF), ("replace", None, Part.SCRAP), ("fine", OldPart.SPARE, Part.SPARE)],
)
def test_an_old_part_is_a_spare_only_if_a_person_says_so(script, seen, becomes, state):
    script.check_in(CABLE)
    script.inspect(cables=(seen, "two strands"))
    script.baseline()
    script.have_parts()
    cycle.open_press_to_replace(script.job.pk, script.submission(), "cable_a")
    new = cycle.NewPart(Decimal("34.875"), 24, becomes=becomes)
    cycle.swap(script.job.pk, script.submission(), new)
    states = list(Part.objects.filter(role="cable_a").values_list("state", flat=True))
    assert states == [state, Part.FITTED]


def test_a_length_far_from_the_published_one_is_asked_about_once(script):
    script.check_in(CABLE)
    script.inspect()
    script.baseline()
    script.have_parts()
    cycle.open_press_to_replace(script.job.pk, script.submission(), "cable_a")
    with pytest.raises(Contradicted, match="shorter than published"):
        cycle.swap(script.job.pk, script.submission(), cycle.NewPart(Decimal(26), 24))
    sure = cycle.NewPart(Decimal(26), 24, sure=True)
    assert cycle.swap(script.job.pk, script.submission(), sure).part.length_in == 26


def test_a_hold_stops_the_draw_until_a_skilled_person_lifts_it(script, ines, pia, submission):
    script.check_in(CABLE)
    script.inspect(string=("stop", "two strands at the bottom cam"))
    with pytest.raises(Refused, match="Do not draw"):
        take_reading(script.job.pk, submission(ines, script.job), TypedReading("peak_weight", "55"))
    assert take_reading(script.job.pk, submission(ines, script.job), ATA)
    hold = script.job.holds.get()
    with pytest.raises(Refused, match="manager or technician"):
        lift_hold(script.job.pk, submission(pia, script.job), hold.pk, "replaced")
    with pytest.raises(Refused, match="Write down why"):
        lift_hold(script.job.pk, submission(ines, script.job), hold.pk, " ")
    lift_hold(script.job.pk, submission(ines, script.job), hold.pk, "cable replaced")
    assert job_state(Job.objects.get()).facts.holds == ()


def work_through(script, model="Lark 31"):
    """From check-in until every number is inside, following the advice."""
    script.check_in(CABLE, model=model)
    script.inspect()
    script.baseline()
    script.replace("cable_a", -0.06)
    script.read_asked()
    for _ in range(12):
        state = job_state(Job.objects.get(pk=script.job.pk))
        plan = state.advice.plan
        if plan.read_again:
            script.read(plan.read_again)
            continue
        if not state.course.outside:
            script.read_asked()
            return
        script.follow_plan()
        script.read_asked()


def test_a_whole_job_ends_inside_every_band(script, ines, submission):
    work_through(script)
    state = job_state(Job.objects.get(pk=script.job.pk))
    assert state.course.outside == ()
    advice = GivenAdvice.objects.first()
    assert advice.inputs["readings"]["stop_gap"][0] < 0  # a long top cable: the top cam was ahead
    assert advice.core_version
    hand_over(script.job.pk, submission(ines, script.job), "", "sight not checked")
    assert HandOver.objects.get().open_points == []
    with pytest.raises(Refused, match="handed over"):
        take_reading(script.job.pk, submission(ines, script.job), ATA)


def test_a_hybrid_is_brought_home_too(script):
    work_through(script, "Pilot 33")
    state = job_state(Job.objects.get(pk=script.job.pk))
    assert state.course.outside == ()
    assert state.advice.problem.response.rests_on.startswith("the book and")


def test_a_bow_without_a_twin_has_no_plan_and_is_turned_by_hand(script, monkeypatch):
    from bowcore.errors import NoModel
    from shop.casework.engine import computing, priors

    def refuse(spec, twin=None):
        raise NoModel("no such bow")

    monkeypatch.setattr(computing, "model_prior", refuse)
    priors._kept.cache_clear()
    script.check_in(["back_to_spec"])
    script.inspect()
    script.came_in(cable_a=-0.06)
    script.baseline()
    with pytest.raises(NoModel, match="Turn by hand"):
        _ = job_state(Job.objects.get()).advice
    priors._kept.cache_clear()


def test_hand_over_is_refused_with_the_list_and_a_manager_may_override(
    script, ines, tomas, submission
):
    script.check_in(CABLE)
    script.inspect()
    script.baseline()
    with pytest.raises(NotReady) as caught:
        hand_over(script.job.pk, submission(ines, script.job), "", "")
    assert caught.value.open_points
    with pytest.raises(Refused, match="manager"):
        hand_over(script.job.pk, submission(tomas, script.job), "customer insists", "")
    row = hand_over(script.job.pk, submission(ines, script.job), "customer insists", "")
    assert row.override == "customer insists"


def test_nobody_hands_over_a_bow_in_the_press(script, ines, submission):
    script.check_in(CABLE)
    script.inspect()
    script.baseline()
    script.replace("cable_a", 0.0, gate=False)
    with pytest.raises(Refused, match="Nobody hands over"):
        hand_over(script.job.pk, submission(ines, script.job), "in a hurry", "")


def test_another_change_than_the_planned_one_is_logged_as_done(script, ines, submission):
    script.check_in(["back_to_spec"])
    script.inspect()
    script.baseline()
    cycle.open_press_otherwise(
        script.job.pk, submission(ines, script.job), Steps({"cable_b": 2}), "to see"
    )
    cycle.turn(script.job.pk, submission(ines, script.job), Steps({"cable_b": 1}))
    assert Adjustment.objects.get().steps == 1
    assert "not as planned" in Event.objects.order_by("-seq").first().summary
    assert PressCycle.objects.get().planned == Steps({"cable_b": 2})


def test_letting_down_on_nothing_done_leaves_every_reading_true(script, ines, submission):
    script.check_in(["back_to_spec"])
    script.inspect()
    script.baseline()
    cycle.open_press_otherwise(
        script.job.pk, submission(ines, script.job), Steps({"cable_b": 2}), ""
    )
    with pytest.raises(Refused, match="Log what was done"):
        cycle.let_down(script.job.pk, submission(ines, script.job), cycle.Gate(points(script)))
    gate = cycle.Gate(points(script), nothing_done=True)
    cycle.let_down(script.job.pk, submission(ines, script.job), gate)
    assert job_state(Job.objects.get()).course.to_read == ()


def test_a_job_keeps_the_book_it_was_opened_with(script):
    script.check_in(CABLE)
    entry = script.job.bow.entry
    entry.axle_to_axle_in = Decimal("40")
    entry.save()
    assert job_state(Job.objects.get()).spec.axle_to_axle_in == 31.25


def test_the_shops_school_reaches_the_planner(script):
    Shop.objects.update(half_twists=False)
    script.check_in(["back_to_spec"])
    script.inspect()
    script.came_in(cable_a=-0.06)
    script.baseline()
    plan = job_state(Job.objects.get()).advice.plan
    assert plan.best.steps
    assert all(count % 2 == 0 for count in plan.best.steps.values())


def test_the_promise_is_kept_with_the_job(script):
    script.check_in(CABLE)
    assert script.job.promised_on == timezone.localdate() + timedelta(days=3)
