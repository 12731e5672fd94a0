"""Adjusters: each kind whole in its module, its answer that of the mechanical model, Steps one type."""

import pytest

from bowcore.adjusters.adjuster import MOST_HALF_TWISTS, Needs
from bowcore.adjusters.registry import KINDS, adjuster_in, adjusters_of
from bowcore.adjusters.steps import NO_STEPS, Steps
from bowcore.bow.specification import Family
from bowcore.errors import BadInput
from bowcore.quantities.changes import Change
from bowcore.response.sensitivity import COMPUTED, twin_response
from bowcore.simulation.simulated_bow import simulated_bow
from tests.core.bows import KITS, book, twin_of

FULL = {
    Family.BINARY: book(Family.BINARY, shim_kits=KITS, spacers_in=(1 / 8,)),
    Family.HYBRID: book(Family.HYBRID, yokes=("cable_b",), nock_step_in=1 / 16),
    Family.TWIN: book(Family.TWIN, yokes=("cable_a", "cable_b")),
}


@pytest.mark.parametrize("family", FULL)
def test_keys_are_unique_and_every_part_has_its_adjuster(family):
    keys = [one.key for one in adjusters_of(FULL[family])]
    assert len(keys) == len(set(keys))
    assert {part.role for part in FULL[family].parts} <= set(keys)


@pytest.mark.parametrize("family", FULL)
def test_what_needs_no_press_is_the_bolts_and_the_nock_point(family):
    # common practice, no published source: strings, cables, legs, spacers and shims need it
    free = {one.change for one in adjusters_of(FULL[family]) if one.needs is Needs.NOTHING}
    assert free <= {Change.LIMB_BOLT, Change.LOOP_OR_TIES}
    assert Change.LIMB_BOLT in free


def test_an_unknown_adjuster_names_those_that_there_are():
    with pytest.raises(BadInput) as caught:
        adjuster_in(adjusters_of(FULL[Family.BINARY]), "cable_z")
    assert "cable_a" in caught.value.allowed


@pytest.mark.parametrize("family", FULL)
def test_a_simulated_bow_moves_as_the_response_says(family):
    """The bow solves its equilibrium anew; the response is linear: they agree for a small step."""
    spec = FULL[family]
    response, _ = twin_response(twin_of(family), adjusters_of(spec), [])
    for one in response.adjusters:
        if one.change is Change.LOOP_OR_TIES:
            continue  # the simulated bow has no nock point to move
        count = one.possible_steps(0, (-2, 2) if one.needs is Needs.NOTHING else None, 2)[-1]
        before, after = simulated_bow(spec, 3), simulated_bow(spec, 3)
        after.turn(Steps({one.key: count}))
        for name in ("axle_to_axle", "peak_weight", "stop_gap"):
            expected = count * response.per_step(name, one.key)
            moved = after.true(name) - before.true(name)
            if abs(expected) > 2e-3:
                assert moved * expected > 0, f"{one.key} moves {name} the other way"


@pytest.mark.parametrize("kind", KINDS)
def test_a_kind_knows_its_own_name(kind):
    assert KINDS[kind].kind == kind
    assert KINDS[kind].__doc__


def test_the_response_covers_what_the_twin_computes():
    assert set(COMPUTED) == set(twin_of(Family.BINARY).measures())


@pytest.mark.parametrize("family", FULL)
def test_offered_steps_go_from_in_to_out_and_stay_within_the_limit(family):
    class Fresh:
        marks = {"bolts_top": "2", "bolts_bottom": "2", "shims_top": "0.125/0.125",
                 "shims_bottom": "0.125/0.125"}  # fmt: skip
        most_bolt_turns = 8.0

        def net_steps(self, key):
            return 0

    for one in adjusters_of(FULL[family]):
        offered = one.offered(Fresh(), MOST_HALF_TWISTS)
        assert offered == sorted(offered, reverse=True)
        if one.twisted and not one.positions:
            assert max(map(abs, offered)) <= MOST_HALF_TWISTS


def test_steps_drop_zeros_and_keep_the_order_in_which_they_are_said():
    steps = Steps([("cable_b", 2), ("cable_a", 0), ("string", -1)])
    assert list(steps.items()) == [("cable_b", 2), ("string", -1)]
    assert steps.get("cable_a", 0) == 0 and len(steps) == 2 and not NO_STEPS


def test_steps_are_equal_whatever_their_order_and_can_be_keys():
    one, other = Steps({"a": 1, "b": 2}), Steps({"b": 2, "a": 1})
    assert one == other and hash(one) == hash(other)
    assert one == {"a": 1, "b": 2}


def test_steps_add_up_and_are_taken_back():
    first, second = Steps({"cable_a": 2, "string": 1}), Steps({"cable_a": -2, "cable_b": 3})
    assert first + second == Steps({"string": 1, "cable_b": 3})
    assert first + -first == NO_STEPS


@pytest.mark.parametrize("count", [0.5, "2", True, None])
def test_only_whole_numbers_are_steps(count):
    with pytest.raises(BadInput, match="not a number of steps"):
        Steps({"cable_a": count})


def test_steps_cannot_be_changed():
    with pytest.raises(TypeError):
        Steps({"cable_a": 1})["cable_a"] = 2
