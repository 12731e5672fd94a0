"""A book entry from JSON: what the core needs of a bow, with every field checked."""

from typing import Any

from bowcore.casefile import Case
from bowcore.errors import BadInput
from bowcore.mechanics.kits import ShimKit
from bowcore.mechanics.modules import Module
from bowcore.mechanics.specification import BowSpec, Family, PartSpec


def read_spec(case: Case) -> BowSpec:
    """A book entry from JSON."""
    radii: dict[str, Any] = {
        name: case.number(name, 0.05, 3)
        for name in ("peg_radius_in", "take_up_radius_in", "let_out_radius_in")
        if case.has(name)
    }
    known = "take_up_radius_in" in radii and "let_out_radius_in" in radii
    return BowSpec(
        case.text("name"), Family(case.text("family", [f.value for f in Family])),
        case.number("axle_to_axle_in", 20, 50), case.number("brace_height_in", 4, 10),
        case.number("draw_length_in", 18, 34), case.number("peak_weight_lbf", 10, 100),
        case.number("let_off", 0.3, 0.95),
        tuple(_part(row) for row in case.children("parts")),
        radii_measured=case.flag("radii_measured", known),
        limb_stop=case.flag("limb_stop", False), yokes=_yokes(case),
        shim_kits=_kits(case), spacers_in=_numbers(case, "spacers_in"), modules=_modules(case),
        nock_step_in=case.number("nock_step_in", 0, 0.25, 0.0),
        **radii,
    )  # fmt: skip


def _modules(case: Case) -> tuple[Module, ...]:
    return tuple(
        Module(row.text("name"), row.number("low_in", 15, 36), row.number("high_in", 15, 36))
        for row in case.children("modules", needed=False)
    )


def _kits(case: Case) -> tuple[ShimKit, ...]:
    return tuple(
        ShimKit(kit.text("name"), tuple((left, right) for left, right in _pairs(kit)))
        for kit in case.children("shim_kits", needed=False)
    )


def _pairs(kit: Case) -> list[list[float]]:
    found = kit.raw("pairs")
    good = isinstance(found, list | tuple) and all(
        isinstance(pair, list | tuple) and len(pair) == 2 and all(map(_is_number, pair))
        for pair in found
    )
    if not good:
        raise BadInput("Pairs of left and right are expected.", kit.at("pairs"), "[[0.11, 0.14]]")
    return list(found)


def _numbers(case: Case, name: str) -> tuple[float, ...]:
    found = case.raw(name) if case.has(name) else []
    if not isinstance(found, list | tuple) or not all(map(_is_number, found)):
        raise BadInput("A list of numbers is expected.", case.at(name), "[0.0625, 0.125]")
    return tuple(float(number) for number in found)


def _is_number(value: object) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool)


def _yokes(case: Case) -> tuple[str, ...]:
    named = case.raw("yokes") if case.has("yokes") else []
    if not isinstance(named, list | tuple) or not all(isinstance(role, str) for role in named):
        raise BadInput("A list of cables is expected.", case.at("yokes"), "cable_a, cable_b")
    return tuple(named)


def _part(row: Case) -> PartSpec:
    return PartSpec(
        row.text("role"), row.text("label"), row.text("ends", default=""),
        row.number("length_in", 1, 150), row.whole("strands", 4, 60),
        row.number("twists_per_in", 0, 2), row.number("served_in", 0, 100, 0.0),
    )  # fmt: skip
