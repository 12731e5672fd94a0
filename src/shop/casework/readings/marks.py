"""Marks as a screen shows them: what was written down, with its photographs."""

from dataclasses import dataclass

from bowcore.adjusters.adjuster import NOT_KNOWN
from bowcore.quantities.entries import Keypad
from bowcore.work_order.needs import Mark
from shop.schema.inspection.models import Photo

TURNS_PAD = Keypad(tuple(str(n) for n in range(8)), ("1/4", "1/2", "3/4"), ())


@dataclass(frozen=True)
class MarkRow:
    """A mark on the baseline screen: what was written down, its photographs."""

    mark: Mark
    value: str
    photos: list[Photo]

    @property
    def words(self) -> str:
        if self.value == NOT_KNOWN:
            return "Not known"
        words = dict(self.mark.choices).get(self.value, self.value).capitalize()
        return f"{words} turns out" if self.value and self.mark.kind == "turns" else words
