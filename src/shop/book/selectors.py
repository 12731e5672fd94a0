"""Questions to the book."""

from typing import Any

from bowcore.mechanics.specification import BowSpec, Family, PartSpec
from shop.book.models import BookEntry, BookPart

_MEASURED = ("peg_radius_in", "take_up_radius_in", "let_out_radius_in")


def spec_of(entry: BookEntry, peak_weight_lbf: float, draw_length_in: float) -> BowSpec:
    """The book entry as the core takes it, at a bow's marked weight and draw length.

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
        tuple(_part(part) for part in entry.parts.all()), radii_measured=bool(measured), **measured,
    )  # fmt: skip


def _part(part: BookPart) -> PartSpec:
    return PartSpec(
        part.role, part.label, part.ends, float(part.length_in), part.strands,
        float(part.twists_per_in),
    )  # fmt: skip
