"""What must hold between the facts, and that a broken rule is found."""

import io

import pytest
from django.core.management import call_command
from django.core.management.base import CommandError
from django.db import IntegrityError, connection, transaction

from shop.demo.saltgate import fill_rack
from shop.schema.accounts.models import Member
from shop.schema.audit.models import Event
from shop.schema.bows.models import Part
from shop.schema.jobs.models import Hold, Job
from shop.schema.measurements.models import Reading, Sheet
from shop.setup.invariants import broken_rules


def rules():
    return {one.rule for one in broken_rules()}


@pytest.fixture
def job(script):
    script.check_in(["replace_cable_a", "back_to_spec"])
    script.inspect()
    script.baseline()
    script.replace("cable_a", 0.02)
    return script.job


def test_everything_holds_on_the_whole_demo(floor):
    fill_rack()
    assert broken_rules() == []
    told = io.StringIO()
    call_command("verify", stdout=told)
    assert "10 of 10 rules hold" in told.getvalue()


def test_a_fact_without_its_event_is_found(job, ines):
    sheet = Sheet.objects.filter(job=job).first()
    fact = {"job": job, "seq": 9999, "by": ines, "sheet": sheet, "quantity": "tiller", "tool": "square",
            "value": 0}  # fmt: skip
    with pytest.raises(IntegrityError), transaction.atomic():
        Reading.objects.create(**fact)
    with connection.cursor() as cursor:  # as somebody at the server can
        cursor.execute("SET foreign_key_checks = 0")
        Reading.objects.create(**fact)
        cursor.execute("SET foreign_key_checks = 1")
    assert "every fact has its event in the log" in rules()
    with pytest.raises(SystemExit):
        call_command("verify", stdout=io.StringIO())


def test_a_version_that_skips_is_found(job):
    Job.objects.filter(pk=job.pk).update(version=10**6)
    assert rules() == {"a job's version counts its events"}


def test_a_fact_by_somebody_else_is_found(job, tomas):
    event = Event.objects.filter(job=job, verb="read").first()
    sheet = Sheet.objects.filter(job=job).first()
    other = next(m for m in Member.objects.all() if m != event.by)
    Reading.objects.create(job=job, seq=event.seq, by=other, sheet=sheet, quantity="tiller",
                           tool="square", value=0)  # fmt: skip
    assert rules() == {"a fact is by whoever made its event"}


def test_a_part_fitted_twice_and_a_hold_half_lifted_are_found(job, ines):
    fitted = Part.objects.filter(bow=job.bow, role="string", state=Part.FITTED).get()
    fitted.pk = None
    fitted.save()
    Hold.objects.create(job=job, kind="set", reason="x", placed_by=ines, lifted_by=ines)
    assert rules() == {
        "a bow has one fitted part of a role", "a hold is lifted with a name and a time",
    }  # fmt: skip


def test_the_first_person_is_made_from_the_command_line(db):
    told = io.StringIO()
    call_command("create_user", "Nil", stdout=told)
    word = told.getvalue().split("Password: ")[1].strip()
    assert Member.objects.get(username="nil").check_password(word)
    with pytest.raises(CommandError, match="taken"):
        call_command("create_user", "nil", stdout=told)
