"""A tear in words, as the shop says it, and from two holes on a sheet."""

from dataclasses import dataclass
from enum import StrEnum

from bowcore.errors import BadInput
from bowcore.quantities.inches import as_mixed, say_length

SHEET_IN = 8.0
"""A sheet of paper: no tear is longer."""
READ_TO = 16
CLEAN_IN = 1 / 8
"""A tear under this is clean; two alike are proof (common practice)."""
PAPER_YD = 3.0
"""From the archer to the sheet; the arrow goes wholly through it before the butt (common practice)."""


class TearWords(StrEnum):
    """By which end of the arrow a shop names a tear; all mean the same hole."""

    NOCK = "nock"
    TAIL = "tail"
    TIP = "tip"
    KICK = "kick"


@dataclass(frozen=True)
class Holes:
    """Where the point and the nock went through, x to the right and y up. [in]"""

    point_x: float
    point_y: float
    nock_x: float
    nock_y: float

    def __post_init__(self) -> None:
        """Refuse holes that no sheet holds.

        Raises
        ------
        BadInput
            They are farther apart than a sheet is long.
        """
        if max(abs(one) for one in self.tear) > SHEET_IN:
            raise BadInput(
                "The two holes are not on one sheet.", "place", f"{SHEET_IN:g} in apart at most"
            )

    @property
    def tear(self) -> tuple[float, float]:
        """The nock's hole less the point's. [in]"""
        return self.nock_x - self.point_x, self.nock_y - self.point_y


def say_tear(x_in: float, y_in: float, words: TearWords = TearWords.NOCK) -> str:
    """A tear in the shop's words, up or down first; "a clean hole" where both are too small to read."""
    far = [(y_in, ("high", "low")), (x_in, ("right", "left"))]
    if words is TearWords.TIP:
        far = [(-value, names) for value, names in far]
    said = [
        f"{say_length(abs(value), READ_TO)} {names[0] if value > 0 else names[1]}"
        for value, names in far if not as_mixed(abs(value), READ_TO).zero
    ]  # fmt: skip
    return f"{words.value} {', '.join(said)}" if said else "a clean hole"
