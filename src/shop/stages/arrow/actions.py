"""Writes down an arrow that was put together, and a set that was weighed."""

from collections.abc import Sequence
from dataclasses import asdict, dataclass

from bowcore.accessories.arrow_build import ArrowParts, SetArrow, sort_set
from bowcore.accessories.on_the_bow import ARROW, thing
from bowcore.errors import Refused
from shop.casework.job_act import job_act
from shop.casework.state import job_state
from shop.casework.submissions import EventDraft, Submission
from shop.schema.arrows.models import ArrowSet
from shop.schema.fitting.models import ThingOnBow
from shop.schema.jobs.models import Job
from shop.stages.fit.actions import write_down_thing


@dataclass(frozen=True)
class BuiltArrow:
    """An arrow to be made: its name, parts and diameter [in], and its class of spine, "" where not known."""

    name: str
    parts: ArrowParts
    shaft_in: float
    spine: str = ""


def write_down_arrow(job_id: int, submission: Submission, built: BuiltArrow) -> ThingOnBow:
    """Set the bow up for an arrow by its parts; what else was known of an arrow of that name stays.

    Raises
    ------
    BadInput
        It has no name, or a figure that no arrow has.
    Refused
        The job is closed.
    """
    state, arrow = job_state(Job.objects.get(pk=job_id)), thing(ARROW)
    before = state.on_bow.of(ARROW)
    known = before if before.get("name") == built.name else {}
    figures = {
        "mass_gr": round(built.parts.mass_gr, 1), "length_in": built.parts.length_in,
        "shaft_in": built.shaft_in, "point_gr": built.parts.point_gr,
        "balance_in": round(built.parts.balance_in, 3),
    }  # fmt: skip
    details = {one.key: one for one in arrow.details}
    typed = {key: details[key].as_typed(value) for key, value in known.items()}
    typed |= {key: details[key].as_typed(value) for key, value in figures.items()}
    typed |= {"name": built.name} | ({"spine": built.spine} if built.spine else {})
    return write_down_thing(job_id, submission, ARROW, typed)


@job_act("note", right="read")
def write_down_set(event: EventDraft, name: str, arrows: Sequence[SetArrow]) -> ArrowSet:
    """Append a set as it was weighed.

    Raises
    ------
    BadInput
        Two arrows carry the same number, or fewer than two can be shot.
    Refused
        It has no name, or the job is closed.
    """
    if not name:
        raise Refused("What is the set called?")
    found = sort_set(arrows)
    event.summary = f"weighed the set {name}: {len(arrows)} arrows, {len(found.broken)} broken"[
        :300
    ]
    return ArrowSet.objects.create(**event.fact, name=name, arrows=[asdict(one) for one in arrows])
