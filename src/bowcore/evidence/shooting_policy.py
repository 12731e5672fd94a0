"""What good technicians differ in when they shoot a bow in, and what bows of the model have shown."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum

from bowcore.evidence.shots import ShotTest
from bowcore.learning.one_rate import Rate


class PaperPolicy(StrEnum):
    """How far paper is trusted."""

    ALWAYS = "always"
    FIRST_LOOK = "first_look"
    NEVER = "never"


class UpFirst(StrEnum):
    """What is looked at first behind a tear that goes up or down."""

    NONE = ""
    TIMING = "timing"
    NOCK = "nock"
    REST = "rest_height"


class SideFirst(StrEnum):
    """What is looked at first behind a tear that goes to one side."""

    NONE = ""
    YOKES = "lean"
    REST = "rest_side"


PAPER_POLICIES = {
    PaperPolicy.ALWAYS: "until it is clean", PaperPolicy.FIRST_LOOK: "for a first look only",
    PaperPolicy.NEVER: "never",
}  # fmt: skip
UP_FIRST = {
    UpFirst.NONE: "whatever is likeliest", UpFirst.TIMING: "cam timing", UpFirst.NOCK: "nock point",
    UpFirst.REST: "rest",
}  # fmt: skip
SIDE_FIRST = {
    SideFirst.NONE: "whatever is likeliest", SideFirst.YOKES: "cam lean: yokes or shims",
    SideFirst.REST: "rest",
}  # fmt: skip
LAST_TESTS = {
    ShotTest.BARE_SHAFT: "bare shafts", ShotTest.FRENCH: "French", ShotTest.WALK_BACK: "walk-back",
    ShotTest.BROADHEAD: "broadheads",
}  # fmt: skip
"""What may end it at the butt."""
USUAL_LAST_TEST = ShotTest.BARE_SHAFT
"""What decides where paper does not and the shop has not said."""


@dataclass(frozen=True)
class ShootingPolicy:
    """How a shop shoots bows in.

    Attributes
    ----------
    paper : PaperPolicy
        How far paper is trusted.
    last_test : ShotTest or None
        What is shot at the butt before it is done; None where paper is enough.
    up_first, side_first : UpFirst, SideFirst
        What is looked at first.
    shares : mapping of str to int
        How often each suspect was behind a tear on other bows of the model.
    rates : mapping of str to Rate
        What a unit of each lever has done on them. [in]
    """

    paper: PaperPolicy = PaperPolicy.ALWAYS
    last_test: ShotTest | None = None
    up_first: UpFirst = UpFirst.NONE
    side_first: SideFirst = SideFirst.NONE
    shares: Mapping[str, int] = field(default_factory=dict)
    rates: Mapping[str, Rate] = field(default_factory=dict)

    @property
    def preferred(self) -> frozenset[str]:
        """Suspects that are looked at first."""
        return frozenset(str(one) for one in (self.up_first, self.side_first) if one)

    @property
    def ends_with(self) -> ShotTest | None:
        """The test at the butt that ends it; None where paper does."""
        if self.last_test is None and self.paper is not PaperPolicy.ALWAYS:
            return USUAL_LAST_TEST
        return self.last_test


USUAL_SHOOTING_POLICY = ShootingPolicy()
