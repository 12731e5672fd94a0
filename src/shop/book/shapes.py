"""A book entry as it travels: the one description that import, export, forms and schema share."""

from typing import Annotated, Any, Literal, Self

from pydantic import ConfigDict, Field, TypeAdapter, model_validator

from bowcore.bow.kits import read_kits
from bowcore.bow.modules import read_modules
from bowcore.bow.specification import (
    CABLE_A,
    CABLE_B,
    CABLES,
    HARNESSES,
    STRING,
    BowSpec,
    Family,
    PartSpec,
    length_of,
    yokes_of,
)
from bowcore.errors import BowcoreError
from bowcore.io.edge import Edge, Flag
from bowcore.stages.replace.press_plan import LimbKind

BOOK_FORMAT = "fennock-book/1"
ROLES = (STRING, CABLE_A, CABLE_B, *HARNESSES)


Tolerance = Annotated[float, Field(strict=True, gt=0, le=1)]
Name = Annotated[str, Field(strict=True, min_length=1, max_length=40)]
DrawLength = Annotated[float, Field(strict=True, ge=18, le=34)]
Weight = Annotated[float, Field(strict=True, ge=10, le=100)]
Served = Annotated[float, Field(strict=True, ge=0, le=30)]


class PartEntry(Edge):
    """A string or cable of a model. [in, twists per in]"""

    model_config = ConfigDict(extra="forbid")

    role: Literal["string", "cable_a", "cable_b", "harness_a", "harness_b"]
    label: Name
    ends: Annotated[str, Field(strict=True, min_length=1, max_length=80)]
    length_in: Annotated[float, Field(strict=True, ge=5, le=130)]
    strands: Annotated[int, Field(strict=True, ge=4, le=60)]
    twists_per_in: Annotated[float, Field(strict=True, ge=0, le=3)]
    served_top_in: Served = 0.0
    served_bottom_in: Served = 0.0
    axle_out: Flag = False

    def part(self) -> PartSpec:
        """As the core takes it."""
        return PartSpec(
            self.role,
            self.label,
            self.ends,
            self.length_in,
            self.strands,
            self.twists_per_in,
            self.served_top_in + self.served_bottom_in,
            self.axle_out,
        )


class ModelEntry(Edge):
    """A bow model with what its maker publishes. [in, lbf, share, turns]"""

    model_config = ConfigDict(extra="forbid")

    maker: Name
    model: Name
    family: Family
    axle_to_axle_in: Annotated[float, Field(strict=True, ge=20, le=50)]
    brace_height_in: Annotated[float, Field(strict=True, ge=4, le=10)]
    draw_from_in: DrawLength
    draw_to_in: DrawLength
    weight_from_lbf: Weight
    weight_to_lbf: Weight
    let_off: Annotated[float, Field(strict=True, ge=0.3, le=0.95)]
    peg_radius_in: Annotated[float, Field(strict=True, ge=0.3, le=3)] | None = None
    take_up_radius_in: Annotated[float, Field(strict=True, ge=0.1, le=3)] | None = None
    let_out_radius_in: Annotated[float, Field(strict=True, ge=0.05, le=3)] | None = None
    bolt_turns_max: Annotated[float, Field(strict=True, ge=0, le=20)] = 6.0
    limbs: LimbKind = LimbKind.ORDINARY
    two_stage: Flag = False
    back_off: Flag = False
    stop_on: Literal["cable", "limb"] = "cable"
    lean_by: Literal["yoke", "shims", "none"] = "none"
    guard: Literal["guard", "none"] = "guard"
    rest_hole: Literal["centre", "edge"] = "centre"
    centre_shot_in: Annotated[float, Field(strict=True, ge=0.25, le=1.75)] | None = None
    shim_kits: Annotated[str, Field(strict=True, max_length=1000)] = ""
    modules: Annotated[str, Field(strict=True, max_length=200)] = ""
    top_first_in: Annotated[float, Field(strict=True, ge=0, le=0.25)] = 0.0
    ata_tolerance_in: Tolerance = 0.125
    brace_tolerance_in: Tolerance = 0.125
    weight_tolerance_lbf: Annotated[float, Field(strict=True, gt=0, le=10)] = 2.0
    evidence: Literal["sheet", "here", "guess"] = "sheet"
    note: Annotated[str, Field(strict=True, max_length=5000)] = ""
    parts: Annotated[tuple[PartEntry, ...], Field(min_length=2)]

    @model_validator(mode="after")
    def makes_a_bow(self) -> Self:
        """What single fields cannot show: order of ranges, parts of the family, a bow at all."""
        roles = [part.role for part in self.parts if part.role not in HARNESSES]
        wanted = {STRING, CABLE_B} if self.family is Family.SINGLE else {STRING, *CABLES}
        if sorted(roles) != sorted(wanted):
            has = f"{', '.join(sorted(wanted))}, not {', '.join(roles)}"
            raise ValueError(f"parts: a {self.family} bow has {has}")
        yokes = yokes_of(self.family) if self.lean_by == "yoke" else ()
        loose = [
            p.label for p in self.parts if p.role in HARNESSES and length_of(p.role) not in yokes
        ]
        if loose:
            raise ValueError(f"parts: {loose[0]} is a harness, but its cable has no yoke")
        if self.draw_from_in > self.draw_to_in:
            raise ValueError("draw_from_in is above draw_to_in")
        if self.weight_from_lbf > self.weight_to_lbf:
            raise ValueError("weight_from_lbf is above weight_to_lbf")
        try:
            self.spec()
        except BowcoreError as error:
            raise ValueError(str(error)) from error
        return self

    def spec(self) -> BowSpec:
        """The model at its longest draw and highest weight.

        Raises
        ------
        BowcoreError
            The numbers do not make a bow.
        """
        spec = BowSpec(
            self.model,
            self.family,
            self.axle_to_axle_in,
            self.brace_height_in,
            self.draw_to_in,
            self.weight_to_lbf,
            self.let_off,
            tuple(part.part() for part in self.parts if part.role not in HARNESSES),
            harnesses=tuple(part.part() for part in self.parts if part.role in HARNESSES),
            shim_kits=read_kits(self.shim_kits),
            modules=read_modules(self.modules),
        )
        for part in spec.parts:
            part.bundle()
        return spec


class BookDocument(Edge):
    """The whole document. Entries are judged one by one, so that a bad one is refused alone."""

    model_config = ConfigDict(title="Book entries, in and out")

    format: Literal["fennock-book/1"]
    entries: list[dict[str, Any]]


class PublishedBook(BookDocument):
    """What the schema describes: the document with its entries in full."""

    entries: list[ModelEntry]  # type: ignore[assignment]


def entry_fields() -> list[str]:
    """Fields of an entry that travel, in order, without its parts."""
    return [name for name in ModelEntry.model_fields if name != "parts"]


def may_be_unknown(name: str) -> bool:
    """Whether a field of an entry may be empty."""
    return ModelEntry.model_fields[name].get_default() is None


def part_fields() -> list[str]:
    """Fields of a part that travel, in order, without its role."""
    return [name for name in PartEntry.model_fields if name != "role"]


def book_schema() -> dict[str, Any]:
    """The JSON Schema of the document."""
    dialect = {"$schema": "https://json-schema.org/draft/2020-12/schema"}
    return dialect | TypeAdapter(PublishedBook).json_schema()
