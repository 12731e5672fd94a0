"""A bow that must not be drawn: nothing invites to draw it, nothing ends there, and the hold is lifted
when the part that it names is new."""

import pytest
from django.urls import reverse

from bowcore.errors import BadInput
from bowcore.stages.inspection.places import bad_parts, parts_at
from bowcore.work_order.holds import may_be_lifted
from shop.casework.state import job_state
from shop.demo.job_script import MARKED
from shop.schema.inspection.models import Finding
from shop.schema.jobs.models import Hold, Job
from shop.schema.measurements.models import Reading
from tests.shop.posting import post, rows

BROKEN = {"string": ("stop", "two strands at the bottom cam")}


def shown(page, script, step):
    return page.get(reverse("step", args=[script.job.pk, step])).content.decode()


def mark_all(page, script):
    for key in script.state().course.unmarked:
        post(page, "write_mark", script.job, mark=key, value=MARKED[key])


def test_what_is_read_at_full_draw_is_left_out_with_one_tap(page, script):
    script.check_in(["back_to_spec"])
    script.inspect(**BROKEN)
    state = script.state()
    at_rest = [n for n in state.course.unread if not state.facts.named(n).drawn]
    script.read(*at_rest)
    mark_all(page, script)
    left = script.state().course.unread
    assert left and script.state().course.next.text == "Leave out what is read at full draw"
    body = shown(page, script, "baseline")
    assert "Leave them out" in body and 'id="entry"' not in body
    assert post(page, "skip_drawn", script.job).status_code == 302
    reasons = Reading.objects.filter(quantity__in=left).values_list("reason", flat=True)
    assert set(reasons) == {"not drawn: Broken strand: two strands at the bottom cam"}
    assert not script.state().course.unread
    assert post(page, "skip_drawn", script.job).status_code == 422


def test_a_bow_that_may_be_drawn_leaves_nothing_out(page, script):
    script.check_in(["back_to_spec"])
    script.inspect()
    refused = post(page, "skip_drawn", script.job)
    assert refused.status_code == 422 and "may be drawn" in refused.content.decode()


def test_nothing_invites_to_draw_it(page, script):
    script.check_in(["back_to_spec"])
    script.inspect(**BROKEN)
    body = page.get(reverse("bow_drawn", args=[script.job.pk])).content.decode()
    assert "Pull it on the draw board" not in body
    asked = page.get(reverse("step", args=[script.job.pk, "baseline"]) + "?at=peak_weight")
    assert 'name="quantity" value="peak_weight"' not in asked.content.decode()


def test_lifting_is_offered_once_the_part_is_new_and_the_press_let_down(page, script):
    script.check_in(["back_to_spec"])
    script.inspect(**BROKEN)
    script.read(
        *[n for n in script.state().course.unread if not script.state().facts.named(n).drawn]
    )
    mark_all(page, script)
    post(page, "skip_drawn", script.job)
    assert "replace_string" in Job.objects.get().services
    assert "lift the hold</button>" not in shown(page, script, "replace")
    script.replace("string", 0.0, gate=False)
    assert not script.state().liftable
    script.let_down()
    assert [hold.kind for hold in script.state().liftable] == ["do_not_draw"]
    script.judge("string", 0.0)
    state = script.state()
    assert state.course.next.text == "Lift the hold: the part is new"
    assert "lift the hold</button>" in shown(page, script, state.course.next.step)
    hold = Hold.objects.get()
    post(page, "lift_hold", script.job, hold.pk, reason="the part is new")
    assert script.state().facts.may_be_drawn


def test_a_strand_that_breaks_in_the_new_string_holds_it_again(script):
    script.check_in(["replace_string", "back_to_spec"])
    script.inspect()
    script.baseline()
    script.replace("string", 0.0)
    script.inspect(**BROKEN)
    assert not job_state(Job.objects.get()).liftable


@pytest.mark.parametrize(
    ("parts", "new", "open_", "offered"),
    [
        (["string"], {"string"}, False, True),
        (["string"], {"string"}, True, False),
        (["cable_a", "string"], {"string"}, False, False),
        ([], {"string"}, False, False),  # a cracked limb has no part that this shop replaces
    ],
)
def test_when_lifting_is_offered(parts, new, open_, offered):
    assert may_be_lifted(parts, new, open_) is offered


def test_a_finding_at_the_cables_says_which(page, script):
    script.check_in(["back_to_spec"])
    with pytest.raises(BadInput, match="which of them"):
        bad_parts("cables", "replace", [], script.bow.spec.roles)
    assert bad_parts("cables", "replace", ["cable_b"], script.bow.spec.roles) == ("cable_b",)
    assert bad_parts("string", "stop", [], script.bow.spec.roles) == ("string",)
    assert parts_at("cables", ["cable_b", "string"]) == ("cable_b",)
    seen = [{"place": row.place.key, "outcome": "fine"} for row in _rows(page, script)]
    seen[3] |= {"outcome": "stop", "parts": ["cable_b"]}
    assert post(page, "inspect", script.job, **rows("place", seen)).status_code == 302
    assert Finding.objects.get(place="cables").parts == ["cable_b"]
    assert Hold.objects.get().parts == ["cable_b"]
    assert Job.objects.get().services == ["back_to_spec", "replace_cable_b"]


def test_nothing_is_ticked_that_nobody_has_looked_at(page, script):
    script.check_in(["back_to_spec"])
    assert {row.outcome for row in _rows(page, script)} == {""}


def test_a_refused_inspection_keeps_every_answer(page, script):
    script.check_in(["back_to_spec"])
    seen = [{"place": row.place.key} for row in _rows(page, script)]
    seen[0] |= {"outcome": "fine"}
    seen[3] |= {"outcome": "replace", "parts": ["cable_b"], "note": "frayed at the guard"}
    refused = post(page, "inspect", script.job, **rows("place", seen))
    kept = refused.context["rows"]
    assert refused.status_code == 422 and (kept[0].outcome, kept[3].outcome) == ("fine", "replace")
    assert kept[3].named == ["cable_b"] and "frayed at the guard" in refused.content.decode()


def _rows(page, script):
    return page.get(reverse("step", args=[script.job.pk, "inspection"])).context["rows"]
