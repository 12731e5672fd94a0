"""What the book says of a bow: published numbers, parts by their two ends, measured parts."""

from dataclasses import dataclass
from enum import StrEnum
from math import isfinite

from bowcore.bow.bundle import Bundle
from bowcore.bow.kits import ShimKit, require_spacer_sizes
from bowcore.bow.modules import Module
from bowcore.errors import BadInput, OutOfRange

STRING, CABLE_A, CABLE_B = "string", "cable_a", "cable_b"
"""Roles of the parts: the string, the cable that the top cam takes up, the one that the bottom does."""
CABLES = (CABLE_A, CABLE_B)
HARNESS_A, HARNESS_B = "harness_a", "harness_b"
"""Roles of yoke harnesses that are parts of their own: cable A's and cable B's (five-piece sets)."""
HARNESSES = {HARNESS_A: CABLE_A, HARNESS_B: CABLE_B}
"""Which cable each harness lengthens or shortens."""


def length_of(role: str) -> str:
    """The role of the string or cable whose length a part decides: a harness is part of its cable's."""
    return HARNESSES.get(role, role)


class Family(StrEnum):
    """How a bow's cams are tied to one another."""

    BINARY = "binary"
    HYBRID = "hybrid"
    TWIN = "twin"
    SINGLE = "single"


def yokes_of(family: Family) -> tuple[str, ...]:
    """Roles of the cables that end in a yoke, where a family's lean is set by yokes: at either axle on
    twin cams, at the top one on the others."""
    return CABLES if family is Family.TWIN else (CABLE_B,)


@dataclass(frozen=True)
class PartSpec:
    """One string or cable of the book.

    `role` is the core's name (string, cable_a, cable_b), `label` the shop's word; `ends` says
    between which two places it runs, which is what makes it unmistakable. `axle_out`: an axle has to
    come out before it can be changed.
    """

    role: str
    label: str
    ends: str
    length_in: float
    strands: int
    twists_per_in: float
    served_in: float = 0.0
    axle_out: bool = False

    @property
    def is_harness(self) -> bool:
        return self.role in HARNESSES

    @property
    def is_string(self) -> bool:
        return self.role == STRING

    @property
    def yoke_axle(self) -> str:
        """At which axle a cable's yoke sits: what the top cam takes up ends at the bottom one."""
        return "bottom" if self.role == CABLE_A else "top"

    def bundle(self, extra_half_twists: int = 0) -> Bundle:
        """The part as a twisted bundle, with half twists put in since it was to length."""
        twists = self.length_in * self.twists_per_in
        fresh = Bundle(self.length_in, self.strands, twists, self.served_in)
        if not extra_half_twists:
            return fresh
        now = twists + extra_half_twists / 2
        return Bundle(fresh.length_at_in(now), self.strands, now, self.served_in)


@dataclass(frozen=True)
class BowSpec:
    """One book entry at one draw length and weight, as the core needs it.

    Lengths in inches, weights in lbf, let-off as a share. The radii are measured with a caliper
    at full draw: stop peg, take-up and let-out arm, from the cam's axle; `peg_measured` and
    `radii_measured` say whether the peg's and both tracks' were, or are usual ones. `yokes` are the
    roles of cables that end in two legs; `shim_kits` what may sit left and right of its cams, the
    thinnest kit first; `spacers_in` the cable spacers in the shop's drawer; `nock_step_in` the step
    in which the nock point may be moved, 0 if not; `modules` the draw modules or holes it can have;
    `guessed` that only its family, axle to axle and brace height are known; `harnesses` the yoke
    harnesses that are parts of their own; `guardless` that a cable runs on either side of each cam
    instead of both past a guard; `centre_shot_in` what its maker publishes from the riser's face to the
    arrow's centre, if anything.
    """

    name: str
    family: Family
    axle_to_axle_in: float
    brace_height_in: float
    draw_length_in: float
    peak_weight_lbf: float
    let_off: float
    parts: tuple[PartSpec, ...] = ()
    peg_radius_in: float = 1.5
    take_up_radius_in: float = 0.66
    let_out_radius_in: float = 0.55
    peg_measured: bool = False
    radii_measured: bool = False
    limb_stop: bool = False
    yokes: tuple[str, ...] = ()
    shim_kits: tuple[ShimKit, ...] = ()
    spacers_in: tuple[float, ...] = ()
    modules: tuple[Module, ...] = ()
    nock_step_in: float = 0.0
    guessed: bool = False
    harnesses: tuple[PartSpec, ...] = ()
    guardless: bool = False
    centre_shot_in: float | None = None

    def __post_init__(self) -> None:
        for name, low, high, unit in _LIMITS:
            value = getattr(self, name)
            if value is None:
                continue
            if not isfinite(value) or not low <= value <= high:
                raise OutOfRange(name, value, low, high, unit)
        require_spacer_sizes(self.spacers_in, "spacers_in")
        if self.brace_height_in + 10 > self.draw_length_in:
            raise BadInput("The brace height leaves no draw.", "brace_height_in")

    @property
    def cables(self) -> tuple[PartSpec, ...]:
        """Its parts but the string, in the book's order."""
        return tuple(part for part in self.parts if not part.is_string)

    @property
    def roles(self) -> tuple[str, ...]:
        """Roles of its string and cables."""
        return tuple(part.role for part in self.parts)

    @property
    def whole_set(self) -> tuple[PartSpec, ...]:
        """Everything that a set for it consists of: string, cables, yoke harnesses."""
        return (*self.parts, *self.harnesses)

    @property
    def replaceable(self) -> tuple[str, ...]:
        """Roles of everything that a set for it consists of."""
        return tuple(part.role for part in self.whole_set)

    @property
    def labels(self) -> dict[str, str]:
        """The shop's word for each part of its set, by role."""
        return {part.role: part.label for part in self.whole_set}

    @property
    def one_cam(self) -> bool:
        return self.family is Family.SINGLE

    @property
    def has_yoke(self) -> bool:
        """Whether a cable ends in two legs. Families with cables from cam to cam only have none."""
        return bool(self.yokes) or self.family is not Family.BINARY

    @property
    def timed_by_tracks(self) -> bool:
        """Whether a cable runs from one cam's take-up track to the other's let-out track: with the stop peg
        those radii decide what half a twist does to the gap."""
        return self.family in (Family.BINARY, Family.HYBRID)

    @property
    def cam_measured(self) -> bool:
        """Whether a caliper gave everything that decides what half a twist does to the gap."""
        return self.timed_by_tracks and self.peg_measured and self.radii_measured

    @property
    def measured_radii(self) -> tuple[float, float] | None:
        """Take-up and let-out radius where a caliper gave both, else None. [in]"""
        if not self.radii_measured:
            return None
        return self.take_up_radius_in, self.let_out_radius_in

    def part(self, role: str) -> PartSpec:
        """The part of that role; BadInput if this bow has none."""
        for part in self.whole_set:
            if part.role == role:
                return part
        raise BadInput(f"This bow has no '{role}'.", "role", ", ".join(self.replaceable))


_LIMITS = (
    ("axle_to_axle_in", 20, 50, "in"),
    ("brace_height_in", 4, 10, "in"),
    ("draw_length_in", 18, 34, "in"),
    ("peak_weight_lbf", 10, 100, "lbf"),
    ("let_off", 0.3, 0.95, ""),
    ("peg_radius_in", 0.3, 3, "in"),
    ("take_up_radius_in", 0.1, 3, "in"),
    ("let_out_radius_in", 0.05, 3, "in"),
    ("nock_step_in", 0, 0.25, "in"),
    ("centre_shot_in", 0.25, 1.75, "in"),
)
