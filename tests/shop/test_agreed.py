"""Jobs as they come in: services, a model that is not in the book, what was agreed, the rack's groups."""

import uuid
from datetime import timedelta
from decimal import Decimal

import pytest
from django.urls import reverse
from django.utils import timezone

from bowcore.bow.guess import GUESSED_SPREAD, guessed_parts
from bowcore.bow.plausible import ensemble
from bowcore.bow.specification import STRING, BowSpec, Family
from bowcore.bow.twin import build_twin
from bowcore.stages.standing import Standing, standing
from bowcore.work_order.services import asked_for
from shop.rack.selectors import RackFilter, grouped, rack_now
from shop.schema.audit.models import Event
from shop.schema.book.models import BookEntry
from shop.schema.jobs.models import Job
from shop.schema.papers.models import HandOver
from tests.shop.posting import post

UNLISTED = {"new_maker": "Ebberley", "new_model": "Wren 30", "new_family": "hybrid",
            "new_ata_in": "30 1/2", "new_brace_in": "6 3/4"}  # fmt: skip


def counter(**more):
    """What is posted at the counter for a new customer's bow."""
    due = timezone.localdate() + timedelta(days=3)
    return {"key": uuid.uuid4(), "seen": 0, "customer_name": "N. Ferreira", "hand": "right",
            "marked_weight_lbf": "55", "marked_draw_in": "28 1/2", "promised_on": due,
            "path": "carry_over", "services": "back_to_spec"} | more  # fmt: skip


def agreed(job, **more):
    """What the page of what was agreed posts, with some of it changed."""
    same = {"promised_on": job.promised_on, "services": job.services, "path": job.path, "note": job.note,
            "arrows": job.arrows, "arrow_here": "on", "fitted": job.fitted}  # fmt: skip
    return same | more


@pytest.mark.parametrize("family", list(Family))
def test_five_numbers_make_a_bow_that_can_be_computed(family):
    spec = BowSpec("Guessed", family, 32, 6.75, 28.5, 55, 0.65 if family is Family.TWIN else 0.78,
                   guessed_parts(family, 32), guessed=True)  # fmt: skip
    assert build_twin(spec).axle_to_axle_in == pytest.approx(32, abs=0.01)
    assert (len(spec.parts) == 2) is (family is Family.SINGLE) and STRING in spec.roles


def test_a_guessed_bow_is_doubted_more_widely():
    known = BowSpec(
        "Known", Family.BINARY, 32, 6.75, 28.5, 55, 0.8, guessed_parts(Family.BINARY, 32)
    )
    guessed = BowSpec("Guessed", Family.BINARY, 32, 6.75, 28.5, 55, 0.8, known.parts, guessed=True)
    assert GUESSED_SPREAD > 1

    def reach(spec):
        pegs = [twin.spec.peg_radius_in for twin in ensemble(spec, count=12)]
        return max(pegs) - min(pegs)

    assert reach(guessed) > 1.3 * reach(known)


def test_a_model_that_is_not_in_the_book_is_checked_in_with_five_answers(page, floor):
    refused = page.post(reverse("check_in"), counter(new_model="Wren 30"))
    body = refused.content.decode()
    assert refused.status_code == 422 and "Which cams?" in body and "Who made it?" in body
    assert page.post(reverse("check_in"), counter(**UNLISTED)).status_code == 302
    job = Job.objects.get()
    entry = job.bow.entry
    assert entry.guessed and entry.parts.count() == 3 and entry.versions.count() == 1
    shown = page.get(reverse("step", args=[job.pk, "inspection"])).content.decode()
    assert "the rest of this model is guessed" in shown
    again = page.post(reverse("check_in"), counter(**UNLISTED, customer_name="P. Lund"))
    assert again.status_code == 422 and "is in the book" in again.content.decode()
    assert BookEntry.objects.filter(model="Wren 30").count() == 1


def test_a_whole_set_is_one_tap_and_means_the_parts_of_this_bow(page, floor):
    assert asked_for(["whole_set"], ["string", "cable_b"]) == [
        "replace_string", "replace_cable_b", "back_to_spec"]  # fmt: skip
    entry = BookEntry.objects.get(family="single")
    page.post(reverse("check_in"), counter(entry=entry.pk, services="whole_set"))
    assert "replace_cable_a" not in Job.objects.get().services
    assert set(Job.objects.get().services) >= {"replace_string", "replace_cable_b"}


def test_a_timing_job_reads_the_timing_and_is_done(page, script):
    script.check_in(["timing_check"])
    script.inspect()
    state = script.state()
    assert state.needed == ("stop_gap",) and not state.course.unmarked
    script.read(*state.needed)
    now = script.state()
    assert now.course.next.step in ("hand_over", "back_to_spec")
    if not now.course.outside:
        assert post(page, "hand_over", script.job, not_done="").status_code == 302


def test_what_was_agreed_is_seen_and_changed_and_stands_in_the_log(page, script, tomas):
    script.check_in(["back_to_spec"])
    job = Job.objects.get()
    body = page.get(reverse("step", args=[job.pk, "check_in"])).content.decode()
    assert "Back to spec" in body and "Claim ticket" in body and "Cancel the job" in body
    assert post(page, "change_order", job, **agreed(job)).status_code == 422  # nothing is different
    due = job.promised_on + timedelta(days=2)
    changed = agreed(job, promised_on=due, note="Ring first", assigned_to=tomas.pk, phone="0555 7",
                     wanted_gap_in="-1/16", services=["back_to_spec", "replace_string"])  # fmt: skip
    assert post(page, "change_order", job, **changed).status_code == 302
    job = Job.objects.get()
    assert (job.promised_on, job.note, job.assigned_to) == (due, "Ring first", tomas)
    assert job.wanted_gap_in == Decimal("-0.0625") and job.bow.customer.phone == "0555 7"
    words = Event.objects.filter(job=job).latest("seq").summary
    assert "due" in words and "wanted gap" in words and "phone" in words
    assert script.state().bands["stop_gap"].target == -1 / 16


def test_a_part_that_is_on_stays_on_what_was_asked_for(page, script):
    script.check_in(["replace_cable_a", "back_to_spec"])
    script.inspect()
    script.baseline()
    script.replace("cable_a", 0.0)
    job = Job.objects.get()
    refused = post(page, "change_order", job, **agreed(job, services=["back_to_spec"]))
    assert refused.status_code == 422 and "is on already" in refused.content.decode()
    wrong = post(page, "change_order", job, **agreed(job, promised_on="soon"))
    assert wrong.status_code == 422


def test_a_job_is_cancelled_and_opened_again(page, script):
    script.check_in(["back_to_spec"])
    assert post(page, "cancel_job", script.job, reason=" ").status_code == 422
    assert post(page, "cancel_job", script.job, reason="takes it home").status_code == 302
    assert not rack_now().slots and Job.objects.get().closed
    assert post(page, "reopen_job", script.job, reason="came back").status_code == 302
    assert len(rack_now().slots) == 1 and not Job.objects.get().closed
    assert post(page, "reopen_job", script.job, reason="again").status_code == 422


def test_a_job_that_went_out_may_be_opened_and_go_out_again(page, script):
    script.check_in(["timing_check"])
    script.inspect()
    for name in script.state().needed:
        post(page, "cannot_read", script.job, "baseline", quantity=name, reason="board is away")
    for _ in range(2):
        assert post(page, "hand_over", script.job, not_done="").status_code == 302
        assert post(page, "reopen_job", script.job, reason="customer is back").status_code == 302
    assert HandOver.objects.count() == 2


def test_the_ticket_says_what_was_agreed_and_what_is_wrong_with_the_bow(page, script):
    script.check_in(["replace_cable_b", "back_to_spec"], note="Ring first")
    script.inspect(cables=("watch", "fuzzy at the guard"))
    body = page.get(reverse("ticket", args=[script.job.pk])).content.decode()
    for words in (
        "claim ticket",
        "Ring first",
        "fuzzy at the guard",
        "New bottom take-up cable",
    ):
        assert words in body, words


def test_the_rack_is_grouped_by_what_is_to_be_done(page, script, ines, tomas):
    script.check_in(["replace_cable_a", "back_to_spec"], waits=["customer"])
    assert standing(script.state().course) is Standing.WAITING
    script.check_in(["replace_cable_a", "back_to_spec"], waits=["arrows"])
    assert standing(script.state().course) is Standing.READY  # arrows hold nothing yet
    script.inspect()
    script.baseline()
    script.replace("cable_a", 0.0, gate=False)
    assert standing(script.state().course) is Standing.UNDER_LOAD
    names = [name for name, _ in grouped(rack_now().slots)]
    assert names == ["under load", "waiting"]
    body = page.get("/").content.decode()
    assert body.index("Under load") < body.index("Waiting") and body.count("data-next") == 1


def test_the_rack_shows_one_persons_bows_and_those_nobody_has(page, script, ines, tomas):
    for who in (ines, tomas, None):
        script.check_in(["back_to_spec"])
        Job.objects.filter(pk=script.job.pk).update(assigned_to=who)
    found = grouped(rack_now().slots, RackFilter(mine=ines))
    assert sum(len(slots) for _, slots in found) == 2
    assert not grouped(rack_now().slots, RackFilter(family="twin"))
    assert "No bow here matches" in page.get("/?family=twin").content.decode()
    assert page.get("/?mine=on&hold=set&dense=on").status_code == 200


def test_two_presses_left_open_by_one_person_are_pointed_out(page, script):
    for _ in range(2):
        script.check_in(["replace_cable_a", "back_to_spec"])
        script.inspect()
        script.baseline()
        script.replace("cable_a", 0.0, gate=False)
    by = {job.presscycle_set.get().by for job in Job.objects.all()}
    page.force_login(by.pop())
    assert "presses open" in page.get("/").content.decode()


def test_the_rack_says_how_many_minutes_are_left(page, script):
    script.check_in(["replace_cable_a", "back_to_spec"])
    body = page.get(reverse("rack")).content.decode()
    left = script.state().course.minutes_left
    assert left > 30 and f'<span class="num">{left}</span> <span class="unit">min</span>' in body
