"""Where new parts come from, what is not here, and a part that was logged by mistake."""

import pytest
from django.urls import reverse

from bowcore.errors import Refused
from shop.schema.bows.models import Part
from shop.schema.string_sets.models import StringSet
from shop.stages.replace.actions import cycle
from shop.stages.replace.actions.part_not_on import part_not_on
from tests.shop.posting import post, supplied

SHELF = "from the shelf"
SET = ["replace_cable_a", "replace_string", "back_to_spec"]


def put_on(script, role="cable_a"):
    script.have_parts()
    cycle.open_press_to_replace(script.job.pk, script.submission(), role)
    length = script.bow.spec.part(role).length_in
    new = cycle.NewPart(length, 24, "Loomwright", "z")
    return cycle.swap(script.job.pk, script.submission(), new)


@pytest.fixture
def measured(script):
    script.check_in(SET)
    script.inspect()
    script.baseline()
    return script


def test_the_press_stays_closed_for_a_part_that_nobody_has(page, measured):
    shown = page.get(reverse("step", args=[measured.job.pk, "replace"])).content.decode()
    assert "Not here yet" in shown and "Open the press" not in shown
    with pytest.raises(Refused, match="Not here yet"):
        cycle.open_press_to_replace(measured.job.pk, measured.submission(), "cable_a")


def test_each_part_comes_from_somewhere_else(page, measured):
    rows = supplied(cable_a="customer's own", string="declined")
    assert post(page, "order_set", measured.job, **rows).status_code == 302
    facts = measured.state().facts
    assert facts.to_replace == ("cable_a",) and not facts.to_order
    assert cycle.open_press_to_replace(measured.job.pk, measured.submission(), "cable_a")


def test_what_was_declined_can_be_wanted_again(page, measured):
    post(page, "order_set", measured.job, **supplied(cable_a="declined", string="declined"))
    assert measured.state().facts.to_replace == ()
    post(page, "order_set", measured.job, **supplied(string="from the shelf"))
    assert measured.state().facts.to_replace == ("string",)


def test_all_from_the_shelf_needs_no_maker(page, measured):
    answer = post(page, "order_set", measured.job, **supplied(cable_a=SHELF, string=SHELF))
    assert answer.status_code == 302 and not measured.state().facts.to_order


def test_an_order_wants_a_maker_and_a_source_that_exists(page, measured):
    assert post(page, "order_set", measured.job, **supplied(string="order it")).status_code == 422
    assert post(page, "order_set", measured.job, **supplied(string="stolen")).status_code == 422


def test_a_part_logged_by_mistake_did_not_go_on(page, measured):
    row = put_on(measured)
    assert "cable_a" in measured.state().facts.replaced
    shown = page.get(reverse("log", args=[measured.job.pk])).content.decode()
    assert "It did not go on" in shown
    post(page, "part_not_on", measured.job, row.pk)
    state = measured.state()
    assert "cable_a" in state.facts.still_to_replace and not state.facts.replaced
    assert state.facts.press is not None and not state.facts.press.done
    fitted = Part.objects.get(bow=measured.job.bow, role="cable_a", state=Part.FITTED)
    assert fitted.pk < row.part_id
    assert "did not go on" in state.ledger[-1].words


def test_a_part_that_was_judged_is_on(measured):
    row = put_on(measured)
    measured.let_down()
    measured.judge("cable_a", 0.0)
    with pytest.raises(Refused, match="Only the newest part"):
        part_not_on(measured.job.pk, measured.submission(), row.pk)
    with pytest.raises(Refused, match="Only the newest part"):
        part_not_on(measured.job.pk, measured.submission(), 10**9)


def test_what_is_asked_for_after_the_set_has_come_can_be_ordered_too(page, script):
    script.check_in(["replace_string", "back_to_spec"])
    script.order_set()
    script.set_arrives()
    script.inspect(cables=("replace", "worn"))
    script.baseline()
    facts = script.state().facts
    assert facts.came == ("string",) and set(facts.to_order) == {"cable_a", "cable_b"}
    shown = page.get(reverse("step", args=[script.job.pk, "string_set"])).content.decode()
    assert "Save, and send the order" in shown
    ordered = supplied(cable_a="order it", cable_b="from the shelf")
    assert post(page, "order_set", script.job, maker="Loomwright", **ordered).status_code == 302
    assert [c.role for c in StringSet.objects.first().components.all()] == ["cable_a"]


def test_what_was_declined_keeps_the_job_going_on(page, measured):
    post(page, "order_set", measured.job, **supplied(cable_a="declined", string="declined"))
    shown = page.get(reverse("step", args=[measured.job.pk, "string_set"])).content.decode()
    assert "Nothing is to be replaced" in shown and "send the order" not in shown
    assert "string_set" in {state.step.key for state in measured.state().course.steps}


def test_an_apprentice_takes_from_the_shelf_and_neither_orders_nor_declines(client, measured, pia):
    client.force_login(pia)
    for kind in ("order it", "declined"):
        asked = supplied(cable_a=kind, string=SHELF)
        answer = post(client, "order_set", measured.job, maker="Loomwright", **asked)
        assert answer.status_code == 422 and "That needs a" in answer.content.decode()
    mine = supplied(cable_a=SHELF, string="customer's own")
    assert post(client, "order_set", measured.job, **mine).status_code == 302
    assert not measured.state().facts.to_order
