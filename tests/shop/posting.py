"""Posts as the screens make them: stamped with a fresh key and the version that was seen."""

import uuid

from django.urls import reverse

from shop.jobs.models import Job


def post(client, address, job, *more, **data):
    """Post to a job's named address; `more` are the address's further parts."""
    stamped = {"key": uuid.uuid4(), "seen": Job.objects.get(pk=job.pk).version}
    return client.post(reverse(address, args=[job.pk, *more]), stamped | data)
