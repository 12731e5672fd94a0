"""This job is timed by another school than the shop's."""

from collections.abc import Mapping

from bowcore.errors import BadInput
from shop.accounts.models import SCHOOL
from shop.bench.actions.rules import require_act, require_press_closed
from shop.records.deeds import Stamp, on_job
from shop.tuning.selectors import view_of


def choose_timing(job_id: int, chosen: Mapping[str, bool], stamp: Stamp) -> None:
    """Let this job differ from the shop in some of its choices.

    Raises
    ------
    BadInput
        No such choice.
    Refused
        The press is open, or the job is closed.
    """
    strange = set(chosen) - set(SCHOOL)
    if strange:
        raise BadInput(f"There is no school '{min(strange)}'.", "school", ", ".join(SCHOOL))
    with on_job(job_id, "choose_school", stamp) as act:
        view = view_of(act.job)
        require_act(stamp.by, "change", view)
        require_press_closed(view, "choose another school")
        mine = act.job.school | dict(chosen)
        act.job.school = {k: v for k, v in mine.items() if v != view.usual[k]}
        names = [SCHOOL_WORDS[k][v] for k, v in act.job.school.items()]
        act.said = "on this job: " + (", ".join(names) if names else "as the shop does")


SCHOOL_WORDS = {
    "half_twists": {True: "half twists too", False: "whole twists only"},
    "shorten_only": {True: "only ever in", False: "in and out"},
    "keep_length": {True: "keep axle to axle", False: "axle to axle may move"},
    "leave_buss": {True: "leave the bottom cam's cable", False: "any cable"},
    "top_first": {True: "top stop a little first", False: "both stops together"},
    "upright": {True: "cams upright at full draw", False: "lean left as it came"},
}
"""Each choice both ways, as it is said."""
