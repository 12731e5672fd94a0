"""This job is replaced in another way than the shop's usual one."""

from bowcore.service.order import ReplaceSchool
from shop.bench.actions.rules import require_act, require_press_closed
from shop.records.deeds import Stamp, on_job
from shop.tuning.selectors import view_of


def choose_school(job_id: int, school: str, stamp: Stamp) -> None:
    """Replace this job's parts in the order of another school.

    Raises
    ------
    Refused
        The press is open, or the job is closed.
    """
    with on_job(job_id, "choose_school", stamp) as act:
        view = view_of(act.job)
        require_act(stamp.by, "change", view)
        require_press_closed(view, "choose another way")
        act.job.replace_school = ReplaceSchool(school).value
        act.said = f"replaces {act.job.replace_school} on this job"
