"""Shots as CSV: what is written is read back; a line that cannot be used refuses the file and is named."""

import csv
import io

import pytest

from bowcore.errors import BadInput
from bowcore.evidence.shots import ShaftKind, Shot, ShotTest
from bowcore.stages.speed.shots_file import SHOT_COLUMNS, read_shots_file, write_shots_file
from bowcore.stages.speed.speed_strings import SpeedShot

SHOTS = (
    Shot(7, ShotTest.PAPER, 3, -0.25, 0.5, arrow="A 3", shooter="S. Lindqvist", good=False),
    Shot(7, ShotTest.WALK_BACK, 25, 1.5, 0.25, ShaftKind.FLETCHED),
    Shot(7, ShotTest.BARE_SHAFT, 20, -2.0, 0.0, ShaftKind.BARE),
)
SPEEDS = (SpeedShot(7, 281.0, 412.0, "Own"), SpeedShot(7, 279.5, 412.0, "Own", 1.375, False))


def as_text(rows, delimiter=","):
    target = io.StringIO()
    writer = csv.DictWriter(target, SHOT_COLUMNS, delimiter=delimiter)
    writer.writeheader()
    writer.writerows(rows)
    return target.getvalue()


@pytest.mark.parametrize("delimiter", [",", ";"])
def test_what_is_written_is_read_back(delimiter):
    found = read_shots_file(as_text(write_shots_file(SHOTS, SPEEDS), delimiter), 7)
    assert found.shots == SHOTS and found.speeds == SPEEDS


def test_paper_is_shot_from_three_yards_where_nobody_says():
    found = read_shots_file("test,x_in,y_in\npaper,0.25,-0.5\n", 3)
    assert found.shots[0].distance_yd == 3 and found.shots[0].kind is ShaftKind.FLETCHED


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("a,b\n1,2\n", "no column test"),
        ("test,x_in,y_in\n", "no shots"),
        ("test,x_in,y_in\npaper,abc,0\n", "Line 2: x_in: 'abc' is not a number"),
        ("test,x_in,y_in\npaper,nan,0\n", "Line 2: x_in"),
        ("test,x_in,y_in\npaper,0,0\nhoops,0,0\n", "Line 3: test: 'hoops'"),
        ("test,x_in,y_in,called\npaper,0,0,fine\n", "called: 'fine'"),
        ("test,x_in,y_in\nfrench,0,0\n", "distance_yd"),
        ("test,x_in,y_in\npaper,900,0\n", "not on the sheet"),
        ("test,speed_fps,mass_gr\nchronograph,9000,400\n", "Line 2: Speed: 9000 fps"),
        ("test,speed_fps\nchronograph,281\n", "mass_gr"),
        ("test,x_in,y_in\n" + "paper,0,0\n" * 501, "More shots"),
    ],
)
def test_a_line_that_cannot_be_used_refuses_the_file(text, says):
    with pytest.raises(BadInput, match=says):
        read_shots_file(text, 1)
