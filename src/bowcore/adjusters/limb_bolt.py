"""Limb bolts: both together for the weight, one alone for a tiller that is off. No press is needed."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import ClassVar

from bowcore.adjusters.adjuster import (
    Adjuster,
    BowNow,
    Needs,
    Trial,
    TurnableBow,
    require_not_too_far,
    say_half_turns,
    written_down,
)
from bowcore.bow.specification import BowSpec
from bowcore.bow.twin import Changes
from bowcore.errors import Refused
from bowcore.quantities.changes import Change

TRIAL_TURNS = 0.1
BOLT_MARKS = {
    "both": ("bolts_top", "bolts_bottom"), "top": ("bolts_top",), "bottom": ("bolts_bottom",),
}  # fmt: skip
"""Where the turns out from bottomed are written down, by which bolts are turned."""
BOTH_BOLTS = "limb_bolts"
_NAMES = (
    (BOTH_BOLTS, "Both limb bolts", "both"),
    ("bolt_top", "Top limb bolt", "top"),
    ("bolt_bottom", "Bottom limb bolt", "bottom"),
)


def turns_out(now: BowNow, marks: tuple[str, ...] = BOLT_MARKS["both"]) -> list[float] | None:
    """Turns of limb bolts out from bottomed, as written down; None if any is not counted."""
    found = [written_down(now, mark) for mark in marks]
    known = [float(text) for text in found if text is not None]
    return known if len(known) == len(found) else None


@dataclass(frozen=True)
class LimbBolt(Adjuster):
    """Both limb bolts by the same amount, or one of them."""

    kind: ClassVar[str] = "limb_bolt"
    step_word: ClassVar[str] = "half a turn out"
    order: ClassVar[int] = 4
    needs: ClassVar[Needs] = Needs.NOTHING
    minutes: ClassVar[float] = 1.0
    cautions: ClassVar[tuple[str, ...]] = ("Never turn a limb bolt past the maker's limit.",)

    @property
    def change(self) -> Change:
        return Change.LIMB_BOLT

    @property
    def marks(self) -> tuple[str, ...]:
        return BOLT_MARKS[self.axle]

    @property
    def place(self) -> str:
        return f"{'bottom' if self.axle == 'bottom' else 'top'} pocket"

    @property
    def alone(self) -> bool:
        """One bolt for itself: planned only for a tiller that is off."""
        return self.axle != "both"

    @property
    def _turned(self) -> tuple[int, int]:
        return int(self.axle != "bottom"), int(self.axle != "top")

    @classmethod
    def all_on(cls, spec: BowSpec, twisted: Mapping[str, int]) -> list[Adjuster]:
        return [cls(key, label, axle=axle) for key, label, axle in _NAMES]

    def trial(self) -> Trial:
        top, bottom = self._turned
        return Trial(
            Changes(bolts_out=(TRIAL_TURNS * top, TRIAL_TURNS * bottom)), 0.5 / TRIAL_TURNS
        )

    def turn_on(self, bow: TurnableBow, count: int) -> None:
        top, bottom = self._turned
        bow.turn_bolts(top * count, bottom * count)

    def say(self, count: int) -> str:
        return say_half_turns(count)

    def usual_totals(self, most: int) -> tuple[int, int]:
        """Bolts stay where they are unless the maker's limit is known."""
        return 0, 0

    def turns_out(self, now: BowNow) -> list[float] | None:
        """Turns of each of its bolts out from bottomed, as written down; None if not counted."""
        return turns_out(now, self.marks)

    def totals_allowed(self, now: BowNow) -> tuple[int, int] | None:
        """From bottomed to the maker's limit, by where each bolt is now."""
        out = self.turns_out(now)
        if out is None or not now.most_bolt_turns:
            return 0, 0
        spent = now.net_steps(self.key)
        room = max(int(2 * (now.most_bolt_turns - max(out))), 0)
        return spent - int(2 * min(out)), spent + room

    def require_possible(self, now: BowNow, count: int) -> None:
        require_not_too_far(self, count)
        out = self.turns_out(now)
        after = None if out is None else [turns + count / 2 for turns in out]
        if after is None or min(after) < 0 or max(after) > now.most_bolt_turns:
            raise Refused(
                f"Limb bolts stay between bottomed and the maker's {now.most_bolt_turns:g} turns. "
                "Write down where both are, and turn them no further."
            )

    def marks_after(self, now: BowNow, count: int) -> dict[str, str]:
        out = self.turns_out(now) or []
        return {mark: f"{turns + count / 2:g}" for mark, turns in zip(self.marks, out, strict=True)}

    def where(self, now: BowNow) -> str:
        out = " and ".join(f"{turns:g}" for turns in self.turns_out(now) or ())
        return f"now {out or 'an unknown number of'} turns out, at most {now.most_bolt_turns:g}"
