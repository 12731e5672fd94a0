"""Questions to the book."""

from dataclasses import dataclass
from typing import Any

from django.db.models import Exists, F, OuterRef, Q, QuerySet

from bowcore.bow.kits import read_kits
from bowcore.bow.modules import read_modules
from bowcore.bow.specification import BowSpec, Family, PartSpec, yokes_of
from bowcore.io.book import PressShape, kept_book
from bowcore.stages.back_to_spec.targets import Tolerances
from bowcore.stages.replace.press_plan import LimbKind
from shop.schema.accounts.models import shop_here
from shop.schema.book.models import BookEntry, BookPart, EntryVersion


def book_here() -> QuerySet[BookEntry]:
    """The models that are offered in this shop: its own, and those of the chain that it has not."""
    own = BookEntry.objects.filter(
        shop=shop_here(), listed=True, maker=OuterRef("maker"), model=OuterRef("model")
    )
    return BookEntry.objects.filter(Q(shop=shop_here()) | ~Exists(own), listed=True)


def to_confirm() -> QuerySet[BookEntry]:
    """Models that an apprentice has guessed or a record has brought: not offered before someone looks."""
    return BookEntry.objects.filter(shop=shop_here(), listed=None)


def entry_named(maker: str, model: str) -> BookEntry | None:
    """The one that this shop goes by: its own before the chain's, a listed one before one that is not."""
    found = BookEntry.objects.filter(maker=maker, model=model)
    own = found.filter(shop=shop_here()).order_by(F("listed").desc(nulls_last=True)).first()
    return own or found.filter(listed=True).first()


_PEG, *_TRACKS = _RADII = ("peg_radius_in", "take_up_radius_in", "let_out_radius_in")


def spec_of(
    entry: BookEntry,
    peak_weight_lbf: float,
    draw_length_in: float,
    spacers_in: tuple[float, ...] = (),
) -> BowSpec:
    """The book entry as the core takes it, at a bow's marked weight and draw length.

    Twin cams have a yoke at either axle, the others one at the top. Spacers come from the shop's
    drawer, shims from the book, for bows whose lean is set by them.

    Raises
    ------
    BadInput
        The numbers do not make a bow.
    """
    measured: dict[str, Any] = {
        name: float(getattr(entry, name)) for name in _RADII if getattr(entry, name) is not None
    }
    parts = [_part(part) for part in entry.parts.all()]
    return BowSpec(
        str(entry),
        Family(entry.family),
        float(entry.axle_to_axle_in),
        float(entry.brace_height_in),
        draw_length_in,
        peak_weight_lbf,
        float(entry.let_off),
        tuple(part for part in parts if not part.is_harness),
        peg_measured=_PEG in measured,
        radii_measured=all(name in measured for name in _TRACKS),
        limb_stop=entry.stop_on == "limb",
        yokes=yokes_of(Family(entry.family)) if entry.lean_by == "yoke" else (),
        harnesses=tuple(part for part in parts if part.is_harness),
        guardless=entry.guard == "none",
        centre_shot_in=None if entry.centre_shot_in is None else float(entry.centre_shot_in),
        shim_kits=read_kits(entry.shim_kits) if entry.lean_by == "shims" else (),
        spacers_in=spacers_in,
        modules=read_modules(entry.modules),
        guessed=entry.guessed,
        **measured,
    )


def job_book(entry: BookEntry, spec: BowSpec) -> dict[str, Any]:
    """What a job keeps of the book as it was when the bow came in."""
    allowed = Tolerances(
        float(entry.ata_tolerance_in),
        float(entry.brace_tolerance_in),
        float(entry.weight_tolerance_lbf),
        float(entry.top_first_in),
    )
    press = PressShape(
        limbs=LimbKind(entry.limbs),
        two_stage=entry.two_stage,
        back_off=entry.back_off,
        bolt_turns_max=float(entry.bolt_turns_max),
    )
    return kept_book(spec, allowed, press)


def _part(part: BookPart) -> PartSpec:
    return PartSpec(
        part.role,
        part.label,
        part.ends,
        float(part.length_in),
        part.strands,
        float(part.twists_per_in),
        float(part.served_top_in + part.served_bottom_in),
        part.axle_out,
    )


@dataclass(frozen=True)
class VersionShown:
    """A version of an entry, and what it changed in words."""

    version: EntryVersion
    changes: list[str]


def versions_shown(entry: BookEntry) -> list[VersionShown]:
    """An entry's versions, newest first."""
    versions = list(entry.versions.select_related("by"))
    return [
        VersionShown(newer, _changes(older.data, newer.data) if older else [])
        for newer, older in zip(versions, [*versions[1:], None], strict=True)
    ]


def _changes(before: dict[str, Any], after: dict[str, Any]) -> list[str]:
    flat_before, flat_after = _flat(before), _flat(after)
    return [
        f"{name} {flat_before.get(name, 'empty')} → {value}"
        for name, value in flat_after.items()
        if flat_before.get(name) != value
    ]


def _flat(data: dict[str, Any]) -> dict[str, Any]:
    """A version's values by name, those of parts after the part's label."""
    found = {name.replace("_", " "): value for name, value in data.items() if name != "parts"}
    for part in data["parts"]:
        found |= {
            f"{part['label']} {n.replace('_', ' ')}": v for n, v in part.items() if n != "role"
        }
    return found


def roles_of(entry: BookEntry | None) -> set[str]:
    """Roles of the parts that a model has; none while it is not known."""
    return set(entry.parts.values_list("role", flat=True)) if entry else set()
