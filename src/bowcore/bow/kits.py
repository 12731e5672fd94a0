"""What lies in a drawer: cable spacers by size, and shims by which spacer goes left and right of a cam.

How a kit can be put in, and what that does, is with its adjuster (`adjusters/spacer.py`, `shim.py`).
"""

from collections.abc import Sequence
from dataclasses import dataclass

from bowcore.bow.bundle import THICKEST_SPACER_IN
from bowcore.errors import BadInput
from bowcore.quantities.inches import parse_inches
from bowcore.quantities.units import LengthUnit

PLAY_IN = 0.002
"""Left and right of one kit must add up alike within this, or the cam rattles on its axle."""


@dataclass(frozen=True)
class ShimKit:
    """One kit: pairs of spacers, left and right of a cam as seen from behind the bow. [in]

    `marked` says by which colour or letter a width is known while the axle is still in.
    """

    name: str
    pairs: tuple[tuple[float, float], ...]
    marked: tuple[tuple[float, str], ...] = ()

    def __post_init__(self) -> None:
        if not self.pairs:
            raise BadInput(f"The {self.name} kit has no spacers.", "shim_kits")
        if not all(0 <= width <= 1 for pair in self.pairs for width in pair):
            raise BadInput(f"A spacer of the {self.name} kit cannot be that wide.", "shim_kits")
        sums = [left + right for left, right in self.pairs]
        if max(sums) - min(sums) > PLAY_IN:
            raise BadInput(
                f"Left and right of the {self.name} kit do not add up alike: the cam would have play.",
                "shim_kits",
            )

    def say_width(self, width_in: float) -> str:
        """One spacer: `red 0.110`, or `0.110` where it has no colour or letter."""
        mark = dict(self.marked).get(width_in, "")
        return f"{mark} {width_in:.3f}".strip()

    def say_pair(self, left_in: float, right_in: float) -> str:
        """A pair in words: `left red 0.110, right 0.140 (thin)`."""
        left, right = self.say_width(left_in), self.say_width(right_in)
        return f"left {left}, right {right} ({self.name})"


def read_sizes(text: str) -> tuple[float, ...]:
    """Sizes as a person lists them: `1/16, 1/8, 3/16, 1/4`; none for an empty line.

    Raises
    ------
    BadInput
        One of them is not a length, or a spacer is never that thick.
    """
    sizes = [
        float(parse_inches(part, plain=LengthUnit.INCHES).value)
        for part in text.split(",")
        if part.strip()
    ]
    require_spacer_sizes(sizes, "spacer_sizes")
    return tuple(sorted(set(sizes)))


def require_spacer_sizes(sizes_in: Sequence[float], path: str) -> None:
    """Refuse sizes that no spacer has.

    Raises
    ------
    BadInput
        At that path.
    """
    if not all(0 < size <= THICKEST_SPACER_IN for size in sizes_in):
        raise BadInput("A spacer is up to half an inch thick.", path, "1/16, 1/8")


def read_kits(text: str) -> tuple[ShimKit, ...]:
    """Kits as a person writes them down, one a line: `thin: .110/.140, .125/.125, .140/.110`.

    A colour or a letter may stand after a width: `thin: .110 red/.140 blue`.

    Raises
    ------
    BadInput
        A line is not a kit; the error says which.
    """
    return tuple(_kit(line) for line in text.splitlines() if line.strip())


def read_pair(text: str) -> tuple[float, float]:
    """One pair of shims, left / right: `.110/.140`. [in]

    Raises
    ------
    BadInput
        It is not a pair of widths.
    """
    left, slash, right = text.partition("/")
    try:
        pair = (float(left), float(right))
    except ValueError:
        pair = (-1.0, -1.0)
    if not slash or not all(0 <= width <= 1 for width in pair):
        raise BadInput(
            f"“{text.strip()}” is not a pair of shims: write left / right in inches.",
            "shims",
            ".110/.140",
        )
    return pair


def _kit(line: str) -> ShimKit:
    name, colon, pairs = line.partition(":")
    if not colon or not name.strip():
        raise BadInput(
            f"“{line.strip()}” is not a kit: write its name, a colon, then left/right pairs.",
            "shim_kits",
            "thin: .110/.140, .125/.125",
        )
    found: list[tuple[float, float]] = []
    marked: dict[float, str] = {}
    for pair in (one for one in pairs.split(",") if one.strip()):
        sides = [side.split(maxsplit=1) for side in pair.split("/")]
        widths = read_pair("/".join(side[0] if side else "" for side in sides))
        found.append(widths)
        marked |= {w: side[1].strip() for w, side in zip(widths, sides, strict=True) if side[1:]}
    return ShimKit(name.strip(), tuple(found), tuple(sorted(marked.items())))
