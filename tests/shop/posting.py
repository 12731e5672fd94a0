"""Posts as the screens make them: with a new key, the version that was seen, and counted rows."""

import uuid

from django.urls import reverse

from shop.schema.jobs.models import Job


def post(client, address, job, *more, **data):
    """Post to a job's named address; `more` are the address's further parts."""
    submission = {"key": uuid.uuid4(), "seen": Job.objects.get(pk=job.pk).version}
    return client.post(reverse(address, args=[job.pk, *more]), submission | data)


def rows(prefix, given):
    """The fields of a formset, from one mapping a row."""
    fields = {f"{prefix}-TOTAL_FORMS": len(given), f"{prefix}-INITIAL_FORMS": 0}
    for number, row in enumerate(given):
        fields |= {f"{prefix}-{number}-{name}": value for name, value in row.items()}
    return fields


def line(quantity, **typed):
    """The fields of one line of readings."""
    return {"line": quantity} | {f"{quantity}-{name}": value for name, value in typed.items()}


def lines(**typed):
    """The fields of several lines of readings: a text each, or a text and a direction."""
    fields = {"line": list(typed)}
    for quantity, one in typed.items():
        text, direction = one if isinstance(one, tuple) else (one, "")
        fields |= {f"{quantity}-text": text, f"{quantity}-direction": direction}
    return fields


def turned(**steps):
    """The fields of a form of steps, by adjuster."""
    return rows("turn", [{"adjuster": key, "steps": count} for key, count in steps.items()])


def set_tool(client, tool, state):
    """Make a simulated tool behave in some way."""
    data = {"key": uuid.uuid4(), "seen": 0, "tool": tool, "state": state}
    return client.post(reverse("tools"), data)


def supplied(**sources):
    """The fields of an order: where each part comes from, by role."""
    return rows("supply", [{"role": role, "source": kind} for role, kind in sources.items()])
