"""What a customer asks for, and what each service needs: read before, set, fitted, written down.

A small job reads its own musts before and, after a change, what it has to reach; a whole one (a set, back to
spec) reads and reaches everything (common practice, no published source).
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from bowcore.adjusters.limb_bolt import BOLT_MARKS
from bowcore.bow.specification import (
    CABLE_A,
    CABLE_B,
    HARNESS_A,
    HARNESS_B,
    STRING,
    Family,
)
from bowcore.quantities.catalogue import FITTED_TO_SHOOT, LEANS, QUANTITIES, REQUIRED
from bowcore.quantities.changes import Change

TIMING, WEIGHT, DRAW_LENGTH = "stop_gap", "peak_weight", "draw_length"
_MODULES = ("module_top", "module_bottom")
ON_THE_STRING_FIRST = ("nock_to_peep", "nock_height", "loop_length")
"""What cannot be found again once the string is off."""


@dataclass(frozen=True)
class Service:
    """One thing that is asked for at the counter.

    Attributes
    ----------
    replaces : str
        Role of the part that it renews, "" for none.
    whole : bool
        The whole baseline is read before, and everything required is reached.
    reads : tuple of str
        Quantities that a small job reads before anything is loosened.
    marks : tuple of str
        What it writes down before.
    reaches : tuple of str
        Quantities that are fresh and inside before the bow goes back.
    fits : tuple of str
        Numbers of the fit that it sets; those that this bow does not have are left out.
    ties : Change, optional
        What is moved or tied anew whatever the numbers say, because that is what was asked for.
    hybrid_too : tuple of str
        What it reads and reaches besides where control and buss cable answer unlike.
    work : str
        The mark in which its work is written down, where it is done by hand and not measured.
    """

    key: str
    name: str
    replaces: str = ""
    whole: bool = False
    reads: tuple[str, ...] = ()
    marks: tuple[str, ...] = ()
    reaches: tuple[str, ...] = ()
    fits: tuple[str, ...] = ()
    ties: Change | None = None
    hybrid_too: tuple[str, ...] = ()
    work: str = ""

    def reads_on(self, family: Family) -> tuple[str, ...]:
        """What it reads before on a bow of that family."""
        return self.reads + (self.hybrid_too if family is Family.HYBRID else ())

    def reaches_on(self, family: Family) -> tuple[str, ...]:
        """What it reaches on a bow of that family."""
        return self.reaches + (self.hybrid_too if family is Family.HYBRID else ())


WHOLE_SET, SPARE_SET, SHOOT_IN, BACK_TO_SPEC = "whole_set", "spare_set", "shoot_in", "back_to_spec"
DRAW_WEIGHT, DRAW_LENGTH_SERVICE, INSPECTION_ONLY = "draw_weight", "draw_length", "inspection_only"
FIT, TIMING_CHECK, RECHECK = "fit", "timing_check", "recheck"
_AT_THE_LOOP = ("loop_length", "nock_height", "nock_gap")
_AT_THE_REST = ("centre_shot", "arrow_level", "front_back", "cord_up")
_TWO_MINUTES = ("axle_to_axle", "brace_height", WEIGHT, TIMING)
"""What shows in two minutes whether a bow is still as it was (common practice)."""


def _new_part(role: str, name: str) -> Service:
    return Service(f"replace_{role}", name, replaces=role, whole=True)


SERVICES = {
    one.key: one
    for one in (
        Service(WHOLE_SET, "Whole set: string, cables, yoke harnesses", whole=True),
        _new_part(STRING, "New string"),
        _new_part(CABLE_A, "New cable that the top cam takes up"),
        _new_part(CABLE_B, "New cable that the bottom cam takes up"),
        _new_part(HARNESS_A, "New yoke harness of the top cam's cable"),
        _new_part(HARNESS_B, "New yoke harness of the bottom cam's cable"),
        Service(SPARE_SET, "Spare set put on", whole=True),
        Service(BACK_TO_SPEC, "Back to spec", whole=True),
        Service(TIMING_CHECK, "Cam timing", reads=(TIMING,), reaches=(TIMING,)),
        Service("lean", "Cam lean", reads=(*LEANS, TIMING), reaches=(*LEANS, TIMING)),
        Service(DRAW_WEIGHT, "Draw weight", reads=(WEIGHT,), marks=BOLT_MARKS["both"],
                reaches=(WEIGHT,), hybrid_too=(TIMING,)),
        Service(DRAW_LENGTH_SERVICE, "Draw length", reads=(DRAW_LENGTH, TIMING), marks=_MODULES,
                reaches=(DRAW_LENGTH, TIMING)),
        Service(
            "peep", "Peep", reads=("nock_to_peep",), fits=("nock_to_peep", "peep_turn"), ties=Change.PEEP
        ),
        Service("loop", "Loop and nock", reads=_AT_THE_LOOP[:2], fits=_AT_THE_LOOP,
                ties=Change.LOOP_OR_TIES),
        Service("rest", "Rest and centre shot", reads=("centre_shot",), fits=_AT_THE_REST),
        Service("sight", "Sight and its axes", work="work_sight"),
        Service(FIT, "Fit: nock, peep, loop, rest, centre shot",
                reads=(*ON_THE_STRING_FIRST, "nock_to_kisser", "centre_shot"), fits=FITTED_TO_SHOOT),
        Service(SHOOT_IN, "Shoot in and tune", reads=(WEIGHT, TIMING), reaches=(TIMING,)),
        Service("arrow_cut", "Arrows cut", work="work_arrow_cut"),
        Service("accessory", "Accessory put on", work="work_accessory"),
        Service("complaint", "Something is off", whole=True),
        Service("new_build", "New bow set up", whole=True, fits=FITTED_TO_SHOOT),
        Service(RECHECK, "Recheck", reads=(*_TWO_MINUTES, "nock_to_peep"), reaches=_TWO_MINUTES),
        Service(INSPECTION_ONLY, "Inspection only"),
    )
}  # fmt: skip
"""In the order of the counter."""
WORK_MARKS = tuple(one.work for one in SERVICES.values() if one.work)


def _asked(services: Iterable[str]) -> list[Service]:
    return [SERVICES[key] for key in services if key in SERVICES]


def say_asked(services: Iterable[str], labels: Mapping[str, str]) -> list[str]:
    """What was asked for, in words; a new part by its own name on this bow.

    Parameters
    ----------
    services : iterable of str
        Keys of services.
    labels : mapping of str to str
        The name of each part by its role.
    """
    return [
        f"New {labels[one.replaces].lower()}" if one.replaces in labels else one.name
        for one in _asked(services)
    ]


def asked_for(services: Iterable[str], roles: Iterable[str]) -> list[str]:
    """What was asked for, a whole set written out as the parts that this bow has."""
    found: list[str] = []
    for key in services:
        whole = (
            [service_replacing(role).key for role in roles] if key in (WHOLE_SET, SPARE_SET) else []
        )
        found += [*whole, BACK_TO_SPEC] if whole else [key]
        found += [SPARE_SET] if key == SPARE_SET else []
    return list(dict.fromkeys(found))


def is_whole(services: Iterable[str]) -> bool:
    """Whether the whole bow is read and brought back to spec."""
    return any(one.whole for one in _asked(services))


def is_small(services: Iterable[str]) -> bool:
    """Whether only a part of the bow is set: the rest is named, and left."""
    return not is_whole(services)


def reads_of(services: Iterable[str], family: Family) -> tuple[str, ...]:
    """Quantities that small services read before, in the order of work."""
    return _in_order(key for one in _asked(services) for key in one.reads_on(family))


def reaches_of(services: Iterable[str], family: Family) -> tuple[str, ...]:
    """Quantities that services have to reach besides those of the fit, in the order of work."""
    asked = _asked(services)
    found = [key for one in asked for key in one.reaches_on(family)]
    found += REQUIRED if any(one.whole for one in asked) else ()
    return _in_order(found)


def fits_of(services: Iterable[str]) -> frozenset[str]:
    """Numbers of the fit that services set."""
    return frozenset(key for one in _asked(services) for key in one.fits)


def marks_of(services: Iterable[str]) -> tuple[str, ...]:
    """What small services write down before."""
    return tuple(dict.fromkeys(key for one in _asked(services) for key in one.marks))


def works_of(services: Iterable[str]) -> tuple[Service, ...]:
    """Services whose work is done by hand and written down."""
    return tuple(one for one in _asked(services) if one.work)


def ties_of(services: Iterable[str]) -> tuple[Service, ...]:
    """Services that tie or move something whatever the numbers say."""
    return tuple(one for one in _asked(services) if one.ties)


def parts_to_replace(services: Iterable[str]) -> tuple[str, ...]:
    """Roles of the parts that services renew, in their order."""
    return tuple(one.replaces for one in _asked(services) if one.replaces)


def service_replacing(role: str) -> Service:
    """The service that renews a part."""
    return next(one for one in SERVICES.values() if one.replaces == role)


def _in_order(keys: Iterable[str]) -> tuple[str, ...]:
    wanted = set(keys)
    return tuple(key for key in QUANTITIES if key in wanted)
