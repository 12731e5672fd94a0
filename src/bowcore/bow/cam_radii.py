"""What a caliper reads on a cam at full draw, from its axle. It decides what half a twist does to timing."""

from dataclasses import dataclass, replace

from bowcore.bow.specification import BowSpec
from bowcore.errors import require_within
from bowcore.quantities.inches import decimal_length
from bowcore.quantities.units import length_unit

PEG_LIMITS_IN, TRACK_LIMITS_IN = (0.3, 3.0), (0.05, 3.0)
RADII = {"peg_in": "Stop peg", "take_up_in": "Take-up arm", "let_out_in": "Let-out arm"}
"""What each is called."""


@dataclass(frozen=True)
class CamRadii:
    """The stop peg's radius, and how far a cable's line passes the axles at full draw: of the cam that takes
    it up, and of the other, where it is let out. [in]

    Square to the line, as a moment arm is. Where the cable leaves a track that is not round is farther away.

    Raises BadInput where no cam has such a radius.
    """

    peg_in: float
    take_up_in: float
    let_out_in: float

    def __post_init__(self) -> None:
        for name, said in RADII.items():
            limits = PEG_LIMITS_IN if name == "peg_in" else TRACK_LIMITS_IN
            require_within(said, getattr(self, name), limits, "in")

    def on(self, spec: BowSpec) -> BowSpec:
        """The book with these radii instead of usual ones."""
        return replace(
            spec,
            peg_radius_in=self.peg_in,
            take_up_radius_in=self.take_up_in,
            let_out_radius_in=self.let_out_in,
            peg_measured=True,
            radii_measured=True,
        )

    def say(self) -> str:
        """In words: `stop peg 1.460, take-up arm 0.640, let-out arm 0.530 in`."""
        peg, take_up, let_out = map(decimal_length, (self.peg_in, self.take_up_in, self.let_out_in))
        unit = length_unit().sign
        return f"stop peg {peg}, take-up arm {take_up}, let-out arm {let_out} {unit}"

    @classmethod
    def in_book(cls, spec: BowSpec) -> "CamRadii":
        """The book's, measured or usual."""
        return cls(spec.peg_radius_in, spec.take_up_radius_in, spec.let_out_radius_in)
