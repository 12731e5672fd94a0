"""Whether a part's length may be called the cause of what was read, and what that rests on."""

from bowcore.bow.specification import BowSpec
from bowcore.evidence.facts import Facts
from bowcore.quantities.changes import Change

RESTS_ON = (
    "Measured against the published specs: bows of one model differ, and by as much a part may only seem "
    "to be off."
)


def names_causes(spec: BowSpec, facts: Facts) -> bool:
    """A guessed book names no cause; after another module or stop hole that explains what moved, not the
    lengths."""
    by_module = any(change.change is Change.MODULE_OR_STOP for change in facts.changes)
    return not spec.guessed and not by_module
