"""Lengths as people say them, against Python's own fractions and decimals."""

from decimal import Decimal
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from bowcore.errors import Unreadable
from bowcore.quantities.inches import as_mixed, parse_inches, say_inches

WHOLE = st.integers(0, 99)
DIVISION = st.sampled_from([2, 4, 8, 16, 32, 64])


@st.composite
def mixed(draw):
    bottom = draw(DIVISION)
    return draw(WHOLE), draw(st.integers(1, bottom - 1)), bottom


@given(mixed(), st.sampled_from([" ", "-", "  "]), st.sampled_from(["", '"', " in", "″"]))
def test_a_mixed_number_is_the_fraction_it_says(parts, joint, unit):
    whole, top, bottom = parts
    said = parse_inches(f"{whole}{joint}{top}/{bottom}{unit}")
    assert said.value == whole + Fraction(top, bottom)


@given(st.decimals(0, 99, places=3))
def test_a_decimal_is_exact(value: Decimal):
    assert parse_inches(str(value)).value == Fraction(value)


@given(st.integers(1, 2000))
def test_millimetres_by_the_international_inch(mm):
    # 1 in = 25.4 mm exactly: international yard and pound agreement, 1959
    assert parse_inches(f"{mm} mm").value == Fraction(mm * 10, 254)
    assert parse_inches(f"{mm} cm").value == Fraction(mm * 100, 254)


@given(mixed())
def test_what_is_said_reads_back(parts):
    whole, top, bottom = parts
    value = whole + Fraction(top, bottom)
    assert parse_inches(say_inches(value, 64)).value == value


@given(st.fractions(0, 50), DIVISION)
def test_display_is_within_half_a_division(value, denominator):
    shown = as_mixed(value, denominator)
    exact = shown.whole + Fraction(shown.top, shown.bottom)
    assert abs(exact - value) <= Fraction(1, 2 * denominator) + Fraction(1, 10**5)


@pytest.mark.parametrize(
    ("text", "value", "wording"),
    [
        # a quarter of the tool's division either way: common practice, no published source
        ("6 1/2+", Fraction(13, 2) + Fraction(1, 64), "over"),
        ("6 1/2-", Fraction(13, 2) - Fraction(1, 64), "under"),
        ("just shy of 7", 7 - Fraction(1, 64), "under"),
        ("just over 6 1/2", Fraction(13, 2) + Fraction(1, 64), "over"),
        ("33,06", Fraction(3306, 100), ""),
        ("6½", Fraction(13, 2), ""),
        ("33⁄64", Fraction(33, 64), ""),
        ("840 mm", Fraction(8400, 254), ""),
        (".5", Fraction(1, 2), ""),
    ],
)
def test_the_ways_people_write_it(text, value, wording):
    said = parse_inches(text)
    assert (said.value, said.wording, said.raw) == (value, wording, text)


@pytest.mark.parametrize(
    ("text", "word"),
    [
        ("", "no number"),
        ("7 3/0", "zero below the line"),
        ("33 1/3", "no 3ths"),
        ("33 17/16", "whole inch or more"),
        ("-3", "negative"),
        ("about six", "write it as"),
        ("0-", "less than nothing"),
        ("33 1/16 ft", "write it as"),
    ],
)
def test_what_is_not_understood_is_said(text, word):
    with pytest.raises(Unreadable) as caught:
        parse_inches(text)
    assert word in str(caught.value)
    assert caught.value.raw == text


@given(st.text(max_size=12))
def test_any_text_is_read_or_refused_never_a_crash(text):
    try:
        assert parse_inches(text).value >= 0
    except Unreadable as error:
        assert error.raw == text.strip()
