"""Hostile values in every field of every post: an answer in words, never a server error."""

import random
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


@pytest.mark.django_db
@pytest.mark.parametrize(("name", "view", "wants"), POSTS, ids=[one[0] for one in POSTS])
def test_no_value_ends_in_a_server_error(page, script, name, view, wants):
    rng = random.Random(name)
    script.check_in(["replace_cable_a", "back_to_spec"])
    script.inspect()
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
