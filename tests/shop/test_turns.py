"""Few heavy pages at a time; light ones and the health checks do not wait for them."""

import threading

import pytest
from django.http import HttpResponse
from django.test import RequestFactory
from django.urls import resolve

from shop.ui import turns


@pytest.fixture
def ask():
    """A page of an address, asked for in a thread; it ends when `go` is set."""
    go, at_work = threading.Event(), threading.Semaphore(0)

    def page(request):
        turn.process_view(request, None, (), {})
        at_work.release()
        go.wait(10)
        return HttpResponse()

    turn = turns.InTurn(page)

    def asked(path):
        request = RequestFactory().get(path)
        request.resolver_match = resolve(path)
        thread = threading.Thread(target=turn, args=(request,))
        thread.start()
        return thread

    asked.go, asked.at_work = go, at_work
    yield asked
    go.set()


def test_light_pages_go_on_while_all_turns_are_taken(ask):
    heavy = [ask("/jobs/1/baseline/") for _ in range(turns.HEAVY_AT_ONCE + 2)]
    for _ in range(turns.HEAVY_AT_ONCE):
        assert ask.at_work.acquire(timeout=5)
    assert not ask.at_work.acquire(timeout=0.1)  # the others wait
    light = [ask(path) for path in ("/", "/health/ready", "/jobs/1/log/")]
    for _ in light:
        assert ask.at_work.acquire(timeout=5)
    ask.go.set()
    for thread in (*heavy, *light):
        thread.join(5)
        assert not thread.is_alive()


def test_a_page_that_fails_gives_its_turn_back():
    def fails(request):
        turn.process_view(request, None, (), {})
        raise ValueError

    turn = turns.InTurn(fails)
    for _ in range(turns.HEAVY_AT_ONCE + 1):  # would wait for ever otherwise
        request = RequestFactory().get("/book/")
        request.resolver_match = resolve("/book/")
        with pytest.raises(ValueError):
            turn(request)
