"""Lengths in millimetres: said, typed, drawn; what is on file stays in inches."""

import pytest

from bowcore.bow.kits import read_sizes
from bowcore.bow.modules import read_modules
from bowcore.errors import Unreadable
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.quantities.entries import keypad_for, read_both, read_entry
from bowcore.quantities.inches import parse_inches, say_bare, say_inches, say_length
from bowcore.quantities.units import LengthUnit, length_unit, lengths_in
from bowcore.stages.back_to_spec.targets import book_bands
from tests.core.bows import book

ATA, GAP = QUANTITIES["axle_to_axle"], QUANTITIES["stop_gap"]


@pytest.fixture
def metric():
    with lengths_in(LengthUnit.MILLIMETRES):
        yield


def test_the_unit_is_put_back_even_after_an_error():
    with pytest.raises(Unreadable), lengths_in(LengthUnit.MILLIMETRES):
        parse_inches("x")
    assert length_unit() is LengthUnit.INCHES and say_length(1) == "1 in"


def test_a_plain_number_is_millimetres_and_a_fraction_is_of_an_inch(metric):
    """25.4 mm to the inch exactly: international yard and pound agreement, 1959."""
    assert float(parse_inches("254").value) == 10 and parse_inches("254").raw == "254 mm"
    assert float(parse_inches("31 1/4").value) == 31.25
    assert float(parse_inches("10 in").value) == float(parse_inches("25.4 cm").value) == 10
    over = parse_inches("254+")
    assert over.wording == "over" and over.value > 10


@pytest.mark.parametrize(
    ("inches", "denominator", "said"),
    [
        (31.25, 16, "794"),
        (1 / 32, 64, "0.8"),
        (0, 64, "0"),
        (6.6, 32, "167.5"),
        (-1 / 64, 64, "-0.4"),
    ],
)
def test_a_length_is_said_as_finely_as_it_was_read(metric, inches, denominator, said):
    assert say_bare(inches, denominator) == said
    assert say_length(inches, denominator) == f"{said} mm"


def test_what_is_typed_is_what_is_said(metric):
    entry = read_entry(ATA, "794")
    assert ATA.say(entry.value) == "794" and ATA.sign == "mm" and entry.raw == "794 mm"
    gap = read_entry(GAP, "1.5", "top")
    assert GAP.say(gap.value) == "bottom 1.5 mm open" and GAP.say_size(gap.value) == "1.5 mm"
    assert QUANTITIES["peak_weight"].sign == "lbf"
    tiller = read_both(QUANTITIES["tiller"], "181", "180")
    assert QUANTITIES["tiller"].say(tiller.value) == "top 1 mm longer"


def test_keys_are_millimetres(metric):
    assert "794" in keypad_for(ATA, 31.25).wholes and keypad_for(ATA, 31.25).parts == (".5",)
    assert keypad_for(GAP).parts[:3] == ("0", "0.5", "1")
    assert keypad_for(QUANTITIES["peak_weight"], 60.0).parts[1] == ".1"


def test_twists_bands_and_what_is_on_file_stay_what_they_are(metric):
    assert say_inches(1.5, 2) == "1 1/2"
    assert read_sizes("1/16, 0.25") == (0.0625, 0.25)
    assert read_modules("A 26, B 28 1/2")[1].low_in == 28.5
    assert book_bands(book("binary"))["stop_gap"].because.endswith("within 0.8 mm")
