"""Robot technicians take whole jobs from check-in to their end; a dozen here, thousands in `bench/robot.py`.

A run that breaks a rule prints its acts and the seed that replays it.
"""

import pytest

from tests.robot.page import read_page
from tests.robot.player import CLUMSY, HASTY, HONEST, Player
from tests.robot.rules import check_page

pytestmark = pytest.mark.django_db
PLAYED = (
    (HONEST, "timing_check", "Pilot 33", 1), (HASTY, "draw_weight", "Lark 31", 2),
    (HONEST, "draw_length", "Quill 34", 3), (HASTY, "loop", "Sarn 35", 4),
    (HONEST, "lean", "Heron 29", 5), (HASTY, "peep", "Pilot 33", 6),
    (HONEST, "shoot_in", "Lark 31", 7), (HASTY, "whole_set", "Lark 31", 8),
    (HONEST, "replace_cable_b", "Sarn 35", 9), (CLUMSY, "rest", "Quill 34", 10),
    (CLUMSY, "recheck", "Lark 31", 11), (CLUMSY, "arrow_cut", "Sarn 35", 12),
)  # fmt: skip
MOST_ACTS_OF_SMALL = 30


@pytest.mark.parametrize(("style", "service", "model", "seed"), PLAYED)
def test_a_robot_takes_a_job_to_its_end(client, floor, style, service, model, seed):
    story = Player(client, seed, style, [service], model).play()
    assert story.ended and not story.broken, str(story)
    if service not in ("whole_set", "replace_cable_b", "shoot_in") and style != CLUMSY:
        assert len(story.acts) <= MOST_ACTS_OF_SMALL, str(story)


class Answer:
    status_code = 200

    def __init__(self, body):
        self.content = body.encode()


def test_the_robot_minds_a_page_without_a_next_act_and_what_is_unfinished():
    page = "<div id='screen'><div data-version='3'><main><h1>Next</h1><p>{}</p></main></div></div>"
    quiet = read_page(Answer(page.format("All is well.")), "/jobs/1/")
    loud = read_page(Answer(page.format("Twist None half.")), "/jobs/1/")
    assert [one.rule for one in check_page(quiet, None)] == ["every page of a job has one next act"]
    assert "nothing unfinished is shown" in [one.rule for one in check_page(loud, None)]


def test_the_robot_sees_buttons_that_stand_outside_their_form():
    body = """<form id='a' method='post' action='/jobs/1/paper/looked-at/'>
      <input type='hidden' name='key' value='k'><input type='hidden' name='suspect' value='hand'></form>
      <button form='a' name='found' value='on'>Found</button><button form='a' data-next>Not found</button>"""
    page = read_page(Answer(body), "/jobs/1/paper/")
    assert page.main.words == "Not found" and page.main.form.value("suspect") == "hand"
    assert [act.button for act in page.acts] == [("found", "on"), None]
