"""Hostile values in every field of every post: an answer in words, never a server error."""

import random
import re
import uuid

import pytest
from django import forms
from django.urls import get_resolver, reverse

from bowcore.stages.course import STEPS
from shop.casework.action_view import ActionView
from shop.casework.forms import RowsForm
from shop.schema.jobs.models import Job

HOSTILE = [
    "", " ", "x" * 400, "9" * 12, "9" * 5000, "²", "-1", "1e309", "NaN", "inf", "None", "0", "1/0", "31 1/4",
    "<script>", "\x00", "💥", "'; DROP TABLE jobs_job; --", "on", "cable_a", "string", "axle_to_axle",
    "stop_gap", "top", "2020-01-01", "9999-12-31", "[]", '{"a": {}}', "../..", "true", "limb_bolts",
]  # fmt: skip


def posts():
    """Every address that takes a post of an action, with its form; found, not listed."""
    found = []
    for pattern in _patterns(get_resolver().url_patterns):
        view = getattr(pattern.callback, "view_class", None)
        if view is not None and issubclass(view, ActionView):
            found.append((pattern.name, view, sorted(pattern.pattern.converters)))
    return sorted(found, key=lambda one: one[0])


def _patterns(patterns):
    for one in patterns:
        if hasattr(one, "url_patterns"):
            yield from _patterns(one.url_patterns)
        else:
            yield one


POSTS = posts()


def fields_of(form_class):
    """Names of a form's fields; of one with rows, those of two rows too."""
    names = [n for n in form_class.base_fields if n not in ("key", "seen")]
    if issubclass(form_class, RowsForm):
        prefix = form_class.prefix_of_rows
        names += [
            f"{prefix}-{n}-{name}" for n in (0, 1) for name in form_class.row_form.base_fields
        ]
        names += [f"{prefix}-TOTAL_FORMS", f"{prefix}-INITIAL_FORMS"]
    return names


def test_every_action_is_found():
    assert len(POSTS) > 35 and all(issubclass(v.form_class, forms.Form) for _, v, _ in POSTS)


def bring_to(script, view):
    """A job at the stage whose form it is, so that the act itself is reached."""
    stage = view.__module__.split("shop.")[-1]
    shot = stage.startswith(tuple(f"stages.{one}." for one in SHOT))
    script.check_in(["shoot_in"] if shot else ["replace_cable_a", "back_to_spec"])
    script.inspect()
    if shot or stage.startswith(IN_THE_PRESS):
        script.baseline()
    if stage.startswith(IN_THE_PRESS):
        script.replace("cable_a", 0.0, gate=False)


SHOT = ("fit", "paper", "butt", "speed", "arrow", "stabiliser", "hand_over")
IN_THE_PRESS = ("stages.replace", "stages.back_to_spec")


PLAIN = [
    pattern
    for pattern in _patterns(get_resolver().url_patterns)
    if getattr(pattern, "name", None) and pattern.name not in {name for name, *_ in POSTS}
]
"""Every other address; one that takes no post says so."""
WITHOUT_A_FORM = ["shop", "answer", "login", "token", "file", "why", "username", "password", "next"]
FIELD = re.compile(r'name="([^"]+)"')


@pytest.mark.django_db
@pytest.mark.parametrize("pattern", PLAIN, ids=[pattern.name for pattern in PLAIN])
def test_no_plain_address_ends_in_a_server_error(page, script, pattern):
    rng = random.Random(pattern.name)
    script.check_in(["back_to_spec"])
    script.inspect()
    page.raise_request_exception = False
    known = {"job_id": script.job.pk, "entry_id": script.job.bow.entry_id, "step": "baseline",
             "bow_id": script.job.bow_id, "customer_id": script.job.bow.customer_id}  # fmt: skip
    wants = pattern.pattern.converters
    address = reverse(pattern.name, kwargs={key: known.get(key, 1) for key in wants})
    shown = page.get(address)
    assert shown.status_code < 500
    typed = "text/html" in shown.get("Content-Type", "") and not shown.streaming
    fields = {*WITHOUT_A_FORM, *(FIELD.findall(shown.content.decode()) if typed else [])}
    for _ in range(6):
        data = {name: rng.choice(HOSTILE) for name in sorted(fields - {"csrfmiddlewaretoken"})}
        assert page.post(address, data).status_code < 500, (address, data)
        assert page.get(address, data).status_code < 500, (address, data)


@pytest.mark.django_db
@pytest.mark.parametrize(("name", "view", "wants"), POSTS, ids=[one[0] for one in POSTS])
def test_no_value_ends_in_a_server_error(page, script, name, view, wants):
    rng = random.Random(name)
    bring_to(script, view)
    steps = [step.key for step in STEPS]
    page.raise_request_exception = False
    for _ in range(12):
        known = {"job_id": script.job.pk, "step": rng.choice(steps), "hold_id": 1, "reading_id": 1,
                 "entry_id": 1, "bow_id": 1, "adjustment_id": 1, "photo_id": 1,
                 "customer_id": 1, "member_id": 1}  # fmt: skip
        address = reverse(name, kwargs={key: known[key] for key in wants})
        seen = Job.objects.get(pk=script.job.pk).version
        data = {field: rng.choice(HOSTILE) for field in fields_of(view.form_class)}
        counts = {key: 2 for key in data if key.endswith("TOTAL_FORMS")}
        answer = page.post(address, data | counts | {"key": uuid.uuid4(), "seen": seen})
        assert answer.status_code < 500, (address, data)
