"""What is on record stays: every append-only table refuses a change and a deletion by itself."""

import pytest
from django.apps import apps
from django.db import DatabaseError, connection, transaction

from bowcore.bow.cam_radii import CamRadii
from shop.casework.readings.actions.keep_curve import curve_from_board
from shop.casework.submissions import say_what_was_done
from shop.demo.job_script import JobScript
from shop.demo.saltgate import fill_rack
from shop.schema.audit.models import AppendOnly, Event
from shop.schema.book.models import EntryVersion
from shop.schema.customers.models import Customer
from shop.schema.inspection.models import Photo
from shop.schema.tuning.models import FlatSheet
from shop.stages.back_to_spec.actions.measure_cam import measure_cam
from shop.stages.string_set.actions import move_over

pytestmark = pytest.mark.django_db
PERMANENT = [Event, EntryVersion, *(m for m in apps.get_models() if issubclass(m, AppendOnly))]


@pytest.fixture
def full_shop(floor, ines, submission):
    """Every table has a row."""
    fill_rack()
    script = JobScript(Customer.objects.create(name="R. Okafor"), 99, 3)
    script.check_in(["back_to_spec"])
    script.inspect()
    script.baseline()
    curve_from_board(script.job.pk, submission(ines, script.job))
    measure_cam(script.job.pk, submission(ines, script.job), CamRadii(1.46, 0.64, 0.53))
    move_over(script.job.pk, submission(ines, script.job), ["peep"], "")
    photo = Photo.objects.create(
        job=script.job, seq=1, by=ines, about="limbs_top", jpeg=b"x", width=1, height=1
    )
    FlatSheet.objects.create(
        job=script.job, seq=1, by=ines, photo=photo, corners=[], wide_in=8.5, high_in=11, jpeg=b"x"
    )


def test_every_append_only_table_refuses_change_and_deletion(full_shop):
    assert len(PERMANENT) >= 14
    for model in PERMANENT:
        table = model._meta.db_table
        assert model.objects.exists(), f"{table} is empty, so its trigger was not tried"
        for sql in (f"UPDATE {table} SET id = id + 1000000", f"DELETE FROM {table}"):
            with pytest.raises(DatabaseError, match="append-only"), transaction.atomic():
                connection.cursor().execute(sql)


def test_an_event_says_once_what_was_done(full_shop):
    event = Event.objects.order_by("pk").first()
    assert event.summary
    with pytest.raises(DatabaseError, match="append-only"), transaction.atomic():
        say_what_was_done(event, "something else", "")


def test_every_fact_needs_its_event(full_shop):
    """The constraint is there for every table of facts, one that is made tomorrow too."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT TABLE_NAME FROM information_schema.KEY_COLUMN_USAGE WHERE REFERENCED_TABLE_NAME = "
            "'audit_event' AND COLUMN_NAME = 'seq' AND TABLE_SCHEMA = DATABASE()"
        )
        held = {name for (name,) in cursor.fetchall()}
    facts = {m._meta.db_table for m in apps.get_models() if issubclass(m, AppendOnly)}
    assert held == facts and len(facts) > 10
