"""What every stage answers with: one thing to do, why, what it will show, and what else would do."""

from dataclasses import dataclass
from typing import NamedTuple

from bowcore.adjusters.steps import NO_STEPS, Steps


class Expected(NamedTuple):
    """What a quantity, or one way of a tear, will read after an act, and its standard uncertainty."""

    what: str
    value: float
    sigma: float


@dataclass(frozen=True)
class Act:
    """One thing to do; each stage adds what only its own acts have.

    Attributes
    ----------
    do, why : str
        What to do, and for which reason, in sentences.
    steps : Steps
        Taps, turns and half twists that go into the ledger; none where it is done by hand.
    expect : tuple of Expected
        What will be read afterwards.
    chance : float
        How likely its reason is the true one; 0 where it rests on no such guess.
    minutes : float
        What it takes, a number that may still be outside counted in; 0 where nobody weighs it.
    sure : str
        What the figures rest on.
    others : tuple of str
        What else would work.
    caution : str
        What has to be minded before it is done.
    stop : bool
        The caution forbids it until its cause is mended.
    """

    do: str
    why: str = ""
    steps: Steps = NO_STEPS
    expect: tuple[Expected, ...] = ()
    chance: float = 0.0
    minutes: float = 0.0
    sure: str = ""
    others: tuple[str, ...] = ()
    caution: str = ""
    stop: bool = False
