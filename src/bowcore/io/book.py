"""A book entry from outside, and what a job keeps of it."""

from collections.abc import Collection
from dataclasses import asdict
from typing import Annotated, Any

from pydantic import Field

from bowcore.bow.kits import ShimKit
from bowcore.bow.modules import Module
from bowcore.bow.specification import BowSpec, Family, PartSpec
from bowcore.io.edge import Edge, Flag, Number, Text, validated
from bowcore.stages.back_to_spec.targets import Tolerances
from bowcore.stages.replace.press_plan import LimbKind

Radius = Annotated[float, Field(strict=True, ge=0.05, le=3)]


class PartShape(Edge):
    """One string or cable."""

    role: Text
    label: Text
    ends: Text = ""
    length_in: Annotated[float, Field(strict=True, ge=1, le=150)]
    strands: Annotated[int, Field(strict=True, ge=4, le=60)]
    twists_per_in: Annotated[float, Field(strict=True, ge=0, le=2)]
    served_in: Annotated[float, Field(strict=True, ge=0, le=100)] = 0.0
    axle_out: Flag = False

    def part(self) -> PartSpec:
        """As the core takes it."""
        return PartSpec(**self.model_dump())


class KitShape(Edge):
    """A kit of shims: its name and pairs of left and right. [in]"""

    name: Text
    pairs: tuple[tuple[Number, Number], ...]
    marked: tuple[tuple[Number, Text], ...] = ()


class ModuleShape(Edge):
    """A draw module, and the draw lengths it gives. [in]"""

    name: Text
    low_in: Annotated[float, Field(strict=True, ge=15, le=36)]
    high_in: Annotated[float, Field(strict=True, ge=15, le=36)]


class BookShape(Edge):
    """A book entry at one draw length and weight."""

    name: Text
    family: Family
    axle_to_axle_in: Annotated[float, Field(strict=True, ge=20, le=50)]
    brace_height_in: Annotated[float, Field(strict=True, ge=4, le=10)]
    draw_length_in: Annotated[float, Field(strict=True, ge=18, le=34)]
    peak_weight_lbf: Annotated[float, Field(strict=True, ge=10, le=100)]
    let_off: Annotated[float, Field(strict=True, ge=0.3, le=0.95)]
    parts: tuple[PartShape, ...]
    peg_radius_in: Radius | None = None
    take_up_radius_in: Radius | None = None
    let_out_radius_in: Radius | None = None
    peg_measured: Flag | None = None
    radii_measured: Flag | None = None
    limb_stop: Flag = False
    yokes: tuple[Text, ...] = ()
    shim_kits: tuple[KitShape, ...] = ()
    spacers_in: tuple[Number, ...] = ()
    modules: tuple[ModuleShape, ...] = ()
    nock_step_in: Annotated[float, Field(strict=True, ge=0, le=0.25)] = 0.0
    guessed: Flag = False
    harnesses: tuple[PartShape, ...] = ()
    guardless: Flag = False
    centre_shot_in: Annotated[float, Field(strict=True, ge=0.25, le=1.75)] | None = None

    def spec(self) -> BowSpec:
        """As the core takes it.

        Raises
        ------
        BadInput
            The numbers do not make a bow.
        """
        radii: dict[str, Any] = {
            name: value for name in _RADII if (value := getattr(self, name)) is not None
        }
        peg, tracks = self._measured(radii)
        return BowSpec(
            self.name,
            self.family,
            self.axle_to_axle_in,
            self.brace_height_in,
            self.draw_length_in,
            self.peak_weight_lbf,
            self.let_off,
            tuple(part.part() for part in self.parts),
            peg_measured=peg,
            radii_measured=tracks,
            limb_stop=self.limb_stop,
            yokes=self.yokes,
            shim_kits=tuple(ShimKit(kit.name, kit.pairs, kit.marked) for kit in self.shim_kits),
            spacers_in=self.spacers_in,
            modules=tuple(Module(one.name, one.low_in, one.high_in) for one in self.modules),
            nock_step_in=self.nock_step_in,
            guessed=self.guessed,
            harnesses=tuple(part.part() for part in self.harnesses),
            guardless=self.guardless,
            centre_shot_in=self.centre_shot_in,
            **radii,
        )

    def _measured(self, given: Collection[str]) -> tuple[bool, bool]:
        """Whether the peg's and both tracks' radii are a caliper's: those that are given, unless it is said.
        Jobs that kept their book earlier say one thing of all three."""
        tracks = "take_up_radius_in" in given and "let_out_radius_in" in given
        said = self.radii_measured
        peg = "peg_radius_in" in given if said is None else said
        return (
            peg if self.peg_measured is None else self.peg_measured,
            tracks if said is None else said,
        )


_RADII = ("peg_radius_in", "take_up_radius_in", "let_out_radius_in")


class PressShape(Edge):
    """What the book says of pressing the bow."""

    limbs: LimbKind = LimbKind.ORDINARY
    two_stage: Flag = False
    back_off: Flag = False
    bolt_turns_max: Number = 6.0


class ToleranceShape(Edge):
    """How far a model's numbers may be off its book; see `Tolerances`."""

    axle_to_axle_in: Number = 0.125
    brace_height_in: Number = 0.125
    peak_weight_lbf: Number = 2.0
    top_first_in: Number = 0.0


class KeptBook(BookShape):
    """What a job keeps of the book as it was at check-in."""

    tolerances: ToleranceShape = ToleranceShape()
    press: PressShape = PressShape()

    def allowed(self) -> Tolerances:
        """Its tolerances as the core takes them."""
        return Tolerances(**self.tolerances.model_dump())


def spec_from(data: Any, path: str = "") -> BowSpec:
    """A bow's specification from plain values.

    Raises
    ------
    BadInput
        Names the field that is wrong.
    """
    return validated(BookShape, data, path).spec()


def kept_book(spec: BowSpec, tolerances: Tolerances, press: PressShape) -> dict[str, Any]:
    """What a job keeps, as plain values; `KeptBook` reads it."""
    allowed = {name: getattr(tolerances, name) for name in ToleranceShape.model_fields}
    return asdict(spec) | {"tolerances": allowed, "press": press.model_dump(mode="json")}
