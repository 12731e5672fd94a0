"""One pull on the board: peak, gap, lean, draw and holding weight entered in one card."""

from dataclasses import dataclass

from django.http import HttpRequest

from bowcore.quantities.quantity import Quantity
from bowcore.workflow import cautions
from shop.jobs.screens import Context
from shop.jobs.state import JobState
from shop.measurements.forms import PullForm

ONE_PULL = "pull"
"""In the address or the post: the card is wanted."""


@dataclass(frozen=True)
class PullRow:
    """One quantity of the card: how many takes are there, how many are wanted, what was typed."""

    quantity: Quantity
    taken: int
    wanted: int
    text: str
    direction: str


def pull_wanted(request: HttpRequest, state: JobState) -> bool:
    """Whether the card is asked for and the bow may be drawn."""
    asked = ONE_PULL in request.GET or ONE_PULL in request.POST
    return asked and state.facts.may_be_drawn and bool(pulled_names(state))


def pulled_names(state: JobState) -> list[str]:
    """What is read at full draw and waits, in the order in which the board shows it."""
    waiting = dict.fromkeys((*state.course.unread, *state.course.to_read))
    return [name for name in waiting if state.facts.named(name).drawn]


def pull_card(request: HttpRequest, state: JobState) -> Context:
    """The card, with what was typed and refused."""
    prefix, rows = PullForm.prefix_of_rows, []
    for number, name in enumerate(pulled_names(state)):
        now, at = state.facts.current(name), f"{prefix}-{number}"
        taken = now.summary.takes if now and now.fresh and now.summary else 0
        text, way = (request.POST.get(f"{at}-{field}", "") for field in ("text", "direction"))
        what = state.facts.named(name)
        rows.append(PullRow(what, taken, state.facts.takes_wanted_of(what), text, way))
    return {
        "pull_rows": rows,
        "prefix": prefix,
        "caution": cautions.ON_THE_DRAW_BOARD,
        "one_pull": ONE_PULL,
    }
