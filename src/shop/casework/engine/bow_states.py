"""The bow on the bench as its twin sees it: what decides it, and the key under which its answer is kept."""

from bowcore.bow.specification import BowSpec
from bowcore.evidence.facts import Facts
from shop.casework.engine.computing import Readings
from shop.casework.engine.priors import fingerprint

FITTED_TO = (
    "axle_to_axle", "brace_height", "draw_length", "peak_weight", "holding_weight", "stop_gap",
)  # fmt: skip


def readings_of(facts: Facts) -> Readings:
    """What is fresh and known to the twin: value and uncertainty."""
    found: Readings = {}
    for name in FITTED_TO:
        now = facts.current(name)
        if now and now.fresh and now.summary:
            found[name] = (round(now.summary.value, 4), round(now.summary.sigma, 4))
    return found


def state_key(spec: BowSpec, facts: Facts) -> str:
    """Alike for the same bow with the same fresh readings, where the same parts are not the suspect because
    nobody touched them."""
    return f"bow-{fingerprint(spec, readings_of(facts), facts.untouched)}"
