"""The fit on the screen: what is on the bow, the arrow, acts by hand and in the press, sight, sheet."""

import pytest
from django.urls import reverse

from bowcore.accessories.on_the_bow import THINGS
from bowcore.errors import Refused
from bowcore.quantities.changes import Change
from bowcore.quantities.inches import say_inches
from bowcore.stages.baseline.step import marks_missing
from bowcore.work_order.needs import readings_needed
from shop.casework.readings.actions.leave_it import leave_it
from shop.casework.readings.actions.take_reading import TypedReading, take_reading
from shop.casework.state import job_state
from shop.demo.scenes import DROP_AWAY, OWN_ARROW, STRING
from shop.schema.bows.models import Part
from shop.schema.fitting.models import ThingOnBow
from shop.schema.fitting.selectors import arrows_of, loops_tied, speed_of_last_visit
from shop.schema.jobs.models import Job
from shop.schema.press.models import Adjustment
from shop.stages.fit.actions import do_fit_act, name_arrow
from shop.stages.fit.state import fit_now
from tests.shop.posting import post

MISFIT = {"nock_height": 0.125, "arrow_level": 0.125, "centre_shot": 0.1, "nock_to_peep": -0.1875,
          "peep_turn": -24}  # fmt: skip


def new_string(script, arrow=True, misfit=MISFIT, **more):
    """A new string on, back in its bands, its fit as new strings are."""
    script.check_in(STRING, **more)
    script.inspect()
    script.new_string_sits(**misfit)
    script.baseline()
    script.replace("string", 0.0)
    script.back_to_spec()
    if arrow:
        script.on_the_bow("arrow", **OWN_ARROW)


def screen(page, script, name="fit"):
    return page.get(reverse("step", args=[script.job.pk, name])).content.decode()


def test_a_new_string_leads_to_the_fit_and_following_it_to_the_hand_over(page, script):
    new_string(script)
    assert script.state().course.next.step == "fit"
    script.fit()
    state = script.state()
    assert state.course.next.step == "hand_over"
    assert not state.course.situation.fit_outside and not state.course.every_outside
    kinds = {row.change for row in Adjustment.objects.filter(job=script.job)}
    assert {Change.LOOP_OR_TIES, Change.PEEP} & kinds
    sheet = page.get(reverse("sheet", args=[script.job.pk])).content.decode()
    assert "Own carbon, 340, 412 gr" in sheet and "Peep facing" in sheet


def test_a_peep_that_was_misread_when_it_came_in_goes_where_it_was_read(script):
    """The simulated bow follows the job: what came in is what was written down."""
    script.check_in(STRING)
    script.inspect()
    setup = script.state().facts.setup
    script.read(*(name for name in readings_needed(setup) if name != "nock_to_peep"))
    misread = say_inches(script.bow.true("nock_to_peep") + 3 / 16)
    take_reading(script.job.pk, script.submission(), TypedReading("nock_to_peep", misread))
    script.write_marks()
    script.replace("string", 0.0)
    script.back_to_spec()
    script.on_the_bow("arrow", **OWN_ARROW)
    script.fit()
    wanted = script.state().bands["nock_to_peep"]
    assert wanted.judge(script.bow.true("nock_to_peep")).inside


def test_without_an_arrow_what_needs_it_waits_and_nothing_else(page, script):
    new_string(script, arrow=False, misfit={})
    body = screen(page, script)
    assert "Which arrow is it set up for?" in body and "arrow level" in body
    script.read(
        "nock_to_peep", "nock_height", "loop_length", "centre_shot", "peep_turn", "loop_facing"
    )
    for key in script.state().course.situation.fit_outside:
        leave_it(script.job.pk, script.submission(), [key], "the archer wants it so")
    assert script.state().course.next.text == "Name the arrow"
    assert "Write the arrow down" in screen(page, script)
    typed = OWN_ARROW | {"thing": "arrow"}
    assert post(page, "write_thing", script.job, **typed).status_code == 302
    assert script.state().course.next.text.startswith(("Read", "Set"))


def test_an_arrow_that_is_too_light_stops_it(page, script):
    new_string(script, arrow=False)
    script.on_the_bow("arrow", **(OWN_ARROW | {"mass_gr": "210"}))
    assert "Do not shoot it" in screen(page, script)
    assert "Do not shoot it" in screen(page, script, "hand_over")


def test_what_is_on_a_bow_is_carried_to_its_next_visit_and_kept_with_its_history(page, script):
    new_string(script)
    first = script.job
    script.on_the_bow("rest", **DROP_AWAY)
    script.on_the_bow("rest", **(DROP_AWAY | {"clamp_in": "14"}))
    assert script.state().on_bow.clamp.place_in == 14
    assert ThingOnBow.objects.filter(job=first, thing="rest").count() == 2
    again = Job.objects.get(pk=first.pk)
    again.pk, again.version = None, 1
    again.save()
    assert job_state(again).on_bow.clamp.place_in == 14


def test_a_detail_that_is_wrong_is_said_at_the_form_and_nothing_is_lost(page, script):
    new_string(script, arrow=False)
    typed = OWN_ARROW | {"thing": "arrow", "length_in": "about 28"}
    answer = post(page, "write_thing", script.job, **typed)
    body = answer.content.decode()
    assert answer.status_code == 422 and "write it as 27 1/2" in body
    assert "about 28" in body and 'value="412"' in body
    assert post(page, "write_thing", script.job, thing="wings").status_code == 422
    assert not ThingOnBow.objects.exists()


def test_one_of_the_customers_arrows_is_named_with_one_tap(page, script, ines, submission):
    new_string(script)
    row = arrows_of(script.job)[0]
    post(page, "name_arrow", script.job, arrow=row.pk)
    assert ThingOnBow.objects.filter(thing="arrow").count() == 2
    with pytest.raises(Refused, match="does not have that arrow"):
        name_arrow(script.job.pk, submission(ines, script.job), row.pk + 99)


def test_on_a_new_setup_the_peep_of_the_archers_other_bow_is_carried_over(page, script):
    script.check_in(["back_to_spec"], model="Pilot 33")
    script.read("nock_to_peep")
    script.check_in(["fit"], path="new_setup")
    script.inspect()
    shown = fit_now(script.state()).shown["nock_to_peep"]
    assert shown.startswith("On Corvane Pilot 33 it is") and "give or take" in shown
    assert "same eye wants" in shown and "top nock tie to centre of the peep" in shown


def test_the_rest_is_tapped_without_a_press_and_goes_into_the_ledger(page, script):
    new_string(script)
    script.read("nock_to_peep", "nock_height", "arrow_level", "centre_shot")
    act = next(a for a in fit_now(script.state()).acts if a.sets == ("centre_shot",))
    assert act.steps["rest_out"] < 0
    before = script.bow.true("centre_shot")
    assert post(page, "do_fit_act", script.job, sets="centre_shot").status_code == 302
    log = page.get(reverse("log", args=[script.job.pk])).content.decode()
    assert "Rest, sideways" in log and "toward the riser" in log
    now = script.state().facts.current("centre_shot")
    assert not now.fresh and before == pytest.approx(0.8125 + 0.1, abs=0.07)


def test_taps_are_tried_on_the_drawing_before_anything_moves(page, script):
    new_string(script)
    script.read("nock_to_peep", "nock_height", "arrow_level", "centre_shot")
    version = script.state().job.version
    address = reverse("try_fit", args=[script.job.pk])
    now, moved, wild = (
        page.get(address, {"rest_up": taps}).content.decode() for taps in ("0", "4", "999")
    )
    assert "Arrow level" in moved and "Arrow level" not in now + wild
    assert moved.split("</svg>")[0] != now.split("</svg>")[0] == wild.split("</svg>")[0]
    assert script.state().job.version == version


def test_the_peep_is_turned_in_the_press_and_taken_back(page, script):
    new_string(script)
    while "peep_turn" in script.state().course.situation.fit_unread:
        script.read(script.state().course.situation.fit_unread[0])
    assert post(page, "do_fit_act", script.job, sets="peep_turn").status_code == 302
    state = script.state()
    assert state.press is not None and set(state.press.planned) <= {"string", "peep_pair"}
    assert "press" in screen(page, script, "back_to_spec")


def test_a_string_whose_lay_nobody_knows_is_looked_at_first(page, script):
    new_string(script, misfit={"peep_turn": 29})
    Part.objects.filter(role="string").update(lay="")
    while "peep_turn" in script.state().course.situation.fit_unread:
        script.read(script.state().course.situation.fit_unread[0])
    assert "Look how the string&#x27;s threads run" in screen(page, script)
    assert post(page, "do_fit_act", script.job, sets="peep_turn").status_code == 422
    post(page, "write_mark", script.job, mark="lay_string", value="s")
    assert "half a twist" in screen(page, script)


def test_an_act_that_is_not_asked_for_is_refused(page, script, ines, submission):
    new_string(script)
    with pytest.raises(Refused, match="not asked for any more"):
        do_fit_act(script.job.pk, submission(ines, script.job), "loop_length")
    assert post(page, "do_fit_act", script.job, sets="loop_length").status_code == 422


def test_cord_of_loops_is_learned_from_what_was_tied_here(script):
    new_string(script)
    script.on_the_bow("loop", cord="braided 2 mm", cut_in="5 1/2")
    assert loops_tied("braided 2 mm") == []
    script.read("loop_length")
    ((cut, finished),) = loops_tied("braided 2 mm")
    assert cut == 5.5 and finished == pytest.approx(0.5625, abs=0.13)


def test_the_cord_is_good_until_a_twist_takes_it_out_of_its_band(script):
    new_string(script)
    script.on_the_bow("rest", **DROP_AWAY)
    script.fit()
    state = script.state()
    assert "cord_up" not in state.course.situation.fit_unread
    assert fit_now(state).shown["cord_up"].startswith("By the twin, on the cable")


def test_sight_marks_follow_the_speed_and_the_tape_is_to_scale(page, script):
    new_string(script)
    empty = page.get(reverse("sight", args=[script.job.pk])).content.decode()
    assert "these are missing" in empty
    assert page.get(reverse("sight_svg", args=[script.job.pk])).status_code == 404
    script.on_the_bow("sight", name="five pins", peep_to_pin_in="31 1/2", eye_above_arrow_in="4 1/4",
                      marks="20, 40, 60")  # fmt: skip
    script.read("arrow_speed")
    body = page.get(reverse("sight", args=[script.job.pk])).content.decode()
    assert "speed as it came in" in body and 'width="0.75in"' in body
    tape = page.get(reverse("sight_svg", args=[script.job.pk]))
    assert tape["Content-Type"] == "image/svg+xml" and b'width="0.75in"' in tape.content


def test_every_thing_on_the_bow_has_its_form(page, script):
    new_string(script)
    for key in (
        "arrow",
        "rest",
        "ties",
        "loop",
        "peep",
        "kisser",
        "sight",
        "quiver",
        "stabiliser",
        "what",
    ):
        answer = page.get(reverse("on_the_bow", args=[script.job.pk]), {"thing": key})
        assert answer.status_code == 200 and b"Write it down" in answer.content


@pytest.mark.parametrize("places", ["0 9 9.5", "9 1 0", "0.1 0.1 0.1", ""])
def test_marks_that_nobody_has_shot_break_no_page(page, script, places):
    new_string(script, misfit={})
    sight = {"peep_to_pin_in": "31 1/2", "eye_above_arrow_in": "4 1/4", "marks": "20 40 200"}
    script.on_the_bow("sight", **sight, **({"places": places} if places else {}))
    take_reading(script.job.pk, script.submission(), TypedReading("arrow_speed", "284", sure=True))
    answer = page.get(reverse("sight", args=[script.job.pk]))
    assert answer.status_code == 200 and "Tape for" in answer.content.decode()


def test_nothing_that_is_kept_against_all_doubt_breaks_a_page(page, script):
    """A technician may keep any number; pages that compute with it say what is missing instead."""
    new_string(script)
    script.on_the_bow("rest", **DROP_AWAY)
    script.on_the_bow("sight", peep_to_pin_in="31 1/2", eye_above_arrow_in="4 1/4", marks="20, 200")
    script.on_the_bow("loop", cord="b", cut_in="5")
    for name, text, way in (
        ("arrow_speed", "600", ""), ("nock_to_peep", "0", ""), ("loop_length", "1 3/4", ""),
        ("nock_height", "3", "above"), ("arrow_level", "1 3/4", "nock_high"), ("centre_shot", "2 1/4", ""),
        ("cord_up", "36", ""), ("peep_turn", "55", "clockwise"),
    ):  # fmt: skip
        typed = TypedReading(name, text, way, "nock_tie", "peep_centre", sure=True)
        take_reading(script.job.pk, script.submission(), typed)
    for address in ("sight", "on_the_bow", "sheet", "try_fit"):
        assert page.get(reverse(address, args=[script.job.pk])).status_code == 200
    assert page.get(reverse("step", args=[script.job.pk, "fit"])).status_code == 200
    assert page.get(reverse("step", args=[script.job.pk, "hand_over"])).status_code == 200


@pytest.mark.parametrize("text", ["", "NaN", "1e309", "9" * 5000, "²", "\x00", "-1", "<b>", "None"])
def test_no_typed_detail_ends_in_a_server_error(page, script, text):
    script.check_in(STRING)
    for one in THINGS:
        typed = {"thing": one.key} | {detail.key: text for detail in one.details}
        assert post(page, "write_thing", script.job, **typed).status_code in (302, 422, 200)
    assert page.get(reverse("on_the_bow", args=[script.job.pk])).status_code == 200


def test_a_reading_moves_the_drawing_while_it_is_typed(page, script):
    new_string(script)
    address = reverse("try_fit", args=[script.job.pk])
    typed = {"quantity": "nock_to_peep", "text": "5 3/4", "other": "", "direction": ""}
    body = page.get(address, typed).content.decode()
    assert "5 3/4 in" in body and "outside" in body
    play = typed | {"quantity": "nock_gap", "text": "1/32"}
    assert "nock and ties want about" in page.get(address, play).content.decode()
    assert "left that way" not in page.get(address, {"rest_up": "1"}).content.decode()
    script.on_the_bow("rest", **DROP_AWAY)
    assert "left that way" in page.get(address, {"rest_up": "1"} | play).content.decode()
    level = typed | {"quantity": "arrow_level", "text": "1/16", "direction": "nock_high"}
    assert "nock 1/16 high" in page.get(address, level).content.decode()
    for text in ("", "5 3/", "99999", "x" * 39):
        body = page.get(address, typed | {"text": text}).content.decode()
        assert "outside" not in body and "<svg" in body
    assert "?at=nock_to_peep" in body  # a number beside its line opens its reading


def test_the_drawing_opens_only_what_can_be_read_on_this_bow(page, script):
    script.check_in(["replace_string", "back_to_spec"], fitted=["peep", "loop"])  # no rest
    script.inspect()
    body = page.get(reverse("step", args=[script.job.pk, "fit"])).content.decode()
    assert "level not read" in body and "?at=loop_length" in body and "?at=arrow_level" not in body
    opened = page.get(reverse("step", args=[script.job.pk, "fit"]), {"at": "loop_length"})
    assert 'name="loop_length-text"' in opened.content.decode()


def test_the_rest_written_down_with_its_measures_answers_the_question_about_its_cord(page, script):
    script.check_in(STRING, path="carry_over")
    script.inspect()
    asked = marks_missing(script.state().facts)
    assert "rest_cord" in asked
    body = page.get(reverse("step", args=[script.job.pk, "baseline"]), {"at": "rest_cord"})
    assert "?thing=rest" in body.content.decode()
    answer = post(page, "write_thing", script.job, thing="rest", **DROP_AWAY)
    assert answer.status_code == 302 and "baseline" in answer.url
    assert marks_missing(script.state().facts) == tuple(k for k in asked if k != "rest_cord")
    assert "clamped at 15 in" in script.state().marks["rest_cord"]


def test_the_arrow_that_was_named_at_check_in_is_not_typed_again(page, script):
    new_string(script, arrow=False)
    Job.objects.filter(pk=script.job.pk).update(arrows="six own 340")
    form = page.get(reverse("on_the_bow", args=[script.job.pk]), {"thing": "arrow"})
    assert 'value="six own 340"' in form.content.decode()


def test_the_speed_of_the_last_visit_counts_until_another_arrow_is_named(script):
    new_string(script)
    first = script.job
    script.read("arrow_speed")
    read = script.state().facts.current("arrow_speed").summary.value
    again = Job.objects.get(pk=first.pk)
    again.pk, again.version = None, 1
    again.save()
    last = speed_of_last_visit(again)
    assert last.fps == pytest.approx(read, abs=3) and last.when == "at its last visit"
    script.job = again
    script.on_the_bow("arrow", **(OWN_ARROW | {"mass_gr": "500"}))
    assert speed_of_last_visit(again) is None


def test_a_clamp_on_bare_threads_is_moved_before_its_cord_is_set(script):
    new_string(script, misfit=MISFIT | {"cord_up": 4})
    script.on_the_bow("rest", **(DROP_AWAY | {"served_to_in": "12"}))
    while "cord_up" in script.state().course.situation.fit_unread:
        script.read("cord_up")
    act = next(a for a in fit_now(script.state()).acts if a.sets == ("cord_up",))
    assert "bare threads" in act.why
    assert act.do.startswith(("Move the clamp to", "Serve the cable longer"))
