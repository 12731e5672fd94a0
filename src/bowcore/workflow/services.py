"""What a customer asks for."""

from collections.abc import Iterable
from dataclasses import dataclass

from bowcore.mechanics.specification import CABLE_A, CABLE_B, STRING


@dataclass(frozen=True)
class Service:
    """One thing that is asked for at the counter; `replaces` is the role of the part it renews."""

    key: str
    name: str
    replaces: str = ""


BACK_TO_SPEC = "back_to_spec"
SERVICES = {
    one.key: one
    for one in (
        Service("replace_cable_a", "New cable that the top cam takes up", CABLE_A),
        Service("replace_cable_b", "New cable that the bottom cam takes up", CABLE_B),
        Service("replace_string", "New string", STRING),
        Service(BACK_TO_SPEC, "Back to spec"),
    )
}


def parts_to_replace(services: Iterable[str]) -> tuple[str, ...]:
    """Roles of the parts that services renew, in their order."""
    return tuple(SERVICES[key].replaces for key in services if SERVICES[key].replaces)


def service_replacing(role: str) -> Service:
    """The service that renews a part."""
    return next(one for one in SERVICES.values() if one.replaces == role)
