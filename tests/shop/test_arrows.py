"""Arrows on the screen: put together from parts, weighed as a set, labelled."""

from django.urls import reverse

from bowcore.accessories.on_the_bow import ARROW
from bowcore.work_order.services import SHOOT_IN
from shop.demo.scenes import OWN_ARROW
from shop.schema.arrows.models import ArrowSet
from shop.schema.fitting.models import ThingOnBow
from tests.shop.posting import post

PARTS = {
    "name": "New 400", "spine": "400", "draw_length": "29", "clearance": "1/2", "shaft_gr_per_in": "8.6",
    "shaft_in": ".246", "point": "125", "insert": "20", "nock": "9", "fletching": "18",
}  # fmt: skip
WEIGHED = (401.2, 399.8, 400.4, 407.9, 400.1, 399.9, 400.3, 393.2)


def checked_in(script):
    script.check_in([SHOOT_IN])
    script.inspect()
    script.baseline()
    script.read("draw_length")


def rows(masses=WEIGHED, carbon=None, **more):
    typed = {
        "arrows-TOTAL_FORMS": str(len(masses)),
        "arrows-INITIAL_FORMS": "0",
        "name": "Spring dozen",
    }
    for at, mass in enumerate(masses):
        typed |= {
            f"arrows-{at}-number": str(at + 1), f"arrows-{at}-mass": str(mass), f"arrows-{at}-spine": "",
            f"arrows-{at}-carbon": (carbon or {}).get(at, "sound"),
        }  # fmt: skip
    return typed | more


def page_of(page, script, where, /, **query):
    return page.get(reverse(where, args=[script.job.pk]), query).content.decode()


def test_an_arrow_by_its_parts_is_cut_weighed_and_judged_while_it_is_typed(page, script):
    checked_in(script)
    shown = page_of(page, script, "try_arrow", **PARTS)
    assert (
        "Cut it to 27 3/4 in" in shown
        and "gr complete" in shown
        and "Spine: a class of about" in shown
    )
    light = page_of(page, script, "try_arrow", **PARTS | {"point": "40", "shaft_gr_per_in": "5"})
    assert "Do not shoot it" in light
    assert "onto the rest" in page_of(page, script, "try_arrow", **PARTS | {"clearance": "1/8"})
    assert "Write the bare shaft" in page_of(page, script, "try_arrow", name="x")
    assert "How long is it" in page_of(page, script, "try_arrow", **PARTS | {"draw_length": ""})


def test_the_bow_is_set_up_for_the_arrow_that_was_put_together(page, script):
    checked_in(script)
    assert "draw_length" in page_of(page, script, "arrow")
    assert post(page, "write_arrow", script.job, **PARTS).status_code == 302
    details = ThingOnBow.objects.get(thing=ARROW).details
    assert details["name"] == "New 400" and details["spine"] == "400"
    arrow = script.state().on_bow.arrow
    assert abs(arrow.mass_gr - (8.6 * 27.35 + 125 + 20 + 9 + 18)) < 0.1
    assert arrow.length_in == 27.75 and 0.05 < arrow.forward_of_centre < 0.2


def test_what_else_was_known_of_the_arrow_stays(page, script):
    checked_in(script)
    script.on_the_bow("arrow", **OWN_ARROW | {"nock_in": "1/4"})
    post(page, "write_arrow", script.job, **PARTS | {"name": OWN_ARROW["name"]})
    details = script.state().on_bow.of(ARROW)
    assert details["nock_in"] == 0.25 and details["point_gr"] == 125


def test_a_figure_that_no_arrow_has_is_refused_and_nothing_is_lost(page, script):
    checked_in(script)
    for wrong in (
        {"point": "9000"},
        {"point": "abc"},
        {"shaft_in": ""},
        {"name": ""},
        {"length": "3"},
    ):
        answer = post(page, "write_arrow", script.job, **PARTS | wrong)
        assert answer.status_code == 422 and 'value="8.6"' in answer.content.decode(), wrong
    assert not ThingOnBow.objects.filter(thing=ARROW).exists()


def test_a_set_is_sorted_and_labelled(page, script):
    checked_in(script)
    assert post(page, "write_set", script.job, **rows(carbon={0: "creaks"})).status_code == 302
    shown = page_of(page, script, "arrow_set")
    assert (
        "Shoot together: 2, 3, 5, 6, 7, 8" in shown or "Shoot together: 2, 3, 4, 5, 6, 7" in shown
    )
    assert "Broken, do not shoot them" in shown
    post(page, "write_set", script.job, **rows(name="Old six"))
    both = page_of(page, script, "arrow_set")
    assert "?name=Spring%20dozen" in both and "?name=Old%20six" in both
    label = page_of(page, script, "set_label", name="Spring dozen")
    assert "Spring dozen" in label and "400.3" in label
    assert (
        page.get(reverse("set_label", args=[script.job.pk]), {"name": "no such"}).status_code == 404
    )


def test_a_set_with_a_mistake_says_which_and_keeps_nothing(page, script):
    checked_in(script)
    twice = rows() | {"arrows-1-number": "1"}
    for wrong in (twice, rows((400.0,)), rows(name=""), rows((5.0, 400.0)), {"name": "x"}):
        answer = post(page, "write_set", script.job, **wrong)
        assert answer.status_code == 422
        if "arrows-1-mass" in wrong:
            assert f'value="{wrong["arrows-1-mass"]}"' in answer.content.decode()
    assert not ArrowSet.objects.exists()


def test_a_record_that_holds_no_arrows_breaks_no_page(page, script):
    checked_in(script)
    post(page, "write_set", script.job, **rows())
    row = ArrowSet.objects.get()
    ArrowSet.objects.create(job=row.job, seq=row.seq, by=row.by, name="Odd", arrows=[{"number": 1}])
    assert "Odd" not in page_of(page, script, "arrow_set")
