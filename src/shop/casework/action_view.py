"""One view for every post on a job: parse, act, and show what came of it."""

from hashlib import sha256
from typing import Any, ClassVar, cast

from django import forms
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from django.views.generic import View

from bowcore.errors import BowcoreError
from bowcore.work_order.roles import require
from shop.casework.conflicts import as_a_whole
from shop.casework.job_act import JobAct
from shop.casework.screens import STEP_SCREENS, render_step, state_or_404, to_job
from shop.casework.submissions import DuplicateSubmission, KeyUsed, StaleJob, Submission
from shop.schema.accounts.models import Member
from shop.schema.jobs.models import Job

Given = tuple[Any, ...]
"""What is given for an act, in the order in which the act takes it."""


class SubmissionForm(forms.Form):
    """Every post carries a key (one fact) and the version of the job that was on screen."""

    key = forms.UUIDField(widget=forms.HiddenInput)
    seen = forms.IntegerField(widget=forms.HiddenInput, min_value=0)

    def given(self) -> Given:
        """What was posted, field by field."""
        return tuple(self.cleaned_data[name] for name in self.fields if name not in _NOT_CONTENT)

    def submission(self, by: Member) -> Submission:
        """Who posts this, with which key, having seen what."""
        data = self.cleaned_data
        return Submission(by, data["key"], data["seen"], self._digest())

    def _digest(self) -> str:
        """Of all that was posted; the same post sent once more has the same."""
        data: Any = self.data
        posted = [(n, data.getlist(n)) for n in sorted(data) if n not in _NOT_CONTENT]
        given: Any = self.files
        files = [(name, file.name, file.size) for name, file in sorted(given.items())]
        return sha256(repr((posted, files)).encode()).hexdigest()


_NOT_CONTENT = frozenset({"key", "seen", "csrfmiddlewaretoken"})


class ActionView(View):
    """A post that runs one action.

    A subclass says which `form_class` it takes, which `right` a person needs, and what `act` does with
    the form. The action itself checks who may do it and when. After it, `done` says where to go; when it is
    refused, `show` is drawn with what was typed and the reason: 422 for what is wrong, 409 for what someone
    else did.
    """

    http_method_names = ["post"]
    form_class: ClassVar[type[SubmissionForm]] = SubmissionForm
    right: ClassVar[str]

    def act(self, form: Any, submission: Submission) -> Any:
        """Run the action."""
        raise NotImplementedError

    def done(self, form: Any) -> HttpResponse:
        """Where to go when it is done, or had been done by the same post before."""
        raise NotImplementedError

    def show(self, status: int, **extra: Any) -> HttpResponse:
        """The screen again, with what was typed and why it was refused."""
        raise NotImplementedError

    def form(self, request: HttpRequest) -> SubmissionForm:
        """The posted form."""
        return self.form_class(request.POST, request.FILES)

    def post(self, request: HttpRequest, **_: Any) -> HttpResponse:
        """Parse, act, answer."""
        form = self.form(request)
        valid = form.is_valid()
        try:
            require(request.user.staff_role, self.right)  # type: ignore[union-attr]
            if not valid:
                return self.show(422, form=form)
            submission = form.submission(request.user)  # type: ignore[arg-type]
            as_a_whole(lambda: self.act(form, submission), again=lambda: _rewind(request))
        except DuplicateSubmission:
            return self.done(form)
        except KeyUsed as error:
            return self.show(409, form=form, already=error.event)
        except StaleJob as error:
            return self.show(409, form=form, meanwhile=error.meanwhile)
        except BowcoreError as error:
            form.add_error(None, str(error))
            return self.show(422, form=form, refusal=error)
        return self.done(form)


def _rewind(request: HttpRequest) -> None:
    """Uploaded files are read from their beginning again."""
    for files in request.FILES.lists():
        for file in files[1]:
            file.seek(0)


class JobActionView(ActionView):
    """A post on a job: an `action` that is run with what the form gives, and brings its right along.

    `screen` is the step where it is made; with `stay` it stays there afterwards. `step` in the address
    outranks `screen`, for posts that several screens make.
    """

    action: ClassVar[JobAct[..., Any]]
    screen: ClassVar[str] = ""
    stay: ClassVar[bool] = False

    def __init_subclass__(cls, **more: Any):
        super().__init_subclass__(**more)
        if "action" in cls.__dict__:
            cls.right = cls.action.right

    def given(self, form: Any) -> Given:
        """What the action takes, of the form and the address."""
        return cast(Given, form.given())

    def act(self, form: Any, submission: Submission) -> Any:
        return self.action(self.job_id, submission, *self.given(form))

    @property
    def job_id(self) -> int:
        return int(self.kwargs["job_id"])

    @property
    def step(self) -> str:
        return str(self.kwargs.get("step", self.screen))

    def post(self, request: HttpRequest, **kwargs: Any) -> HttpResponse:
        get_object_or_404(Job, pk=self.job_id)
        if self.step and self.step not in STEP_SCREENS:
            raise Http404
        return super().post(request, **kwargs)

    def done(self, form: Any) -> HttpResponse:
        if self.stay:
            return to_job(self.job_id, self.step)
        return to_job(self.job_id, state_or_404(self.job_id).course.next.step)

    def show(self, status: int, **extra: Any) -> HttpResponse:
        return render_step(self.request, self.job_id, self.step, status, **extra)
