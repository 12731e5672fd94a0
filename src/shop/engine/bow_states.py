"""The bow on the bench as its twin sees it: fitted to what was read, kept for all processes."""

from typing import Any

from django.db import transaction

from bowcore.mechanics.specification import BowSpec
from bowcore.workflow.facts import Facts
from shop.engine.computing import Readings, state_values
from shop.engine.heavy import computed
from shop.engine.models import BowState
from shop.engine.priors import fingerprint

FITTED_TO = (
    "axle_to_axle", "brace_height", "draw_length", "peak_weight", "holding_weight", "stop_gap",
)  # fmt: skip
KEPT = 500
"""States that are kept, the newest; an older one is computed again when it is asked for."""


def readings_of(facts: Facts) -> Readings:
    """What is fresh and known to the twin: value and uncertainty."""
    found: Readings = {}
    for name in FITTED_TO:
        now = facts.current(name)
        if now and now.fresh and now.summary:
            found[name] = (round(now.summary.value, 4), round(now.summary.sigma, 4))
    return found


def state_of(
    spec: BowSpec, readings: Readings, trusted: tuple[str, ...] = ()
) -> dict[str, Any] | None:
    """Frames and pattern of this bow, from the cache or computed; None if it does not make a twin.

    `trusted` names what nobody touched, which is not the suspect.
    """
    key = fingerprint(spec, readings, trusted)
    row = BowState.objects.filter(fingerprint=key).first()
    if row is None:
        values = {"data": computed(state_values, spec, readings, trusted)}
        with transaction.atomic():
            row = BowState.objects.get_or_create(fingerprint=key, defaults=values)[0]
        BowState.objects.filter(pk__lte=row.pk - KEPT).delete()
    found: dict[str, Any] | None = row.data
    return found
