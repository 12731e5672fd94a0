"""One post is one fact; a key that belongs to another post; who may do what, post by post."""

import uuid

import pytest
from django.urls import reverse

from bowcore.stages.course import STEPS
from bowcore.work_order.roles import MAY, StaffRole
from shop.schema.jobs.models import Job
from shop.schema.measurements.models import Reading
from tests.shop.posting import line
from tests.shop.test_hostile import POSTS

BETWEEN = {"start": "axle_centre", "end": "axle_centre"}


@pytest.fixture
def job(script):
    script.check_in(["back_to_spec"])
    script.inspect()
    return script.job


def read(page, job, text, key, seen=None):
    seen = Job.objects.get(pk=job.pk).version if seen is None else seen
    data = line("axle_to_axle", text=text, **BETWEEN) | {"key": key, "seen": seen}
    return page.post(reverse("take_readings", args=[job.pk, "baseline"]), data)


def test_the_same_post_twice_is_one_reading(page, job):
    key, seen = uuid.uuid4(), Job.objects.get(pk=job.pk).version
    assert read(page, job, "31 1/4", key, seen).status_code == 302
    assert read(page, job, "31 1/4", key, seen).status_code == 302
    assert Reading.objects.count() == 1


def test_another_value_under_a_used_key_is_shown_beside_what_was_saved(page, job):
    key = uuid.uuid4()
    read(page, job, "31 1/4", key)
    answer = read(page, job, "31 3/16", key)
    body = answer.content.decode()
    assert answer.status_code == 409 and Reading.objects.count() == 1
    assert "read axle to axle 31 1/4 in" in body and 'value="31 3/16"' in body
    assert str(key) not in body  # saved again, it is a fact of its own
    assert read(page, job, "31 3/16", uuid.uuid4()).status_code == 302
    assert Reading.objects.count() == 2


def test_a_key_of_another_job_is_not_taken_for_a_repeat(page, job, script):
    key = uuid.uuid4()
    read(page, job, "31 1/4", key)
    script.check_in(["back_to_spec"])
    script.inspect()
    assert read(page, script.job, "31 1/4", key).status_code == 409


def test_every_post_names_a_right():
    assert all(view.right in MAY for _, view, _ in POSTS)


FORBIDDEN = [
    (name, view, wants, role)
    for name, view, wants in POSTS
    for role in StaffRole
    if role not in MAY[view.right]
]


@pytest.mark.parametrize(
    ("name", "view", "wants", "role"), FORBIDDEN, ids=[f"{n}-{r}" for n, _, _, r in FORBIDDEN]
)
def test_who_may_not_is_told_so_and_nothing_happens(
    client, floor, job, ines, name, view, wants, role
):
    ines.memberships.update(role=role.value)
    client.force_login(ines)
    known = dict.fromkeys(wants, 1) | {"job_id": job.pk, "bow_id": job.bow_id, "step": STEPS[1].key}
    if "reading_id" in wants:
        pytest.skip("needs a reading, and everyone may correct one")
    before = Job.objects.get(pk=job.pk).version
    answer = client.post(reverse(name, kwargs={key: known[key] for key in wants}), {})
    assert answer.status_code == 422 and "That needs a" in answer.content.decode()
    assert Job.objects.get(pk=job.pk).version == before


def test_an_apprentice_may_not_take_in_a_set_fit_or_set_tools():
    names = {name for name, _, _, role in FORBIDDEN if role is StaffRole.APPRENTICE}
    assert {"set_arrived", "fit_curve", "tools", "hand_over", "leave_it"} <= names
