"""A force-draw curve from a file, and what it says on its own, against NumPy and the twin."""

import numpy as np
import pytest

from bowcore.bow.fit import DRAW_LENGTH_OFFSET_IN
from bowcore.bow.specification import Family
from bowcore.errors import BadInput
from bowcore.measurement.curve_file import MOST_POINTS, read_curve, summary_of
from tests.core.bows import twin_of

HEAD = "draw_length_in,force_lbf\n"
RISE = [(10 + n, f) for n, f in enumerate((0, 12, 25, 38, 50, 58, 60, 60, 55, 40, 20, 12))]


def as_csv(points, head=HEAD, between=","):
    return head.replace(",", between) + "".join(f"{x}{between}{f}\n" for x, f in points)


def test_order_other_columns_and_a_spreadsheets_marks_do_not_matter():
    plain = read_curve(as_csv(RISE))
    assert plain == [(float(x), float(f)) for x, f in RISE]
    assert read_curve("\ufeff" + as_csv(RISE[::-1])) == plain
    other = "note;force_lbf;draw_length_in\n" + "".join(f"a;{f},0;{x},0\n" for x, f in RISE)
    assert read_curve(other) == plain


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("force_lbf\n1\n", "draw_length_in"),
        (as_csv(RISE[:6]), "8 to"),
        (as_csv([*RISE, (12, 26)]), "one position"),
        (as_csv(RISE).replace("60", "sixty"), "Line 8"),
        (as_csv(RISE).replace("60", "nan"), "Line 8"),
        (as_csv([(x, x) for x in range(10, 20)]), "falls"),
        (as_csv([(x, -f) for x, f in RISE]), "force outside 0 to 120"),
        (as_csv([(1e4 * x, f) for x, f in RISE]), "draw length outside 4 to 36"),
        (as_csv([(25.4 * x, f) for x, f in RISE]), "in inches"),
        (as_csv([(n / 100, 1) for n in range(MOST_POINTS + 1)]), "8 to"),
    ],
)
def test_what_is_no_curve_is_refused_with_its_line_or_reason(text, said):
    with pytest.raises(BadInput, match=said):
        read_curve(text)


def test_energy_is_numpys_area_under_it():
    """Against numpy.trapezoid."""
    told = summary_of(RISE)
    xs, forces = np.array(RISE).T
    assert told.energy_ftlb == pytest.approx(np.trapezoid(forces, xs) / 12)
    assert (told.peak_lbf, told.holding_lbf, told.draw_length_in) == (60, 12, 21)
    assert told.let_off == pytest.approx(0.8)


@pytest.mark.parametrize("family", list(Family))
def test_the_area_under_a_twins_curve_is_the_energy_it_stores(family):
    """Conservation of energy: work of the draw against limbs and ropes, solved independently."""
    twin = twin_of(family)
    xs, force = twin.curve(200)
    points = [(float(x) + DRAW_LENGTH_OFFSET_IN, float(f)) for x, f in zip(xs, force, strict=True)]
    assert summary_of(points).energy_ftlb == pytest.approx(
        twin.stored_energy_inlbf() / 12, rel=0.01
    )
