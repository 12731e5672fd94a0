"""The stabiliser on the screen: holds written down, one change a set, kept on the bow in the end."""

from django.urls import reverse

from shop.schema.stabiliser.models import FloatHeld
from tests.shop.posting import post

HELD = {
    "front_in": "10",
    "front_oz": "4",
    "back_in": "8",
    "back_oz": "8",
    "pin": "dips",
    "rating": "2",
}


def to_hold(script):
    script.check_in(["back_to_spec"])
    script.inspect()


def screen(page, script):
    return page.get(reverse("stabiliser", args=[script.job.pk])).content.decode()


def test_a_hold_leads_to_one_change(page, script):
    to_hold(script)
    assert "Hold with what is on it now" in screen(page, script)
    assert post(page, "write_float", script.job, **HELD).status_code == 302
    shown = screen(page, script)
    assert "An ounce more behind" in shown and 'value="9"' in shown and "rated 2" in shown


def test_a_good_hold_is_written_down_as_on_the_bow(page, script):
    to_hold(script)
    post(page, "write_float", script.job, **HELD | {"pin": "still", "rating": "5"})
    assert "Write it down as on the bow" in screen(page, script)
    post(page, "write_thing", script.job, thing="stabiliser", what="4 oz in front at 10 in")
    assert script.state().on_bow.of("stabiliser")["what"].startswith("4 oz")


def test_a_hold_without_a_rating_or_with_absurd_bars_is_refused(page, script):
    to_hold(script)
    for wrong in (
        {"rating": ""},
        {"rating": "9"},
        {"front_in": "900"},
        {"pin": "dances"},
        {"front_oz": "x"},
    ):
        answer = post(page, "write_float", script.job, **HELD | wrong)
        assert answer.status_code == 422 and 'role="alert"' in answer.content.decode()
    assert not FloatHeld.objects.exists()


def test_a_bow_that_is_held_is_not_drawn(page, script):
    script.check_in(["back_to_spec"])
    script.inspect(limbs_top=("stop", "split tip"))
    assert post(page, "write_float", script.job, **HELD).status_code == 422
