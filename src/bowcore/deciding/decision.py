"""What is left to decide where nothing more can be had: one place, for plan, rail, rack and hand-over."""

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from enum import StrEnum

from bowcore.deciding.problem import Plan, PlanKind
from bowcore.work_order.roles import StaffRole, may

AS_NEAR_AS_IT_GOES = "as near as it can be set with the parts that are on it"
INSIDE_BY_ALL_READINGS = "inside by all readings together"
READ_AND_LEFT = "nothing that is turned moves it; read again and as it is"


class Decision(StrEnum):
    """What a technician does about a plan, the main act of its page."""

    DO_IT = "do it"
    CLOSEST = "closest"
    READ_AGAIN = "read again"
    SEND_BACK = "send back"
    ORDER = "order"
    LEAVE = "leave"
    SIGN = "sign"
    GO_ON = "go on"


@dataclass(frozen=True)
class NextDecision:
    """The main act of a plan: what, about which quantities or which part, and the reason that is recorded."""

    what: Decision
    quantities: tuple[str, ...] = ()
    reason: str = ""
    part: str = ""


_BY_MODULE = frozenset({"draw_length", "holding_weight"})
"""What a module or a stop sets: no part is called wrong for these alone, and none is twisted only to come a
little nearer to a wish."""
WRONG_PART_IN = 3 / 16
"""A part that has been on the bow is called the wrong length from here on; by less it is something else. Our
figure."""
WORTH_DOING, WORTH_DOING_AGAIN = 0.1, 0.5
"""The closest option is done where it takes away at least this share of what is outside; more once this bow
has been turned and has answered. Our figures."""


def comes_nearer(plan: Plan, answered: bool) -> bool:
    """Whether the closest option of a plan that does not reach takes away enough of what is outside."""
    if not plan.best.steps:
        return False
    still = next((one for one in plan.alternatives if not one.steps), None)
    share = WORTH_DOING_AGAIN if answered else WORTH_DOING
    return still is None or plan.best.outside <= (1 - share) * still.outside


def decide(
    plan: Plan | None,
    outside: Sequence[str],
    beside: Sequence[str],
    new_parts: Sequence[str],
    role: StaffRole,
    answered: bool = False,
    sent_back: Collection[str] = (),
    wished: Collection[str] = (),
) -> NextDecision:
    """The one next act after a plan.

    Parameters
    ----------
    plan : Plan or None
        None where none can be computed.
    outside : sequence of str
        Quantities that are outside their bands.
    beside : sequence of str
        Of those, what nothing that is turned moves and was read once only.
    new_parts : sequence of str
        Roles of the parts that were put on for this job.
    role : StaffRole
        Who asks: an apprentice does not leave a number as it is.
    answered : bool
        This bow has shown what a change does to it.
    sent_back : collection of str
        Roles of which a new part was found wrong on this job already: a second one is not to blame.
    wished : collection of str
        Quantities for which the customer has named a figure: no part is wrong because a wish is out of reach.
    """
    if plan is not None and plan.kind is PlanKind.CHANGE:
        return NextDecision(Decision.DO_IT)
    if plan is not None and plan.kind is PlanKind.UNREACHABLE:
        wrong = plan.shortfall.adjuster if plan.shortfall else ""
        if wrong in sent_back or set(outside) <= {*_BY_MODULE, *wished}:
            wrong = ""  # a wish, a module, or another part of the same length is behind it
        if wrong in new_parts:
            return NextDecision(Decision.SEND_BACK, part=wrong)
        if wrong and plan.shortfall and abs(plan.shortfall.off_in) >= WRONG_PART_IN:
            return NextDecision(Decision.ORDER, part=wrong)
        by_wish = "draw_length" in wished and set(outside) <= _BY_MODULE
        if comes_nearer(plan, answered) and not by_wish:
            return NextDecision(Decision.CLOSEST)
    again = plan.read_again if plan is not None else ""
    if again or beside:
        return NextDecision(Decision.READ_AGAIN, (again or beside[0],))
    if not outside:
        return NextDecision(Decision.GO_ON)
    reason = AS_NEAR_AS_IT_GOES
    if plan is not None and plan.kind is PlanKind.LEAVE:
        reason = INSIDE_BY_ALL_READINGS
    what = Decision.LEAVE if may(role, "leave_it") else Decision.SIGN
    return NextDecision(what, tuple(outside), reason)
