"""A page that needs a bow's model does not wait for it: it says so and asks again."""

from concurrent.futures import Future

import pytest
from django.core.cache import caches
from django.urls import reverse

from shop.casework import state
from shop.casework.engine import heavy, priors
from shop.casework.engine.kept_answers import CACHE
from shop.casework.engine.models import ModelPrior
from shop.demo.job_script import JobScript
from shop.rack import selectors
from shop.schema.customers.models import Customer


class Beside:
    """The process beside, as slow as the test wants it."""

    def __init__(self):
        self.asked = []

    def submit(self, function, *arguments):
        future = Future()
        self.asked.append((future, function, arguments))
        return future

    def finish(self):
        for future, function, arguments in self.asked:
            future.set_result(function(*arguments))


@pytest.fixture
def forget(settings, monkeypatch):
    """From now on nobody has computed any model, and a serving process has another beside it."""

    def forgotten():
        ModelPrior.objects.all().delete()
        for kept in (priors._kept, priors._drawn):
            kept.cache_clear()
        for kept in (priors._MOVES, selectors._KEPT, state._ESTIMATES):
            kept.clear()
        caches[CACHE].clear()
        settings.FENNOCK_COMPUTE = "beside"
        made = Beside()
        monkeypatch.setattr(heavy, "_pool", made)
        monkeypatch.setattr(heavy.connections, "close_all", lambda: None)
        return made

    return forgotten


@pytest.fixture
def beside(script, forget):
    """A bow whose model nobody has computed."""
    script.check_in(["back_to_spec"])
    script.inspect()
    script.baseline()
    return forget()


def plan(script):
    return reverse("step", args=[script.job.pk, "back_to_spec"])


def test_the_plan_says_that_it_is_under_way_and_comes_when_it_is_there(page, script, beside):
    for _ in range(3):
        answer = page.get(plan(script))
        assert answer.status_code == 200 and "is being computed" in answer.content.decode()
        assert answer["Refresh"] and "hx-get" not in answer.content.decode().split("<main")[1]
    boosted = page.get(plan(script), headers={"HX-Request": "true", "HX-Boosted": "true"})
    assert "?waits=" in boosted.content.decode() and "Refresh" not in boosted
    assert len(beside.asked) == 1  # however often it is asked
    beside.finish()
    assert ModelPrior.objects.count() == 1
    assert "is being computed" not in page.get(plan(script)).content.decode()


def test_the_rack_shows_the_others_and_says_which_bows_are_under_way(page, script, forget):
    script.check_in(["replace_cable_a", "back_to_spec"])
    script.inspect()
    script.baseline()
    script.replace("cable_a", 0.12)
    script.read_asked()
    script.follow_plan()
    script.read_until_sure()
    other = JobScript(Customer.objects.create(name="K. Aydin"), 1, 2)
    other.check_in(["back_to_spec"])
    beside = forget()
    body = page.get(reverse("rack")).content.decode()
    assert "K. Aydin" in body and "cannot be shown" not in body
    held = body.split("Being computed, here in a moment")[1].split("</p>")[0]
    assert "R. Okafor" in held and "K. Aydin" not in held
    beside.finish()
    body = page.get(reverse("rack")).content.decode()
    assert "Being computed" not in body and "R. Okafor" in body


def test_a_fragment_holds_its_own_place(page, script, beside):
    asked = {"HX-Request": "true", "HX-Target": "drawn"}
    body = page.get(plan(script), headers=asked).content.decode()
    assert "data-being-made" in body and "<html" not in body


def test_one_that_fails_is_an_error_and_not_a_place_held_for_ever(
    page, script, beside, monkeypatch
):
    page.raise_request_exception = False
    page.get(plan(script))
    beside.asked.pop()[0].set_exception(ValueError("no such bow"))

    def fails(*_):
        raise ValueError("no such bow")

    monkeypatch.setattr(heavy, "computed", fails)
    assert page.get(plan(script)).status_code == 500


def test_one_that_is_killed_is_begun_again(page, script, beside):
    page.get(plan(script))
    beside.asked.pop()[0].set_exception(heavy.BrokenProcessPool())
    page.get(plan(script))
    assert len(beside.asked) == 1
