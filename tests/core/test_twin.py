"""The twin: it meets its book, conserves energy, and answers as the trade says it does."""

import json
from dataclasses import replace
from random import Random

import numpy as np
import pytest
from scipy.integrate import simpson

from bowcore.bow.fit import fit, peak_of
from bowcore.bow.outline import outline
from bowcore.bow.specification import BowSpec, Family
from bowcore.bow.twin import Changes, build_twin, twin_from_json, twin_to_json, twins_of
from bowcore.errors import BadInput, NoModel
from tests.core.bows import TWO_CAMS, answered, book, twin_of

ALL = tuple(Family)
STEP = 0.0157  # half a twist in a cable of 24 strands at 0.6 twists per inch [in]


@pytest.mark.parametrize("family", ALL)
def test_it_meets_its_book(family):
    spec, measures = book(family), twin_of(family).measures()
    assert measures["axle_to_axle"] == pytest.approx(spec.axle_to_axle_in, abs=2e-3)
    assert measures["brace_height"] == pytest.approx(spec.brace_height_in, abs=1e-4)
    # draw length = throat to string at full draw + 1 3/4 in (the archery trade's standard, from memory)
    assert measures["draw_length"] == pytest.approx(spec.draw_length_in, abs=1e-4)
    assert measures["peak_weight"] == pytest.approx(spec.peak_weight_lbf, abs=0.05)
    # let-off = 1 - holding / peak (ASTM F1880's definition, from memory)
    let_off = 1 - measures["holding_weight"] / measures["peak_weight"]
    assert let_off == pytest.approx(spec.let_off, abs=1e-3)
    assert measures["stop_gap"] == pytest.approx(0, abs=1e-6)


@pytest.mark.parametrize("family", ALL)
def test_stored_energy_is_the_area_under_the_curve(family):
    # work of the draw = energy in limbs and ropes; the area by SciPy's Simpson rule
    twin = twin_of(family)
    xs, force = twin.curve(401)
    assert simpson(force, x=xs) == pytest.approx(twin.stored_energy_inlbf(), rel=1e-4)


@pytest.mark.parametrize("family", ALL)
def test_no_rope_is_ever_slack_and_the_nock_path_is_level(family):
    twin = twin_of(family)
    state = twin.at(np.linspace(twin.brace_height_in, twin.x_full, 30))
    assert (state.tension > 0).all()
    assert np.abs(state.q[:, 5]).max() < 1 / 64
    assert twin.stable


@pytest.mark.parametrize("family", ALL)
def test_plausible_books_converge(family):
    """A few of each family here; bench/speed.py runs the whole grid."""
    rng = Random(4)
    for n in range(6):
        let_off = rng.uniform(0.6, 0.7) if family is Family.TWIN else rng.uniform(0.65, 0.85)
        spec = BowSpec(f"{family} {n}", family, rng.uniform(28, 38), rng.uniform(5.5, 7.5),
                       rng.uniform(25, 31), rng.uniform(40, 80), let_off)  # fmt: skip
        measures = build_twin(spec).measures()
        assert measures["axle_to_axle"] == pytest.approx(spec.axle_to_axle_in, abs=0.01)
        assert measures["peak_weight"] == pytest.approx(spec.peak_weight_lbf, abs=0.1)


def test_a_batch_gives_the_same_bows_as_one_by_one():
    books = [book(Family.BINARY), book(Family.BINARY, axle_to_axle_in=31, peak_weight_lbf=52)]
    together = twins_of(Family.BINARY, books)
    for spec, twin in zip(books, together, strict=True):
        alone = build_twin(spec).measures()
        assert twin.measures() == pytest.approx(alone, abs=1e-4)


@pytest.mark.parametrize("family", ALL)
def test_it_goes_through_json_unchanged(family):
    twin = twin_of(family)
    back = twin_from_json(book(family), json.loads(json.dumps(twin_to_json(twin))))
    assert back.measures() == pytest.approx(twin.measures(), abs=1e-9)
    with pytest.raises(NoModel):
        twin_from_json(book(family), {"q": "nonsense"})


def moved(family, **changes):
    """What a change does to every measure, solved anew: not the linear response."""
    twin = twin_of(family)
    after, before = twin.changed(Changes(**changes)).measures(), twin.measures()
    return {name: after[name] - before[name] for name in before}


# The signs below are facts of the trade: common practice, no published source.


@pytest.mark.parametrize("family", ALL)
def test_a_shorter_cable_is_heavier_shorter_and_higher_at_brace(family):
    change = moved(family, shorter={"cable_b": STEP})
    assert change["peak_weight"] > 0
    assert change["axle_to_axle"] < 0
    assert change["brace_height"] > 0


@pytest.mark.parametrize("family", ALL)
def test_a_shorter_string_raises_the_brace_and_shortens_draw_and_bow(family):
    change = moved(family, shorter={"string": 0.0104})
    assert change["brace_height"] > 0
    assert change["draw_length"] < 0
    assert change["axle_to_axle"] < 0


@pytest.mark.parametrize("family", TWO_CAMS)
def test_shortening_its_take_up_cable_makes_a_cam_later(family):
    assert moved(family, shorter={"cable_a": STEP})["stop_gap"] > 0
    assert moved(family, shorter={"cable_b": STEP})["stop_gap"] < 0


@pytest.mark.parametrize("family", TWO_CAMS)
def test_the_leading_cams_cable_in_closes_the_gap(family):
    behind = twin_of(family).changed(Changes({"cable_a": -2 * STEP}))
    assert behind.stop_gap_in < 0  # a long top cable: the top cam leads
    closed = behind.changed(Changes({"cable_a": STEP}))
    assert abs(closed.stop_gap_in) < abs(behind.stop_gap_in)


@pytest.mark.parametrize("family", TWO_CAMS)
def test_the_cables_act_oppositely_on_the_gap_and_the_string_not(family):
    a = moved(family, shorter={"cable_a": STEP})["stop_gap"]
    b = moved(family, shorter={"cable_b": STEP})["stop_gap"]
    assert a * b < 0
    assert a == pytest.approx(-b, rel=0.15)
    assert moved(family, shorter={"string": 0.01})["stop_gap"] == pytest.approx(0, abs=1e-5)


def test_on_a_hybrid_both_cables_together_move_weight_without_timing():
    both = moved(Family.HYBRID, shorter={"cable_a": STEP, "cable_b": STEP})
    one = moved(Family.HYBRID, shorter={"cable_a": STEP})
    assert abs(both["stop_gap"]) < 0.2 * abs(one["stop_gap"])
    assert both["peak_weight"] > 0


@pytest.mark.parametrize("family", ALL)
def test_limb_bolts_out_make_it_lighter(family):
    change = moved(family, bolts_out=(1.0, 1.0))
    assert -4.5 < change["peak_weight"] < -2


def test_a_full_twist_moves_the_gap_by_what_shops_have_seen():
    # 1/32 to 1/3 in for a full twist (common practice, no published source)
    for family in TWO_CAMS:
        full = moved(family, shorter={"cable_a": 2 * STEP})["stop_gap"]
        assert 1 / 32 <= full <= 1 / 3


def test_the_gap_agrees_with_the_closed_form_of_two_radii():
    twin = twin_of(Family.BINARY)
    tracks, state = twin.machine.tracks, twin.full_draw
    from bowcore.bow.tracks import evaluate

    alpha, psi = state.q[0, 2], state.psi[0, 2]
    take = float(evaluate(tracks["take_t"][0], np.array(psi - alpha))[0])
    let = float(evaluate(tracks["let_b"][0], np.array(np.pi - psi - alpha))[0])
    closed = twin.spec.peg_radius_in * 0.01 / (take + let)
    assert moved(Family.BINARY, shorter={"cable_a": 0.01})["stop_gap"] == pytest.approx(
        closed, rel=0.05
    )


@pytest.mark.parametrize("family", ALL)
def test_the_linear_response_is_that_of_the_equilibrium(family):
    response, _ = answered(family)
    step = response.adjusters[response.column("cable_b")].length_step_in
    truth = moved(family, shorter={"cable_b": step / 8})
    for name in ("axle_to_axle", "brace_height", "peak_weight"):
        assert response.per_step(name, "cable_b") == pytest.approx(8 * truth[name], rel=0.08)
    gap = response.per_step("stop_gap", "cable_b")
    assert gap == pytest.approx(8 * truth["stop_gap"], rel=0.05)
    # a shorter cable makes its cam later: the bottom stop stays open, the one cam short of its mark
    assert gap < 0


def test_a_limb_stop_stops_the_draw_too():
    spec = replace(book(Family.BINARY), limb_stop=True)
    twin = build_twin(spec)
    assert twin.measures()["draw_length"] == pytest.approx(29, abs=1e-3)
    later = twin.changed(Changes({"cable_a": STEP}))
    assert later.stop_gap_in > 0


def test_a_later_stop_is_a_longer_draw_and_a_measured_peg_is_used():
    twin = twin_of(Family.BINARY)
    assert twin.changed(Changes(stop_later_rad=0.03)).draw_length_in > twin.draw_length_in
    wide = build_twin(replace(book(Family.BINARY), peg_radius_in=1.8))
    narrow = build_twin(replace(book(Family.BINARY), peg_radius_in=1.2))
    change = Changes({"cable_a": STEP})
    ratio = wide.changed(change).stop_gap_in / narrow.changed(change).stop_gap_in
    assert ratio == pytest.approx(1.5, rel=0.02)


def test_measured_radii_set_the_gap():
    spec = replace(
        book(Family.BINARY), take_up_radius_in=0.9, let_out_radius_in=0.7, radii_measured=True
    )
    gap = build_twin(spec).changed(Changes({"cable_a": 0.01})).stop_gap_in
    assert gap == pytest.approx(spec.peg_radius_in * 0.01 / 1.6, rel=0.08)


def test_an_unknown_part_is_refused():
    with pytest.raises(BadInput, match="does not have a 'cable_a'"):
        twin_of(Family.SINGLE).changed(Changes({"cable_a": 0.01}))


def test_the_peak_is_refined_between_samples():
    xs = np.linspace(0, 2, 21)
    force = 60 - 30 * (xs - 1.03) ** 2
    assert peak_of(force[None])[0] == pytest.approx(60, abs=1e-6)


def test_numbers_that_make_no_bow_are_refused_in_words():
    with pytest.raises(NoModel, match=r"let-off|fit together|slack"):
        fit(Family.TWIN, [replace(book(Family.TWIN), axle_to_axle_in=49, draw_length_in=18.1,
                                  brace_height_in=8, let_off=0.94)])  # fmt: skip


@pytest.mark.parametrize("family", ALL)
def test_the_drawing_is_the_computation(family):
    """Straight pieces touch their tracks, end where they should, and sum to what the ropes need."""
    twin = twin_of(family)
    state = twin.full_draw
    drawn = outline(twin, state)
    for side in (0, 1):
        pivot, axle = np.array(drawn["limbs"][side])
        assert np.hypot(*(axle - pivot)) == pytest.approx(twin.machine.limb_radius[0])
    ends = [piece[1] for name in ("string_u", "string_l") for piece in drawn["ropes"][name][:1]]
    for end in ends:
        assert end == pytest.approx(drawn["nock"])
    for side, name in enumerate(("string_u", "string_l")):
        start, end = np.array(drawn["ropes"][name][0])
        track = np.array(drawn["tracks"]["idler" if family is Family.SINGLE and side == 0 else
                                         ("string_t", "string_b")[side]])  # fmt: skip
        assert np.hypot(*(track - start).T).min() < 0.15  # the contact lies on the drawn line
        along = (end - start) / np.hypot(*(end - start))
        offset = (track - start) @ np.array([-along[1], along[0]])
        assert abs(offset).min() < 0.1
        inside = np.sign(np.median(offset))  # the line only touches the track
        assert (inside * offset > -0.02).all()


def test_a_module_and_a_moved_nock():
    wider = moved(Family.BINARY, take_up_wider_in=0.03)
    assert wider["axle_to_axle"] == pytest.approx(0, abs=0.01)  # given along at brace
    assert abs(wider["peak_weight"]) > 0.2
    up = twin_of(Family.BINARY).changed(Changes(nock_up_in=0.125))
    assert up.at(np.array([20.0])).q[0, 5] > 0.05
    assert moved(Family.BINARY, nock_up_in=0.125)["peak_weight"] == pytest.approx(0, abs=0.2)


def test_forces_at_fixed_marks_are_smoother_than_the_peak():
    """Their doubt over plausible bows is smaller than the peak's: plan on them where a curve is."""
    response, _ = answered(Family.TWIN)
    column = response.column("string")
    doubt = {
        name: response.sigma[response.quantities.index(name), column]
        for name in ("peak_weight", "force_early", "force_late")
    }
    assert min(doubt["force_early"], doubt["force_late"]) < doubt["peak_weight"]


def test_served_ends_do_not_wind():
    from bowcore.bow.bundle import Bundle

    bare, served = Bundle(36, 24, 20), Bundle(36, 24, 20, served_in=10)
    assert served.shortening_in(1) > bare.shortening_in(1)  # the same twists in fewer inches
    assert served.length_at_in(20) == pytest.approx(36)
    with pytest.raises(BadInput):
        Bundle(36, 24, 20, served_in=36)


def test_cams_that_would_run_from_each_other_are_flagged():
    """Twins come near it as let-off rises; the flag falls before the model does."""
    calm = twin_of(Family.TWIN)
    nervous = build_twin(book(Family.TWIN, let_off=0.82))
    assert nervous.softest_share() < calm.softest_share()
    assert calm.stable
    assert not nervous.stable


def test_what_a_curve_says():
    twin = twin_of(Family.BINARY)
    assert twin.let_off == pytest.approx(0.8, abs=1e-3)
    assert 0 < twin.valley_in() < 2
    assert twin.nock_travel_in() == pytest.approx(0, abs=1e-6)  # symmetric
    assert 0 < twin_of(Family.HYBRID).nock_travel_in() < 1 / 32
