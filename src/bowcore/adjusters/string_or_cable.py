"""A string or a cable: half twists in make it shorter."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import ClassVar

from bowcore.adjusters.adjuster import Adjuster, Trial, TurnableBow, say_half_twists
from bowcore.bow.bundle import Bundle
from bowcore.bow.specification import STRING, BowSpec
from bowcore.bow.twin import Changes
from bowcore.quantities.changes import Change

TRIAL_IN = 0.004
"""Shortening tried on each side for a central difference. [in]"""


@dataclass(frozen=True)
class StringOrCable(Adjuster):
    """A whole string or cable, turned at its end.

    `bundle` is it as the book has it, nothing turned: half twists are not equal, the more twist is
    in the more each does.
    """

    bundle: Bundle | None = None

    kind: ClassVar[str] = "string_or_cable"
    step_word: ClassVar[str] = "half a twist"
    twisted: ClassVar[bool] = True

    @property
    def change(self) -> Change:
        return Change.STRING if self.part == STRING else Change.CABLE

    @classmethod
    def all_on(cls, spec: BowSpec, twisted: Mapping[str, int]) -> list[Adjuster]:
        found: list[Adjuster] = []
        for part in spec.parts:
            bundle = part.bundle(twisted.get(part.role, 0))
            step_in = bundle.shortening_in(1)
            found.append(
                cls(part.role, part.label, part.role, length_step_in=step_in, bundle=bundle)
            )
        return found

    def worth(self, spent: int, count: int) -> float:
        if self.bundle is None:
            return float(count)
        before, after = (self._shortening_in(self.bundle, n) for n in (spent, spent + count))
        return (after - before) / self.length_step_in

    @staticmethod
    def _shortening_in(bundle: Bundle, half_twists: int) -> float:
        """Of so many half twists in all; a bundle without twist cannot be made longer."""
        least = -int(2 * bundle.twists)
        return bundle.shortening_in(max(half_twists, least))

    def trial(self) -> Trial:
        return Trial(Changes({self.part: TRIAL_IN}), self.length_step_in / TRIAL_IN)

    def turn_on(self, bow: TurnableBow, count: int) -> None:
        bow.twist(self.part, count)

    def say(self, count: int) -> str:
        return say_half_twists(count)
