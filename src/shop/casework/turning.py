"""Steps on a job's bow: in words, whether they need the press, and how they are taken back."""

from dataclasses import dataclass

from bowcore.adjusters.adjuster import Needs
from bowcore.adjusters.steps import Steps
from bowcore.stages.replace.take_back import possible_reverse
from shop.casework.job_facts import LedgerLine
from shop.casework.state import JobState


def say_done(state: JobState, steps: Steps) -> str:
    """Steps in words, with the shop's names of the parts."""
    return " ".join(
        f"{one.label}: {one.say_set(one.total(state.facts), count)}."
        for key, count in steps.items()
        if (one := state.adjuster(key))
    )


def needs_press(state: JobState, steps: Steps) -> bool:
    """Whether any of the steps needs the bow in the press."""
    return any(state.adjuster(key).needs is not Needs.NOTHING for key in steps)


@dataclass(frozen=True)
class WayBack:
    """What takes back a change and all after it, in words, and whether the bow has to go into the press."""

    words: str
    in_press: bool


def ways_back(state: JobState) -> list[tuple[LedgerLine, WayBack | None]]:
    """Each line of the ledger with its way back, on the first line of what was done at one time."""
    first_of = {line.row.seq: line.row.pk for line in reversed(state.ledger)}
    return [
        (line, _way_back(state, line) if first_of[line.row.seq] == line.row.pk else None)
        for line in state.ledger
    ]


def _way_back(state: JobState, line: LedgerLine) -> WayBack | None:
    if state.press is not None or state.facts.handed_over:
        return None
    steps = possible_reverse(state.facts.changes, line.row.seq)
    return WayBack(say_done(state, steps), needs_press(state, steps)) if steps else None
