"""Posts at the press and after it."""

from typing import Any

from django.http import HttpRequest, HttpResponse

from bowcore.stages.back_to_spec.step import BackToSpecStep
from bowcore.stages.replace.step import ReplaceStep
from shop.casework.action_view import JobActionView, SubmissionForm
from shop.casework.screens import state_or_404, to_job
from shop.casework.submissions import Submission
from shop.casework.views import log
from shop.stages.replace import forms
from shop.stages.replace.actions import cycle
from shop.stages.replace.actions.bolts_back import bolts_back
from shop.stages.replace.actions.bring_home import bring_home
from shop.stages.replace.actions.check_part import check_part, send_back
from shop.stages.replace.actions.choose_press import choose_press
from shop.stages.replace.actions.choose_replacement import choose_replacement
from shop.stages.replace.actions.count_bolts import count_bolts
from shop.stages.replace.actions.draw_in import draw_in
from shop.stages.replace.actions.log_done import log_done
from shop.stages.replace.actions.note_change import note_change
from shop.stages.replace.actions.part_not_on import part_not_on
from shop.stages.replace.actions.small_parts import put_in_tray
from shop.stages.replace.actions.take_back import take_back


class OpenToReplaceView(JobActionView):
    right = "open_press"
    form_class = forms.ReplaceForm
    screen = ReplaceStep.key

    def act(self, form: forms.ReplaceForm, submission: Submission) -> None:
        cycle.open_press_to_replace(self.job_id, form.cleaned_data["role"], submission)


class SwapView(JobActionView):
    right = "change"
    form_class = forms.NewPartForm
    screen = ReplaceStep.key

    def act(self, form: forms.NewPartForm, submission: Submission) -> None:
        cycle.swap(self.job_id, form.part(), submission)


class ChooseReplacementView(JobActionView):
    right = "change"
    form_class = forms.ReplacementForm
    screen = ReplaceStep.key
    stay = True

    def act(self, form: forms.ReplacementForm, submission: Submission) -> None:
        choose_replacement(self.job_id, form.cleaned_data["policy"], submission)


class CountBoltsView(JobActionView):
    right = "read"
    form_class = forms.CountBoltsForm
    stay = True

    def act(self, form: forms.CountBoltsForm, submission: Submission) -> None:
        count_bolts(self.job_id, form.counts(), submission)


class ChoosePressView(JobActionView):
    right = "change"
    form_class = forms.PressForm
    screen = ReplaceStep.key
    stay = True

    def act(self, form: forms.PressForm, submission: Submission) -> None:
        choose_press(self.job_id, form.cleaned_data["kind"], submission)


class TrayView(JobActionView):
    right = "change"
    form_class = forms.TrayForm
    screen = BackToSpecStep.key

    def act(self, form: forms.TrayForm, submission: Submission) -> None:
        put_in_tray(self.job_id, form.cleaned_data["name"], submission)


class DrawInView(JobActionView):
    right = "change"
    form_class = forms.DrawInForm
    screen = BackToSpecStep.key

    def act(self, form: forms.DrawInForm, submission: Submission) -> None:
        draw_in(self.job_id, form.cleaned_data["draws"], submission)


class BoltsBackView(JobActionView):
    right = "change"
    form_class = SubmissionForm
    screen = BackToSpecStep.key

    def act(self, form: SubmissionForm, submission: Submission) -> None:
        bolts_back(self.job_id, submission)


class CheckPartView(JobActionView):
    right = "read"
    form_class = forms.TugForm
    screen = ReplaceStep.key

    def act(self, form: forms.TugForm, submission: Submission) -> None:
        check_part(self.job_id, form.result(), submission)


class BringHomeView(JobActionView):
    """The twists that a new part was found to be off."""

    right = "open_press"
    form_class = SubmissionForm
    screen = ReplaceStep.key

    def act(self, form: SubmissionForm, submission: Submission) -> None:
        bring_home(self.job_id, submission)


class ChangeOtherwiseView(JobActionView):
    """Something else than the plan: the press opened for it, or logged where it needs none."""

    right = "change"
    form_class = forms.StepsForm
    screen = BackToSpecStep.key

    def act(self, form: forms.StepsForm, submission: Submission) -> None:
        state, note = state_or_404(self.job_id), form.cleaned_data["note"]
        cycle.change_otherwise(self.job_id, state, form.steps(), note, submission)


class LogDoneView(JobActionView):
    """Something that was turned before it was logged."""

    right = "log_done"
    form_class = forms.StepsForm
    screen = BackToSpecStep.key

    def act(self, form: forms.StepsForm, submission: Submission) -> None:
        log_done(self.job_id, form.steps(), form.cleaned_data["note"], submission)


class TurnView(JobActionView):
    right = "change"
    form_class = forms.StepsForm
    screen = BackToSpecStep.key

    def act(self, form: forms.StepsForm, submission: Submission) -> None:
        cycle.turn(self.job_id, form.steps(), submission)


class TurnWithoutPressView(JobActionView):
    right = "change"
    form_class = forms.StepsForm
    screen = BackToSpecStep.key

    def act(self, form: forms.StepsForm, submission: Submission) -> None:
        cycle.turn_without_press(self.job_id, form.steps(), submission)


class LetDownView(JobActionView):
    right = "let_down"
    form_class = forms.GateForm
    screen = BackToSpecStep.key

    def form(self, request: HttpRequest) -> forms.GateForm:
        return forms.GateForm(request.POST, request=request)

    def act(self, form: forms.GateForm, submission: Submission) -> None:
        data = form.cleaned_data
        gate = cycle.Gate(data["points"], data["second"], data["nothing_done"])
        cycle.let_down(self.job_id, gate, submission)


class SendBackView(JobActionView):
    right = "read"
    form_class = forms.SendBackForm
    screen = BackToSpecStep.key

    def act(self, form: forms.SendBackForm, submission: Submission) -> None:
        data = form.cleaned_data
        send_back(self.job_id, data["role"], data["reason"], submission)


class LogActionView(JobActionView):
    """A post that is made on the log."""

    def done(self, form: Any) -> HttpResponse:
        return to_job(self.job_id)

    def show(self, status: int, **extra: Any) -> HttpResponse:
        return log(self.request, self.job_id, status, **extra)


class NoteChangeView(LogActionView):
    right = "change"
    form_class = forms.OtherChangeForm

    def act(self, form: forms.OtherChangeForm, submission: Submission) -> None:
        data = form.cleaned_data
        note_change(self.job_id, data["change"], data["note"], submission)


class PartNotOnView(LogActionView):
    """A new part that was logged by mistake."""

    right = "change"

    def act(self, form: SubmissionForm, submission: Submission) -> None:
        part_not_on(self.job_id, self.kwargs["adjustment_id"], submission)


class TakeBackView(LogActionView):
    right = "change"
    form_class = forms.TakeBackForm

    def act(self, form: forms.TakeBackForm, submission: Submission) -> None:
        take_back(self.job_id, form.cleaned_data["since"], submission)
