"""The paper on the screen: shots tapped on a sheet, suspects looked at, taps into the ledger."""

import re

import pytest
from django.urls import reverse

from bowcore.stages.shooting_in.next_act import ActKind
from bowcore.stages.shooting_in.suspects import (
    BY_KEY,
    TIMING_CABLE,
    Axis,
    SuspectStanding,
    suspects_of,
)
from bowcore.stages.shooting_in.tuning import ladder, paper_act, tune_of
from bowcore.work_order.services import SHOOT_IN
from shop.demo.scenes import OWN_ARROW
from shop.rack.selectors import rack_now
from shop.schema.accounts.models import Shop
from shop.schema.press.models import Adjustment
from shop.schema.tuning.models import ShotFired, SuspectLookedAt
from tests.shop.posting import post

HIGH = ((0.0, 0.5), (0.05, 0.45))
HOLES = {"point_x": "0", "point_y": "0", "nock_x": "-0.25", "nock_y": "0.5"}


def at_paper(script, *places, arrow=OWN_ARROW):
    """Back in its bands, to be shot in, with some shots."""
    script.check_in([SHOOT_IN])
    script.inspect()
    script.baseline()
    script.back_to_spec()
    if arrow:
        script.on_the_bow("arrow", **arrow)
    for x, y in places:
        script.shot(x, y)


def screen(page, script):
    return page.get(reverse("step", args=[script.job.pk, "paper"])).content.decode()


def act_of(script):
    state = script.state()
    return paper_act(state.judged, state.bands)


def standings(script):
    state = script.state()
    return {one.suspect.key: one for one in ladder(state.judged, state.bands)}


def test_two_clean_holes_alike_lead_to_the_hand_over(page, script):
    at_paper(script)
    assert script.state().course.next.text == "Shoot one more through paper"
    assert "Tap the point" in screen(page, script)
    for _ in range(2):
        clean = HOLES | {"nock_x": "0.02", "nock_y": "0.03"}
        assert post(page, "write_shot", script.job, **clean).status_code == 302
    assert script.state().course.next.step == "hand_over"
    assert "Clean: leave it" in screen(page, script)


def test_a_shot_is_what_was_tapped_and_is_said_while_it_is(page, script):
    at_paper(script)
    address = reverse("tear_words", args=[script.job.pk])
    assert page.get(address, HOLES).content.decode() == "nock 1/2 in high, 1/4 in left"
    assert page.get(address, HOLES | {"nock_x": "abc"}).content == b""
    post(page, "write_shot", script.job, **HOLES, bad="on", shooter="S. Lindqvist")
    row = ShotFired.objects.get()
    assert (row.x_in, row.y_in, row.good, row.shooter) == (-0.25, 0.5, False, "S. Lindqvist")
    log = page.get(reverse("log", args=[script.job.pk])).content.decode()
    assert "through paper: nock 1/2 in high, 1/4 in left, called bad" in log


def test_without_both_holes_nothing_is_saved_and_it_says_why(page, script):
    at_paper(script)
    answer = post(page, "write_shot", script.job, point_x="0", point_y="0", nock_x="", nock_y="")
    assert answer.status_code == 422 and "Tap both holes" in answer.content.decode()
    assert not ShotFired.objects.exists()


def test_a_shot_that_was_entered_wrong_is_taken_out_and_stays_on_record(page, script):
    at_paper(script, (0.0, 0.5))
    assert post(page, "take_out_shot", script.job).status_code == 302
    assert script.state().facts.shots == () and ShotFired.objects.count() == 2
    assert post(page, "take_out_shot", script.job).status_code == 422
    with_shot = screen(page, script)
    assert "Nothing was shot yet" in with_shot


def test_readings_that_are_inside_clear_their_suspects_with_the_number(script):
    at_paper(script, *HIGH)
    timing = standings(script)["timing"]
    assert timing.standing is SuspectStanding.CLEARED
    assert "inside" in timing.findings[0].words and "Cam timing" in timing.findings[0].words
    assert act_of(script).kind is ActKind.TEST


def test_what_is_looked_at_by_hand_moves_the_ladder(page, script):
    at_paper(script, *HIGH)
    before = standings(script)["contact_up"].chance
    assert post(page, "look_at_suspect", script.job, suspect="contact_up").status_code == 302
    assert standings(script)["contact_up"].chance < before / 3
    post(page, "look_at_suspect", script.job, suspect="pinch", found="on")
    post(page, "look_at_suspect", script.job, suspect="pinch", found="on")
    act = act_of(script)
    assert act.kind is ActKind.MEND and act.suspect == "pinch"
    assert "Mended" in screen(page, script)
    assert post(page, "look_at_suspect", script.job, suspect="wings").status_code == 422


def test_any_suspect_is_opened_and_answered_out_of_turn_in_its_own_words(page, script):
    at_paper(script, *HIGH)
    act, body = act_of(script), screen(page, script)
    asked = {"contact_up", "pinch", "heel"} - {act.suspect}
    for key in asked:
        for words in BY_KEY[key].test.answers:
            assert f">{words}</button>" in re.sub(r"\s*\n\s*", "", body)
        before = standings(script)[key].chance
        post(page, "look_at_suspect", script.job, suspect=key, found="on")
        assert standings(script)[key].chance > before


def test_another_archers_clean_shots_point_at_the_hand(script):
    at_paper(script, *HIGH)
    before = standings(script)["heel"].chance
    script.shot(0.0, 0.05, shooter="S. Lindqvist")
    script.shot(0.05, 0.0, shooter="S. Lindqvist")
    heel = standings(script)["heel"]
    assert heel.chance > 2 * before and heel.findings[0].words == "2 shots: clean"
    state = script.state()
    assert len(tune_of(state.judged, state.bands).now) == 2  # the archer's own shots only


def test_a_tap_goes_into_the_ledger_and_its_answer_is_learned(page, script):
    at_paper(script, *HIGH)
    for key in ("contact_up", "pinch", "heel", "spine_up", "timing", "rest_height"):
        script.looked_at(key, False)
        script.looked_at(key, False)
    for _ in range(3):
        script.looked_at("nock", True)
    act = act_of(script)
    assert act.kind is ActKind.TAP and act.steps["nock_point"] < 0
    body = screen(page, script)
    assert "Nock point:" in body and "is left, give or take" in body
    assert body.count('class="seen now"') == 2 and body.count('class="led-to"') == 1
    assert post(page, "paper_tap", script.job).status_code == 302
    row = Adjustment.objects.get(job=script.job)
    assert (row.adjuster, row.steps) == ("nock_point", act.steps["nock_point"])
    assert act_of(script).kind is ActKind.SHOOT
    assert post(page, "paper_tap", script.job).status_code == 422
    script.shot(0.0, 0.2)
    script.shot(0.05, 0.2)
    state = script.state()
    trial = tune_of(state.judged, state.bands).trials[0]
    assert trial.lever == "nock_point" and trial.after < trial.before
    assert screen(page, script).count('class="seen then"') == 2  # the tears before the tap


def test_what_was_mended_in_vain_is_believed(script):
    at_paper(script, *HIGH)
    script.looked_at("contact_up", True)
    script.looked_at("contact_up", False, mended=True)
    before = standings(script)
    assert before == {}  # everything is to be shot again after a change
    for x, y in HIGH:
        script.shot(x, y)
    contact = standings(script)["contact_up"]
    assert contact.chance < 0.3 and contact.findings[-1].words == "mended in vain"


def test_a_new_arrow_opens_everything_again(page, script):
    at_paper(script, *HIGH)
    script.looked_at("contact_up", False)
    assert standings(script)["contact_up"].findings
    post(page, "note_change", script.job, change="arrow_or_nock", note="340 to 300")
    for x, y in HIGH:
        script.shot(x, y)
    assert not standings(script)["contact_up"].findings


def test_a_light_arrow_and_a_hold_stop_the_shooting(page, script):
    at_paper(script, arrow=OWN_ARROW | {"mass_gr": "210"})
    assert "Do not shoot it" in screen(page, script)
    answer = post(page, "write_shot", script.job, **HOLES)
    assert answer.status_code == 422 and "Do not shoot it" in answer.content.decode()


def test_nobody_shoots_in_what_was_not_asked_for(page, script):
    script.check_in(["back_to_spec"])
    script.inspect()
    script.baseline()
    answer = post(page, "write_shot", script.job, **HOLES)
    assert answer.status_code == 422 and "Nobody asked" in answer.content.decode()
    assert post(page, "look_at_suspect", script.job, suspect="heel").status_code == 422
    assert not ShotFired.objects.exists() and not SuspectLookedAt.objects.exists()


@pytest.mark.parametrize("bad", ["nan", "inf", "1e309", "99", "-9", "x" * 50, ""])
def test_no_place_of_a_hole_ends_in_a_server_error(page, script, bad):
    at_paper(script)
    assert post(page, "write_shot", script.job, **(HOLES | {"nock_y": bad})).status_code == 422
    assert (
        page.get(reverse("tear_words", args=[script.job.pk]), HOLES | {"nock_y": bad}).status_code
        == 200
    )


def test_groups_on_the_butt_ask_for_a_rest_move_that_goes_into_the_ledger(page, script):
    at_paper(script)
    script.read("centre_shot")
    shot = {"test": "walk_back", "kind": "fletched", "impact_y": "0"}
    for yards in (20, 20, 25, 25, 30, 30, 35, 35, 40, 40):
        typed = shot | {"distance": str(yards), "impact_x": str(0.06 * yards)}
        answer = post(page, "write_butt_shot", script.job, **typed)
        assert answer.status_code == 302 and answer.url.endswith("?test=walk_back")
    body = page.get(reverse("butt", args=[script.job.pk]), {"test": "walk_back"}).content.decode()
    assert "Move the rest" in body and "to the left" in body and "20 yd" in body
    assert post(page, "butt_tap", script.job, test="walk_back").status_code == 302
    row = Adjustment.objects.get(job=script.job)
    assert row.adjuster == "rest_out" and row.steps
    assert post(page, "butt_tap", script.job, test="walk_back").status_code == 422
    log = page.get(reverse("log", args=[script.job.pk])).content.decode()
    assert "fletched at 40 yd: 2 3/8 in right" in log


def test_every_test_of_the_butt_has_its_page_and_bad_shots_are_refused(page, script):
    at_paper(script)
    for test in ("bare_shaft", "french", "walk_back", "broadhead", "wings", ""):
        body = page.get(reverse("butt", args=[script.job.pk]), {"test": test}).content.decode()
        assert "Tap where it hit" in body
    good = {
        "test": "french",
        "kind": "fletched",
        "distance": "20",
        "impact_x": "1",
        "impact_y": "0",
    }
    for bad in (
        {"distance": "0"},
        {"distance": "nan"},
        {"impact_x": ""},
        {"kind": "x"},
        {"impact_y": "1e309"},
    ):
        assert post(page, "write_butt_shot", script.job, **(good | bad)).status_code == 422
    far = post(page, "write_butt_shot", script.job, **(good | {"impact_x": "70", "impact_y": "70"}))
    assert far.status_code == 422 and "not on the sheet" in far.content.decode()


def test_what_nobody_could_have_shot_is_left_out_and_breaks_no_page(page, script):
    at_paper(script, *HIGH)
    event = {
        "job": script.job,
        "seq": script.state().shot_rows[0].seq,
        "by": script.submission().by,
    }
    places = {"distance_yd": 0, "x_in": 1e9, "y_in": -1e9}
    ShotFired.objects.create(**event, test="wings", kind="lead", **places)
    ShotFired.objects.create(**event, test="paper", kind="fletched", **places)
    SuspectLookedAt.objects.create(**event, suspect="gremlins", found=True)
    assert len(script.state().facts.shots) == len(HIGH)
    for name in ("butt", "sheet", "job", "log"):
        assert page.get(reverse(name, args=[script.job.pk])).status_code in (200, 302)
    assert "Contact with rest or cables" in screen(page, script)


def test_a_bow_that_was_not_shot_in_is_not_handed_over_unsaid(page, script):
    at_paper(script, *HIGH)
    body = page.get(reverse("step", args=[script.job.pk, "hand_over"])).content.decode()
    assert "Not shot in yet" in body and "nock 1/2 in high" in body


def test_a_tear_is_said_in_the_words_that_the_shop_has_chosen(page, script):
    at_paper(script, *HIGH)
    Shop.objects.update(tears="tip")
    address = reverse("tear_words", args=[script.job.pk])
    assert page.get(address, HOLES).content.decode() == "tip 1/2 in low, 1/4 in right"
    assert "tip 1/2 in low" in screen(page, script)
    post(page, "write_shot", script.job, **HOLES)
    log = page.get(reverse("log", args=[script.job.pk])).content.decode()
    assert "through paper: tip 1/2 in low, 1/4 in right" in log


def test_a_shop_that_shoots_paper_for_a_first_look_goes_on_at_the_butt(page, script):
    shop = Shop.current()
    shop.paper = "first_look"
    shop.save()
    at_paper(script, *HIGH)
    shown = screen(page, script)
    assert "Paper in this shop: for a first look only" in shown and "To the butt" in shown
    assert script.state().course.next.text.startswith("Bare shafts: shoot two bare shafts")
    shot = {"test": "bare_shaft", "distance": "20", "impact_y": "0.1"}
    for kind, across in (
        ("bare", "0.1"),
        ("fletched", "0"),
        ("bare", "-0.1"),
        ("fletched", "0.1"),
    ) * 2:
        post(page, "write_butt_shot", script.job, **shot, kind=kind, impact_x=across)
    assert script.state().course.next.step == "hand_over"


def test_what_is_looked_at_first_is_the_shops_choice(page, script):
    shop = Shop.current()
    shop.side_first = "lean"
    shop.save()
    at_paper(script, (-0.4, 0.0), (-0.42, 0.03))
    assert act_of(script).suspect == "lean"
    assert "Read the lean of both cams" in screen(page, script)


def test_bare_shafts_that_land_apart_lead_on_without_any_paper(page, script):
    shop = Shop.current()
    shop.paper = "never"
    shop.save()
    at_paper(script)
    shot = {"test": "bare_shaft", "distance": "20", "impact_y": "0"}
    for kind, across in (
        ("bare", "5"),
        ("fletched", "0"),
        ("bare", "5.2"),
        ("fletched", "0.1"),
    ) * 2:
        post(page, "write_butt_shot", script.job, **shot, kind=kind, impact_x=across)
    address = reverse("butt", args=[script.job.pk])
    for _ in range(20):
        body = page.get(address, {"test": "bare_shaft"}).content.decode()
        found = re.search(r'name="suspect" value="(\w+)"', body)
        if found is None:
            break
        looked = {"suspect": found.group(1), "test": "bare_shaft"}
        answer = post(page, "look_at_suspect", script.job, **looked)
        assert answer.status_code == 302 and answer.url.startswith(address)
    assert "Read it" in body or "It is moved" in body or "Open the press for it" in body


def test_a_shop_that_times_first_opens_the_press_for_half_a_twist(page, script):
    """Inside its band, and no farther than the band allows."""
    shop = Shop.current()
    shop.up_first = "timing"
    shop.save()
    at_paper(script, (0.0, 0.15), (0.0, 0.14))
    state = script.state()
    lever = next(
        one for one in tune_of(state.judged, state.bands).levers if one.key == TIMING_CABLE
    )
    ((cable, _),) = lever.unit.items()
    assert cable.startswith("cable") and set(lever.counts) <= {-2, -1, 1, 2}
    for suspect in suspects_of(Axis.UP):
        for _ in range(2):
            script.looked_at(suspect.key, suspect.key == "nock")
    act = act_of(script)
    assert act.suspect == "nock" and set(act.steps) == {cable}
    slot = next(one for one in rack_now().slots if one.job == script.job)
    assert slot.course.next.text == script.state().course.next.text
    body = screen(page, script)
    assert "Keep the nock level" in body and "Open the press for it" in body
    assert post(page, "paper_tap", script.job).status_code == 302
    assert script.state().press is not None


def test_another_arrow_tells_which_spine_the_bow_wants(page, script):
    """Its spine is typed once; the ladder says what would be left with the best one."""
    at_paper(script, (-0.4, 0.0), (-0.42, 0.0), (-0.4, 0.02))
    torn = HOLES | {"nock_x": "-0.1", "nock_y": "0", "arrow": "Stiffer"}
    assert post(page, "write_shot", script.job, **torn, spine="300").status_code == 302
    assert post(page, "write_shot", script.job, **torn).status_code == 302
    assert ShotFired.objects.filter(arrow="Stiffer", spine=300).count() == 1
    row = standings(script)["spine_side"]
    assert row.findings[-1].found
    body = screen(page, script)
    assert '<option value="Stiffer">' in body and re.search(
        r"Spine about \d+ would leave about", body
    )
    refused = post(page, "write_shot", script.job, **torn, spine="5")
    assert refused.status_code == 422 and "Its spine: " in refused.content.decode()
    assert ShotFired.objects.filter(arrow="Stiffer").count() == 2
