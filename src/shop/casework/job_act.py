"""One declaration of an act on a job: its verb, the right that it needs, and that the job is open."""

from collections.abc import Callable
from functools import update_wrapper
from typing import Concatenate, Generic, ParamSpec, TypeVar

from bowcore.work_order.roles import require
from shop.casework.checks import require_open
from shop.casework.submissions import EventDraft, Submission, on_job

Arguments = ParamSpec("Arguments")
Result = TypeVar("Result")


class JobAct(Generic[Arguments, Result]):
    """An act on a job, called with the job's number, the submission, and what is given for it.

    The act itself gets the event that is being recorded: its job is locked, `event.state` is what was known
    before. It says in `event.summary` what was done.

    Raises
    ------
    Refused
        The person lacks the right, the job is closed, or the act itself says no.
    DuplicateSubmission, KeyUsed, StaleJob
        As `on_job` says.
    """

    def __init__(
        self,
        do: Callable[Concatenate[EventDraft, Arguments], Result],
        verb: str,
        right: str,
        on_closed: bool,
    ):
        update_wrapper(self, do)
        self._do, self.verb, self.right, self._on_closed = do, verb, right, on_closed

    def __call__(
        self, job_id: int, submission: Submission, *args: Arguments.args, **kwargs: Arguments.kwargs
    ) -> Result:
        with on_job(job_id, self.verb, submission) as event:
            require(event.by.staff_role, self.right)
            if not self._on_closed:
                require_open(event.state)
            return self._do(event, *args, **kwargs)


def job_act(
    verb: str, *, right: str, on_closed: bool = False
) -> Callable[[Callable[Concatenate[EventDraft, Arguments], Result]], JobAct[Arguments, Result]]:
    """Make an act on a job of a function.

    Parameters
    ----------
    verb : str
        Under which it is recorded.
    right : str
        What a person has to be allowed to do.
    on_closed : bool
        Whether it is done on a job that is closed, too.
    """
    return lambda do: JobAct(do, verb, right, on_closed)
