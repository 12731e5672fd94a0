"""No page asks for what is not there: Django would print nothing, and nobody would see it."""

import re

import pytest
from django.template import engines

from shop.demo.job_script import JobScript
from shop.schema.customers.models import Customer
from tests.robot.player import HASTY, HONEST, Player

pytestmark = pytest.mark.django_db
MISSING = re.compile(r"@@([^@]{1,60})@@")
EMPTY_AT_FIRST = {
    "found_for", "typed.text", "typed.other", "form.not_done.value", "form.wishes.value", "form.draws.value",
    "form.value.value", "row.band.because",
}  # fmt: skip
"""What was typed and refused, and what a number has only once it is judged."""


@pytest.fixture
def missing(client, monkeypatch):
    """Every name that a page asked for and did not find."""
    monkeypatch.setattr(engines["django"].engine, "string_if_invalid", "@@%s@@")
    found, request = set(), client.request

    def noted(**environ):
        answer = request(**environ)
        if not answer.streaming:
            found.update(MISSING.findall(answer.content.decode(errors="replace")))
        return answer

    monkeypatch.setattr(client, "request", noted)
    return found


@pytest.mark.parametrize(
    ("style", "service", "model", "seed"),
    [(HONEST, "draw_length", "Quill 34", 3), (HASTY, "shoot_in", "Lark 31", 7)],
)
def test_no_page_of_a_job_asks_for_what_is_not_there(
    client, floor, missing, style, service, model, seed
):
    story = Player(client, seed, style, [service], model).play()
    JobScript(Customer.objects.create(name="R. Okafor"), 0, 3).check_in(["back_to_spec"])
    for address in ("/", "/book/", "/sets/", "/shop/"):
        client.get(address)
    assert story.acts and missing - EMPTY_AT_FIRST == set()
