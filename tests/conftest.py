"""What all tests share: an open shop, people, and a job to work through."""

import uuid

import pytest
from django.db import connection
from django.db.backends.mysql.operations import DatabaseOperations

from shop.casework.submissions import Submission
from shop.demo.job_script import JobScript
from shop.demo.saltgate import open_shop
from shop.schema.accounts.models import Member
from shop.schema.customers.models import Customer
from shop.schema.jobs.models import Job
from shop.schema.tenancy.here import every_shop

_plain_flush = DatabaseOperations.sql_flush


def _flush_by_truncating(self, style, tables, *, reset_sequences=False, allow_cascade=False):
    """Append-only tables refuse DELETE; between tests they are emptied by TRUNCATE instead."""
    return _plain_flush(self, style, tables, reset_sequences=True, allow_cascade=allow_cascade)


DatabaseOperations.sql_flush = _flush_by_truncating


@pytest.fixture(autouse=True)
def of_every_shop():
    """A test looks into the records of all shops, as a command does; a request sees its own."""
    with every_shop():
        yield


@pytest.fixture
def floor(db):
    """The demo's shop, people and book, without jobs."""
    open_shop()
    return connection


@pytest.fixture
def ines(floor):
    return Member.objects.get(username="ines")


@pytest.fixture
def tomas(floor):
    return Member.objects.get(username="tomas")


@pytest.fixture
def pia(floor):
    return Member.objects.get(username="pia")


@pytest.fixture
def script(floor):
    """A job being worked through by the manager, on a simulated bow."""
    return JobScript(Customer.objects.create(name="R. Okafor"), 0, 3)


@pytest.fixture
def submission():
    """A new submission of someone who has seen the job's newest version."""

    def make(member, job=None, seen=None):
        version = Job.objects.get(pk=job.pk).version if job else 0
        return Submission(member, uuid.uuid4(), version if seen is None else seen)

    return make


@pytest.fixture
def page(client, ines):
    """The manager's browser, without a screen."""
    client.force_login(ines)
    return client
