"""The cam by caliper on the screen: offered where it helps, written down once, used at once."""

import pytest
from django.db import DatabaseError, connection, transaction
from django.urls import reverse

from bowcore.bow.cam_radii import CamRadii
from bowcore.deciding.weighing import weigh
from bowcore.errors import Refused
from shop.book.selectors import spec_of
from shop.demo.scenes import to_plan, twin_to_plan
from shop.schema.accounts.models import Shop
from shop.schema.book.models import BookEntry, EntryVersion
from shop.schema.core_values import spec_now
from shop.schema.measurements.models import CamByCaliper
from shop.simulated.actions import set_tool
from shop.simulated.bench import bow_now
from shop.simulated.models import ToolBehaviour
from shop.stages.back_to_spec.actions.measure_cam import measure_cam
from tests.shop.posting import post

pytestmark = pytest.mark.django_db
FIELDS = ("peg_in", "take_up_in", "let_out_in")


def hybrid_to_plan(script, short_in=0.1):
    """A hybrid whose new cable is so much too short, read and ready for its plan."""
    script.check_in(["replace_cable_b", "back_to_spec"], model="Pilot 33")
    script.inspect()
    script.baseline()
    script.replace("cable_b", short_in)
    script.read_asked()
    script.read_until_sure()


def fragment(page, job):
    return " ".join(page.get(reverse("surer", args=[job.pk])).content.decode().split())


def screen(page, job, **query):
    return page.get(reverse("cam", args=[job.pk]), query).content.decode()


def by_caliper(script):
    """What is truly there."""
    return bow_now(script.state()).cam_radii()


def typed(radii):
    return {name: f"{getattr(radii, name):.3f}" for name in FIELDS}


def test_the_plan_offers_the_caliper_and_is_surer_once_the_cam_is_measured(page, script):
    hybrid_to_plan(script)
    assert "where the timing ends is then known to ±" in fragment(page, script.job)
    assert reverse("surer", args=[script.job.pk]) in page.get(
        reverse("step", args=[script.job.pk, "back_to_spec"])
    ).content.decode()  # fmt: skip
    before = script.state().advice
    bow = bow_now(script.state())
    answer = post(page, "measure_cam", script.job, **typed(by_caliper(script)))
    assert answer.status_code == 302
    sigma = weigh(script.state().advice.problem, before.plan.best.steps).predicted["stop_gap"][1]
    assert sigma < 0.8 * before.plan.best.predicted["stop_gap"][1]
    assert script.state().spec.cam_measured
    shown = fragment(page, script.job)
    assert "Cam by caliper: stop peg" in shown and "Measure it again" in shown
    now = bow_now(script.state())  # the simulated bow does not become another one
    assert now.true("stop_gap") == bow.true("stop_gap") and now.cam_radii() == bow.cam_radii()


def test_what_is_measured_serves_the_next_bow_of_the_model(page, script):
    hybrid_to_plan(script)
    radii = by_caliper(script)
    assert "One measure serves every bow" in screen(page, script.job)
    post(page, "measure_cam", script.job, **typed(radii))
    entry = BookEntry.objects.get(pk=script.job.bow.entry_id)
    assert float(entry.let_out_radius_in) == pytest.approx(radii.let_out_in, abs=0.001)
    assert spec_of(entry, 60.0, 29.0).cam_measured
    newest = EntryVersion.objects.filter(entry=entry).order_by("-pk")[0]
    assert "measured by caliper" in newest.why
    assert "One measure serves every bow" not in screen(page, script.job)
    wider = CamRadii(radii.peg_in * 1.05, radii.take_up_in, radii.let_out_in)
    post(page, "measure_cam", script.job, **typed(wider))
    again = BookEntry.objects.get(pk=entry.pk)
    assert again.peg_radius_in == entry.peg_radius_in, "what is in the book stays"
    assert spec_now(script.job).peg_radius_in == pytest.approx(wider.peg_in, abs=0.001)


def test_an_apprentice_measures_and_does_not_change_the_book(client, script, pia):
    hybrid_to_plan(script)
    client.force_login(pia)
    assert post(client, "measure_cam", script.job, **typed(by_caliper(script))).status_code == 302
    assert script.state().spec.cam_measured
    assert not BookEntry.objects.get(pk=script.job.bow.entry_id).peg_radius_in


def test_the_simulated_caliper_fills_the_fields_in(page, script, submission, ines):
    hybrid_to_plan(script)
    body = screen(page, script.job, from_tool=1)
    true = by_caliper(script)
    read = script.state()
    assert "Take what the caliper reads" in body
    values = [float(part.split('"')[0]) for part in body.split('value="')[1:] if part[1:2] == "."]
    assert values == pytest.approx([getattr(true, name) for name in FIELDS], rel=0.1)
    assert not read.spec.cam_measured
    set_tool("caliper", ToolBehaviour.UNPLUGGED, submission(ines))
    assert "Take what the caliper reads" not in screen(page, script.job)


@pytest.mark.parametrize(
    ("wrong", "says"),
    [
        ({"peg_in": "wide"}, "was not understood"),
        ({"peg_in": ""}, "required"),
        ({"take_up_in": "30"}, "Take-up arm: 30 in?"),
        ({"let_out_in": "-1"}, "was not understood"),
        ({"take_up_in": "2.9"}, "Take-up arm: 2.900, usual is 0.660"),
    ],
)
def test_what_no_cam_has_is_refused_and_nothing_typed_is_lost(page, script, wrong, says):
    hybrid_to_plan(script)
    given = typed(by_caliper(script)) | wrong
    answer = post(page, "measure_cam", script.job, **given)
    body = answer.content.decode()
    assert answer.status_code == 422 and says in body
    assert all(f'value="{text}"' in body for text in given.values() if text)
    assert not CamByCaliper.objects.exists()


def test_nothing_is_offered_where_the_gap_is_nearly_home(page, script):
    hybrid_to_plan(script, 0.02)
    assert script.state().advice.plan.best.presses
    assert fragment(page, script.job) == ""


def test_nothing_is_offered_where_the_book_has_the_radii(page, script):
    to_plan(script)
    assert fragment(page, script.job) == ""
    assert "by caliper: 1.460" in screen(page, script.job)


def test_on_twin_cams_there_is_nothing_to_measure(page, script, submission, ines):
    twin_to_plan(script)
    assert fragment(page, script.job) == ""
    assert "nothing to measure" in screen(page, script.job)
    with pytest.raises(Refused, match="do not decide the timing"):
        measure_cam(script.job.pk, submission(ines, script.job), CamRadii(1.5, 0.6, 0.5))


def test_a_bow_that_may_not_be_drawn_is_not_measured(page, script):
    hybrid_to_plan(script)
    given = typed(by_caliper(script))
    script.inspect(limbs_bottom=("stop", "lower limb, at the pocket"))
    answer = post(page, "measure_cam", script.job, **given)
    assert answer.status_code == 422
    assert "This bow is not drawn now" in screen(page, script.job)
    assert not CamByCaliper.objects.exists()


def test_a_measure_stays_on_record(page, script):
    hybrid_to_plan(script)
    post(page, "measure_cam", script.job, **typed(by_caliper(script)))
    row = CamByCaliper.objects.get()
    with pytest.raises(DatabaseError), transaction.atomic(), connection.cursor() as cursor:
        cursor.execute("UPDATE measurements_cambycaliper SET peg_in = 1 WHERE id = %s", [row.pk])
    assert "measured the cam by caliper" in page.get(
        reverse("log", args=[script.job.pk])
    ).content.decode()  # fmt: skip


def test_what_is_unlikely_is_kept_by_whoever_is_sure(page, script):
    hybrid_to_plan(script)
    given = typed(by_caliper(script)) | {"let_out_in": "1.4"}
    body = post(page, "measure_cam", script.job, **given).content.decode()
    assert "I am sure: keep it" in body
    assert post(page, "measure_cam", script.job, **given, sure="1").status_code == 302
    assert float(CamByCaliper.objects.get().let_out_in) == 1.4


def test_in_a_metric_shop_the_radii_are_typed_in_millimetres(page, script):
    hybrid_to_plan(script)
    radii = by_caliper(script)
    Shop.objects.update(lengths="millimetres")
    given = {name: f"{getattr(radii, name) * 25.4:.2f}" for name in FIELDS}
    assert "1 Stop peg, mm" in screen(page, script.job)
    assert post(page, "measure_cam", script.job, **given).status_code == 302
    assert CamByCaliper.objects.get().radii.peg_in == pytest.approx(radii.peg_in, abs=0.001)
    assert f"stop peg {given['peg_in']}" in fragment(page, script.job)
