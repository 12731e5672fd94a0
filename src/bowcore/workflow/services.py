"""What a customer asks for."""

from collections.abc import Iterable
from dataclasses import dataclass

from bowcore.mechanics.specification import CABLE_A, CABLE_B, HARNESS_A, HARNESS_B, STRING


@dataclass(frozen=True)
class Service:
    """One thing that is asked for at the counter; `replaces` is the role of the part it renews."""

    key: str
    name: str
    replaces: str = ""


BACK_TO_SPEC, TIMING_CHECK, RECHECK = "back_to_spec", "timing_check", "recheck"
FIT, PEEP_OR_LOOP, NEW_BUILD = "fit", "peep_or_loop", "new_build"
FIT_SERVICES = frozenset({FIT, PEEP_OR_LOOP, NEW_BUILD})
"""Those that ask for the fit, whatever was replaced."""
SHOOT_IN = "shoot_in"
WHOLE_SET = "whole_set"
SERVICES = {
    one.key: one
    for one in (
        Service(WHOLE_SET, "Whole set: string, cables, yoke harnesses"),
        Service("replace_cable_a", "New cable that the top cam takes up", CABLE_A),
        Service("replace_cable_b", "New cable that the bottom cam takes up", CABLE_B),
        Service("replace_string", "New string", STRING),
        Service("replace_harness_a", "New yoke harness of the top cam's cable", HARNESS_A),
        Service("replace_harness_b", "New yoke harness of the bottom cam's cable", HARNESS_B),
        Service(BACK_TO_SPEC, "Back to spec"),
        Service(TIMING_CHECK, "Timing check, two minutes"),
        Service("draw_length", "Draw length"),
        Service("draw_weight", "Draw weight"),
        Service(FIT, "Fit: nock, peep, loop, rest, centre shot"),
        Service(PEEP_OR_LOOP, "Peep or loop"),
        Service(SHOOT_IN, "Shoot in through paper"),
        Service("complaint", "Something is off"),
        Service(NEW_BUILD, "New bow set up"),
        Service(RECHECK, "Recheck"),
    )
}


CHECKED = ("axle_to_axle", "brace_height", "stop_gap")
"""All that a timing check reads (common practice)."""


def asked_for(services: Iterable[str], roles: Iterable[str]) -> list[str]:
    """What was asked for, a whole set written out as the parts that this bow has."""
    found: list[str] = []
    for key in services:
        whole = [service_replacing(role).key for role in roles] if key == WHOLE_SET else []
        found += [*whole, BACK_TO_SPEC] if whole else [key]
    return list(dict.fromkeys(found))


def only_checked(services: Iterable[str]) -> bool:
    """Whether the bow is only looked at: a timing check by itself."""
    return set(services) == {TIMING_CHECK}


def parts_to_replace(services: Iterable[str]) -> tuple[str, ...]:
    """Roles of the parts that services renew, in their order."""
    return tuple(SERVICES[key].replaces for key in services if SERVICES[key].replaces)


def service_replacing(role: str) -> Service:
    """The service that renews a part."""
    return next(one for one in SERVICES.values() if one.replaces == role)
