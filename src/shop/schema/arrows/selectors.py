"""Questions about sets of arrows."""

from typing import Any

from bowcore.accessories.arrow_build import CarbonState, SetArrow
from bowcore.errors import BadInput
from shop.schema.arrows.models import ArrowSet
from shop.schema.jobs.models import Job


def arrow_sets_of(job: Job) -> list[ArrowSet]:
    """The customer's sets by name, each as it was weighed last, the newest first."""
    rows = ArrowSet.objects.filter(job__bow__customer=job.bow.customer_id)
    newest: dict[str, ArrowSet] = {}
    for row in rows.order_by("-pk"):
        if arrows_in(row):
            newest.setdefault(row.name, row)
    return list(newest.values())


def arrows_in(row: ArrowSet) -> list[SetArrow]:
    """The arrows of a set; none where a record from elsewhere holds what no arrow is."""
    found: Any = row.arrows
    try:
        return [
            SetArrow(
                str(one["number"]),
                float(one["mass_gr"]),
                float(one["spine"]),
                CarbonState(one["carbon"]),
            )
            for one in found
        ]
    except (BadInput, KeyError, TypeError, ValueError):
        return []
