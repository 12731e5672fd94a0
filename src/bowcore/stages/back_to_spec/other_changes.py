"""Changes that are not turned in steps: each makes its own readings stale."""

from dataclasses import dataclass

from bowcore.errors import BadInput
from bowcore.quantities.changes import Change


@dataclass(frozen=True)
class OtherChange:
    """A kind of change: what it is called, what is written down with it, whether lengths move."""

    key: Change
    name: str
    ask: str
    opens_lengths: bool = False


OTHER_CHANGES = (
    OtherChange(
        Change.MODULE_OR_STOP, "Draw module or stop", "from which letter or hole to which", True
    ),
    OtherChange(Change.PEEP, "Peep", "moved, turned or tied anew, by how much"),
    OtherChange(Change.LOOP_OR_TIES, "Loop or nock ties", "what was tied anew, and where"),
    OtherChange(
        Change.LOOP, "Loop alone, its ties left on", "how long, and which way its knots sit"
    ),
    OtherChange(Change.REST, "Rest", "which way it went, and by how much"),
    OtherChange(Change.ARROW_OR_NOCK, "Arrow or nock", "which arrow or nock from now on"),
)
"""Kinds of change that are not turned in steps, as they are noted."""

DRAWN_IN = OtherChange(Change.SHOTS, "Drawn in", "how many draws or shots")
"""New threads settle: counted, not noted."""

_BY_KEY: dict[str, OtherChange] = {kind.key: kind for kind in (*OTHER_CHANGES, DRAWN_IN)}


def other_change(key: str) -> OtherChange:
    """The kind of that key; BadInput if it does not exist."""
    if key not in _BY_KEY:
        names = ", ".join(kind.name for kind in OTHER_CHANGES)
        raise BadInput("What was changed?", "change", names)
    return _BY_KEY[key]


def checked_note(key: str, note: str) -> str:
    """What was written down with a change.

    Raises
    ------
    BadInput
        Nothing was, or the kind does not exist.
    """
    kind, text = other_change(key), note.strip()
    if kind not in OTHER_CHANGES:
        raise BadInput(f"{kind.name}: count it where the readings are.", "change")
    if not text:
        raise BadInput(f"{kind.name}: write down {kind.ask}.", "note")
    return text[:200]


OPENING = tuple(kind.key for kind in OTHER_CHANGES if kind.opens_lengths)
"""Kinds after which the numbers are open again, though the response is still known."""
