"""The chronograph on the screen: the job's own arrow, other arrows, string weights."""

import re

from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from bowcore.work_order.services import SHOOT_IN
from shop.demo.scenes import OWN_ARROW
from shop.schema.chronograph.models import ArrowSpeed
from shop.schema.measurements.models import Reading
from tests.shop.posting import post


def at_the_chronograph(script, arrow=OWN_ARROW):
    script.check_in([SHOOT_IN])
    script.inspect()
    script.baseline()
    if arrow:
        script.on_the_bow("arrow", **arrow)


def screen(page, script):
    return page.get(reverse("speed", args=[script.job.pk])).content.decode()


def own_speeds(script):
    return Reading.objects.filter(job=script.job, quantity="arrow_speed", value__isnull=False)


def test_the_own_arrows_speed_is_its_reading_and_is_not_typed_twice(page, script):
    at_the_chronograph(script)
    before = own_speeds(script).count()
    assert post(page, "write_speed", script.job, text="261").status_code == 302
    assert own_speeds(script).count() == before + 1 and not ArrowSpeed.objects.exists()
    assert "ft lbf, momentum" in screen(page, script)


def test_another_arrow_says_what_moves_with_it_and_what_any_arrow_would_do(page, script):
    at_the_chronograph(script)
    for speed in ("261", "261", "262"):
        post(page, "write_speed", script.job, text=speed, sure_of=speed)
    for speed in ("236", "236", "236"):
        answer = post(page, "write_speed", script.job, text=speed, arrow="Heavy", mass="520")
        assert answer.status_code == 302
    shown = screen(page, script)
    assert "of the bow move with the arrow" in shown and "Heavy" in shown and "450 gr" in shown


def test_an_arrow_below_the_least_mass_is_not_shot(page, script):
    at_the_chronograph(script)
    answer = post(page, "write_speed", script.job, text="330", arrow="Light", mass="200")
    assert answer.status_code == 422 and "Do not shoot it" in answer.content.decode()
    assert not ArrowSpeed.objects.exists()


def test_a_speed_that_no_bow_has_is_asked_about_and_nothing_is_lost(page, script):
    at_the_chronograph(script)
    shown = post(page, "write_speed", script.job, text="28").content.decode()
    assert "It is right: save it" in shown or "fps" in shown
    assert 'value="28"' in shown and not own_speeds(script).filter(value=28).exists()
    other = post(page, "write_speed", script.job, text="28", arrow="Heavy", mass="520")
    assert other.status_code == 422 and 'value="520"' in other.content.decode()


def test_weights_are_tried_place_by_place(page, script):
    at_the_chronograph(script)
    for place, speeds in (("1", (260, 260, 261)), ("1 3/8", (262, 263, 262))):
        for speed in speeds:
            typed = {"text": str(speed), "weights": place}
            assert post(page, "write_speed", script.job, **typed).status_code == 302
    shown = screen(page, script)
    assert "Weights 1 3/4 in from each cam" in shown and 'value="1 3/4"' in shown
    assert 'class="prediction"' not in shown  # the page's own drawing is no list of predictions
    refused = post(page, "write_speed", script.job, text="260", weights="40")
    assert refused.status_code == 422 and "0 to 10 in from the cam" in refused.content.decode()


def test_the_best_place_of_the_weights_is_kept_for_the_next_set(page, script):
    at_the_chronograph(script)
    places = {
        "1": 260,
        "1 3/8": 263,
        "1 3/4": 263,
        "2 1/8": 260,
        "2 1/2": 256,
        "5/8": 255,
        "1/4": 249,
    }
    for place, speed in places.items():
        for _ in range(3):
            post(page, "write_speed", script.job, text=str(speed), weights=place)
    for _ in range(30):
        if "Keep " in screen(page, script):
            break
        asked = re.search(r'name="weights"\s+value="([^"]+)"', screen(page, script)).group(1)
        post(page, "write_speed", script.job, text="263", weights=asked)
    kept = re.search(r'name="from_cam_in" value="([^"]+)"', screen(page, script)).group(1)
    post(page, "write_thing", script.job, thing="weights", from_cam_in=kept)
    assert 1.25 <= script.state().on_bow.weights_in <= 1.875


def test_a_speed_that_was_entered_wrong_is_taken_out_and_stays_on_record(page, script):
    at_the_chronograph(script)
    post(page, "write_speed", script.job, text="236", arrow="Heavy", mass="520")
    assert "Take the last one out" in screen(page, script)
    assert post(page, "take_out_speed", script.job).status_code == 302
    assert "Take the last one out" not in screen(page, script)
    assert ArrowSpeed.objects.count() == 2
    assert post(page, "take_out_speed", script.job).status_code == 422


def test_without_an_arrow_a_bad_shot_has_no_mass(page, script):
    at_the_chronograph(script, arrow=None)
    answer = post(page, "write_speed", script.job, text="236", bad="on")
    assert answer.status_code == 422 and "Write the arrow down first" in answer.content.decode()


def test_nobody_shoots_a_bow_that_is_held(page, script):
    script.check_in([SHOOT_IN])
    script.inspect(limbs_top=("stop", "split tip"))
    answer = post(page, "write_speed", script.job, text="236", arrow="Heavy", mass="520")
    assert answer.status_code == 422 and not ArrowSpeed.objects.exists()


def bring_in(page, script, content):
    file = SimpleUploadedFile("shots.csv", content.encode(), "text/csv")
    return post(page, "bring_in_shots", script.job, file=file)


def test_shots_come_in_and_go_out_as_a_file(page, script):
    at_the_chronograph(script)
    before, mass = own_speeds(script).count(), OWN_ARROW["mass_gr"]
    lines = [
        "test,distance_yd,x_in,y_in,kind,arrow,called,speed_fps,mass_gr,weights_in",
        "paper,3,-0.25,0.5,fletched,,good,,,",
        f"chronograph,,,,,,good,262,{mass},",
        "chronograph,,,,,Heavy,good,236,520,",
    ]
    assert bring_in(page, script, "\n".join(lines)).status_code == 302
    assert len(script.state().facts.shots) == 1
    assert own_speeds(script).count() == before + 1 and ArrowSpeed.objects.get().arrow == "Heavy"
    sent = page.get(reverse("shots_file", args=[script.job.pk])).content.decode()
    assert "paper,3.0,-0.25,0.5" in sent and "Heavy" in sent and "262" in sent


def test_a_file_with_a_mistake_leaves_nothing_behind(page, script):
    at_the_chronograph(script)
    good = "test,x_in,y_in,speed_fps,mass_gr\npaper,0,0.5,,\n"
    for wrong in ("paper,far,0,,", "chronograph,,,281,90", "chronograph,,,281,150"):
        answer = bring_in(page, script, good + wrong)
        assert answer.status_code == 422 and 'role="alert"' in answer.content.decode()
    assert script.state().facts.shots == () and not ArrowSpeed.objects.exists()


def test_the_own_arrow_is_not_shot_either_if_it_is_too_light(page, script):
    at_the_chronograph(script, OWN_ARROW | {"mass_gr": "150"})
    before = own_speeds(script).count()
    answer = post(page, "write_speed", script.job, text="330")
    assert answer.status_code == 422 and "Do not shoot it" in answer.content.decode()
    assert own_speeds(script).count() == before


def test_without_a_file_it_says_to_choose_one(page, script):
    at_the_chronograph(script)
    answer = post(page, "bring_in_shots", script.job)
    assert answer.status_code == 422 and "Choose a file first" in answer.content.decode()
