"""What lies in a drawer: cable spacers by size, and shims by which spacer goes left and right of a cam.

A kit has only so many ways to go in. Each way is a total in small whole steps, so that the ledger
stays a sum: ten-thousandths of an inch of a cable's length for spacers, thousandths of an inch of
difference between a cam's right and left spacer for shims.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from bowcore.errors import BadInput
from bowcore.mechanics.bundle import spacer_shortening_in
from bowcore.mechanics.response import Position
from bowcore.quantities.inches import parse_inches, say_inches

SPACER_STEP_IN = 0.0001
SHIM_STEP_IN = 0.001
"""Of difference between right and left: the cam itself moves by half of it."""
MOST_SPACERS = 2
"""Alike on one cable, a twist or more between them; common practice."""
PLAY_IN = 0.002
"""Left and right of one kit must add up alike within this, or the cam rattles on its axle."""
SPACER_EFFORT = 8
"""A spacer is for the last bit: it waits while up to so many half twists would do (common practice)."""
_COUNTED = {1: "one", 2: "two"}


@dataclass(frozen=True)
class ShimKit:
    """One kit: pairs of spacers, left and right of a cam as seen from behind the bow. [in]"""

    name: str
    pairs: tuple[tuple[float, float], ...]

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


def shim_total(left_in: float, right_in: float) -> int:
    """A pair of spacers as a total in steps: the more, the further the cam sits to the left."""
    return round((right_in - left_in) / SHIM_STEP_IN)


def say_shims(left_in: float, right_in: float) -> str:
    """A pair as it is said: `left 0.110, right 0.140`."""
    return f"left {left_in:.3f}, right {right_in:.3f}"


def shim_positions(kits: Sequence[ShimKit]) -> tuple[Position, ...]:
    """Every way that the kits can go in, from the cam furthest right to furthest left.

    The thicker kit is the later one and counts as more to handle: it waits until the first has run
    out (common practice).
    """
    found: dict[int, Position] = {}
    for effort, kit in enumerate(kits, 1):
        for left, right in kit.pairs:
            total = shim_total(left, right)
            said = f"{say_shims(left, right)} ({kit.name})"
            found.setdefault(total, Position(total, said, effort))
    return tuple(found[total] for total in sorted(found))


def spacer_positions(sizes_in: Sequence[float], half_split_in: float) -> tuple[Position, ...]:
    """Every way that spacers can sit in one cable: none, one or two alike, shortest pull first.

    Parameters
    ----------
    sizes_in : sequence of float
        Diameters in the drawer. [in]
    half_split_in : float
        From the spacer to where the halves meet again. [in]

    Returns
    -------
    tuple of Position
        Empty without a kit.
    """
    if not sizes_in:
        return ()
    found = {0: Position(0, "no spacer")}
    for size in sorted(sizes_in):
        for count in range(1, MOST_SPACERS + 1):
            total = count * round(spacer_shortening_in(size, half_split_in) / SPACER_STEP_IN)
            plural = "s" if count > 1 else ""
            said = f"{_COUNTED[count]} {say_inches(size, 64)} in spacer{plural}"
            known = found.get(total)
            if known is None or count * SPACER_EFFORT < known.effort:
                found[total] = Position(total, said, count * SPACER_EFFORT)
    return tuple(found[total] for total in sorted(found))


def read_sizes(text: str) -> tuple[float, ...]:
    """Sizes as a person lists them: `1/16, 1/8, 3/16, 1/4`; none for an empty line.

    Raises
    ------
    BadInput
        One of them is no length, or no spacer is that thick.
    """
    sizes = [float(parse_inches(part).value) for part in text.split(",") if part.strip()]
    if not all(0 < size <= 0.5 for size in sizes):
        raise BadInput("A spacer is up to half an inch thick.", "spacer_sizes", "1/16, 1/8")
    return tuple(sorted(set(sizes)))


def read_kits(text: str) -> tuple[ShimKit, ...]:
    """Kits as a person writes them down, one a line: `thin: .110/.140, .125/.125, .140/.110`.

    Raises
    ------
    BadInput
        A line is no kit; the error says which.
    """
    return tuple(_kit(line) for line in text.splitlines() if line.strip())


def write_kits(kits: Sequence[ShimKit]) -> str:
    """The text that `read_kits` reads."""
    lines = [
        f"{kit.name}: " + ", ".join(f"{left:.3f}/{right:.3f}" for left, right in kit.pairs)
        for kit in kits
    ]
    return "\n".join(lines)


def read_pair(text: str) -> tuple[float, float]:
    """One pair of shims, left / right: `.110/.140`. [in]

    Raises
    ------
    BadInput
        It is no pair of widths.
    """
    left, slash, right = text.partition("/")
    try:
        pair = (float(left), float(right))
    except ValueError:
        pair = (-1.0, -1.0)
    if not slash or not all(0 <= width <= 1 for width in pair):
        raise BadInput(
            f"“{text.strip()}” is no pair of shims: say left / right in inches.",
            "shims",
            ".110/.140",
        )
    return pair


def _kit(line: str) -> ShimKit:
    name, colon, pairs = line.partition(":")
    if not colon or not name.strip():
        raise BadInput(
            f"“{line.strip()}” is no kit: its name, a colon, then left/right pairs.", "shim_kits",
            "thin: .110/.140, .125/.125",
        )  # fmt: skip
    return ShimKit(
        name.strip(), tuple(read_pair(pair) for pair in pairs.split(",") if pair.strip())
    )
