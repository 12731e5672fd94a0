"""Questions to the book."""

from dataclasses import asdict, dataclass
from typing import Any

from bowcore.mechanics.specification import BowSpec, Family, PartSpec
from bowcore.service.targets import Tolerances
from shop.book.models import BookEntry, BookPart, EntryVersion

_MEASURED = ("peg_radius_in", "take_up_radius_in", "let_out_radius_in")


@dataclass(frozen=True)
class Kit:
    """What lies in the shop's drawer: a shim's and a spacer's thickness, 0 for none. [in]"""

    shim_in: float = 0.0
    spacer_in: float = 0.0


def spec_of(
    entry: BookEntry, peak_weight_lbf: float, draw_length_in: float, kit: Kit = Kit()
) -> BowSpec:
    """The book entry as the core takes it, at a bow's marked weight and draw length.

    The yoke that is told of is the one at the top axle: what takes its cable up there. Shims and
    spacers come from the shop's kit, shims only for bows whose lean is set by them.

    Raises
    ------
    BadInput
        The numbers do not make a bow.
    """
    measured: dict[str, Any] = {
        name: float(getattr(entry, name)) for name in _MEASURED if getattr(entry, name) is not None
    }
    return BowSpec(
        str(entry), Family(entry.family),
        float(entry.axle_to_axle_in), float(entry.brace_height_in), draw_length_in,
        peak_weight_lbf, float(entry.let_off),
        tuple(_part(part) for part in entry.parts.all()), radii_measured=bool(measured),
        limb_stop=entry.stop_on == "limb",
        yokes=("cable_b",) if entry.lean_by == "yoke" else (),
        shim_in=kit.shim_in if entry.lean_by == "shims" else 0.0, spacer_in=kit.spacer_in, **measured,
    )  # fmt: skip


def kept_of(entry: BookEntry, spec: BowSpec) -> dict[str, Any]:
    """What a job keeps of the book as it was when the bow came in."""
    allowed = Tolerances(
        float(entry.ata_tolerance_in), float(entry.brace_tolerance_in),
        float(entry.weight_tolerance_lbf), float(entry.top_first_in),
    )  # fmt: skip
    press = {"limbs": entry.limbs, "two_stage": entry.two_stage,
             "bolt_turns_max": float(entry.bolt_turns_max)}  # fmt: skip
    served = {
        part.role: [float(part.served_top_in), float(part.served_bottom_in)]
        for part in entry.parts.all()
    }
    return asdict(spec) | {"tolerances": asdict(allowed), "press": press, "served": served}


def _part(part: BookPart) -> PartSpec:
    return PartSpec(
        part.role, part.label, part.ends, float(part.length_in), part.strands,
        float(part.twists_per_in),
    )  # fmt: skip


def versions_told(entry: BookEntry) -> list[EntryVersion]:
    """An entry's versions, newest first, each with what it changed in words (`told`)."""
    versions = list(entry.versions.select_related("by"))
    for newer, older in zip(versions, [*versions[1:], None], strict=True):
        newer.told = _told(older.data, newer.data) if older else []  # type: ignore[attr-defined]
    return versions


def _told(before: dict[str, Any], after: dict[str, Any]) -> list[str]:
    flat_before, flat_after = _flat(before), _flat(after)
    return [
        f"{name} {flat_before.get(name, 'none')} → {value}"
        for name, value in flat_after.items()
        if flat_before.get(name) != value
    ]


def _flat(data: dict[str, Any]) -> dict[str, Any]:
    """A version's values by name, those of parts after the part's word."""
    found = {name.replace("_", " "): value for name, value in data.items() if name != "parts"}
    for part in data["parts"]:
        found |= {
            f"{part['label']} {n.replace('_', ' ')}": v for n, v in part.items() if n != "role"
        }
    return found
