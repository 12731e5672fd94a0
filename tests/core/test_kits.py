"""Kits as data: shims left and right of a cam, spacer sizes, draw modules."""

import pytest

from bowcore.adjusters.shim import shim_positions, shim_total
from bowcore.adjusters.spacer import spacer_positions
from bowcore.bow.bundle import spacer_shortening_in
from bowcore.bow.kits import ShimKit, read_kits, read_pair, read_sizes
from bowcore.bow.modules import module_for, read_modules
from bowcore.errors import BadInput, BowcoreError
from tests.core.bows import KITS

WRITTEN = """thin: .105/.145, .125/.125, .145/.105
thick: .065/.185, .185/.065"""


def test_kits_are_read_as_they_are_written_down():
    thin, thick = read_kits(WRITTEN)
    assert thin == ShimKit("thin", ((0.105, 0.145), (0.125, 0.125), (0.145, 0.105)))
    assert thick.pairs[0] == (0.065, 0.185)
    assert read_kits("") == ()


def test_the_wider_spacer_on_the_right_puts_the_cam_to_the_left():
    assert shim_total(0.105, 0.145) == 40 == -shim_total(0.145, 0.105)
    ways = shim_positions(KITS)
    assert [way.total for way in ways] == [-120, -80, -40, -20, 0, 20, 40, 80, 120]
    assert ways[-1].words == "left 0.065, right 0.185 (thick)" and ways[-1].effort == 2


@pytest.mark.parametrize(
    "text",
    ["thin .1/.2", ": .1/.2", "thin: .1", "thin: a/b", "thin: .1/.2, .1/.3", "thin:", "x: 2/2"],
)
def test_what_is_no_kit_is_refused_in_words(text):
    with pytest.raises(BadInput, match=r"kit|pair"):
        read_kits(text)


def test_a_pair_is_left_before_right():
    assert read_pair(" .110 / .140 ") == (0.11, 0.14)
    with pytest.raises(BadInput, match="left / right"):
        read_pair(".110")


def test_spacers_pull_with_the_square_of_their_size():
    """Halves spread by D over a length l shorten by about D^2 / 4l: a triangle, no published source."""
    ways = {way.words: way.total for way in spacer_positions((1 / 16, 1 / 8), 1.0)}
    assert ways["no spacer"] == 0
    assert ways["one 1/8 in spacer"] == pytest.approx(4 * ways["one 1/16 in spacer"], abs=2)
    assert ways["two 1/8 in spacers"] == 2 * ways["one 1/8 in spacer"]
    assert ways["one 1/8 in spacer"] == round(spacer_shortening_in(1 / 8, 1.0) * 1e4)
    assert spacer_positions((), 1.0) == ()


def test_of_two_ways_alike_the_one_with_fewer_spacers_stays():
    totals = [way.total for way in spacer_positions((1 / 8, 0.1768), 1.0)]
    assert len(totals) == len(set(totals))
    one = next(way for way in spacer_positions((1 / 8, 0.1768), 1.0) if "one 11/64" in way.words)
    assert one.effort < 16


def test_sizes_are_read_in_the_benchs_ways():
    assert read_sizes("1/8, 1/16") == (0.0625, 0.125)
    assert read_sizes("") == ()
    for wrong in ("1", "0", "thick"):
        with pytest.raises(BowcoreError):
            read_sizes(wrong)


def test_the_module_for_a_draw_is_found_by_its_length_or_its_range():
    modules = read_modules("A 26, B 27 1/2, S 28 to 30")
    assert module_for(modules, 27.4).name == "B"
    assert module_for(modules, 29.0).words() == "S, 28 to 30 in"
    assert module_for(modules, 26.7) is None and module_for((), 27) is None
    assert read_modules("") == ()


@pytest.mark.parametrize("text", ["A", "A long", "A 3", "A 30 to 28", "holes 1 to 5, 25 to 30"])
def test_what_is_no_module_is_refused_in_words(text):
    with pytest.raises(BadInput, match=r"module|draw length"):
        read_modules(text)


def test_a_width_is_known_by_its_colour_or_letter():
    (kit,) = read_kits("thin: .105 black/.145 white, .125/.125")
    assert kit.marked == ((0.105, "black"), (0.145, "white"))
    assert kit.say_pair(0.105, 0.145) == "left black 0.105, right white 0.145 (thin)"
    assert kit.say_pair(0.125, 0.125) == "left 0.125, right 0.125 (thin)"
