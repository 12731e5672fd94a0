"""Changes that no adjuster of the plan stands for: each makes its own readings stale."""

from dataclasses import dataclass

from bowcore.errors import BadInput


@dataclass(frozen=True)
class OtherChange:
    """A kind of change: what it is called, what is written down with it, whether lengths move."""

    key: str
    name: str
    ask: str
    opens_lengths: bool = False


OTHER_CHANGES = (
    OtherChange(
        "module_or_stop", "Draw module or stop", "from which letter or hole to which", True
    ),
    OtherChange("peep", "Peep", "moved, turned or tied anew, by how much"),
    OtherChange("loop_or_ties", "Loop or nock ties", "what was tied anew, and where"),
    OtherChange("rest", "Rest", "which way it went, and by how much"),
    OtherChange("arrow_or_nock", "Arrow or nock", "which arrow or nock from now on"),
    OtherChange("shots_on_new_threads", "Shot in", "how many shots on the new threads", True),
)
"""Kinds of the staleness table that are not turned in steps."""

_BY_KEY = {kind.key: kind for kind in OTHER_CHANGES}


def other_change(key: str) -> OtherChange:
    """The kind of that key; BadInput if there is none."""
    if key not in _BY_KEY:
        names = ", ".join(kind.name for kind in OTHER_CHANGES)
        raise BadInput("What was changed?", "change", names)
    return _BY_KEY[key]


def checked_note(key: str, note: str) -> str:
    """What was written down with a change.

    Raises
    ------
    BadInput
        Nothing was, or there is no such kind.
    """
    kind, said = other_change(key), note.strip()
    if not said:
        raise BadInput(f"{kind.name}: say {kind.ask}.", "note")
    return said[:200]


OPENING = tuple(kind.key for kind in OTHER_CHANGES if kind.opens_lengths)
"""Kinds after which nothing that was learned of the numbers holds, though the response does."""
