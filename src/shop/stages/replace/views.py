"""Posts at the press and after it."""

from typing import Any

from django.http import HttpRequest, HttpResponse

from bowcore.stages.back_to_spec.step import BackToSpecStep
from bowcore.stages.replace.step import ReplaceStep
from shop.casework.action_view import Given, JobActionView, SubmissionForm
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
    action = cycle.open_press_to_replace
    form_class = forms.ReplaceForm
    screen = ReplaceStep.key


class SwapView(JobActionView):
    action = cycle.swap
    form_class = forms.NewPartForm
    screen = ReplaceStep.key

    def given(self, form: forms.NewPartForm) -> Given:
        return (form.part(),)


class ChooseReplacementView(JobActionView):
    action = choose_replacement
    form_class = forms.ReplacementForm
    screen = ReplaceStep.key
    stay = True


class CountBoltsView(JobActionView):
    action = count_bolts
    form_class = forms.CountBoltsForm
    stay = True

    def given(self, form: forms.CountBoltsForm) -> Given:
        return (form.counts(),)


class ChoosePressView(JobActionView):
    action = choose_press
    form_class = forms.PressForm
    screen = ReplaceStep.key
    stay = True


class TrayView(JobActionView):
    action = put_in_tray
    form_class = forms.TrayForm
    screen = BackToSpecStep.key


class DrawInView(JobActionView):
    action = draw_in
    form_class = forms.DrawInForm
    screen = BackToSpecStep.key


class BoltsBackView(JobActionView):
    action = bolts_back
    screen = BackToSpecStep.key


class CheckPartView(JobActionView):
    action = check_part
    form_class = forms.TugForm
    screen = ReplaceStep.key

    def given(self, form: forms.TugForm) -> Given:
        return (form.result(),)


class BringHomeView(JobActionView):
    """The twists that a new part was found to be off."""

    action = bring_home
    screen = ReplaceStep.key


class ChangeOtherwiseView(JobActionView):
    """Something else than the plan: the press opened for it, or logged where it needs none."""

    right = "change"
    form_class = forms.StepsForm
    screen = BackToSpecStep.key

    def act(self, form: forms.StepsForm, submission: Submission) -> None:
        state, note = state_or_404(self.job_id), form.cleaned_data["note"]
        cycle.change_otherwise(state, submission, form.steps(), note)


class LogDoneView(JobActionView):
    """Something that was turned before it was logged."""

    action = log_done
    form_class = forms.StepsForm
    screen = BackToSpecStep.key

    def given(self, form: forms.StepsForm) -> Given:
        return (form.steps(), form.cleaned_data["note"])


class TurnView(JobActionView):
    action = cycle.turn
    form_class = forms.StepsForm
    screen = BackToSpecStep.key

    def given(self, form: forms.StepsForm) -> Given:
        return (form.steps(),)


class TurnWithoutPressView(JobActionView):
    action = cycle.turn_without_press
    form_class = forms.StepsForm
    screen = BackToSpecStep.key

    def given(self, form: forms.StepsForm) -> Given:
        return (form.steps(),)


class LetDownView(JobActionView):
    action = cycle.let_down
    form_class = forms.GateForm
    screen = BackToSpecStep.key

    def form(self, request: HttpRequest) -> forms.GateForm:
        return forms.GateForm(request.POST, request=request)

    def given(self, form: forms.GateForm) -> Given:
        data = form.cleaned_data
        gate = cycle.Gate(data["points"], data["second"], data["nothing_done"])
        return (gate,)


class SendBackView(JobActionView):
    action = send_back
    form_class = forms.SendBackForm
    screen = BackToSpecStep.key

    def given(self, form: forms.SendBackForm) -> Given:
        data = form.cleaned_data
        return (data["role"], data["reason"])


class LogActionView(JobActionView):
    """A post that is made on the log."""

    def done(self, form: Any) -> HttpResponse:
        return to_job(self.job_id)

    def show(self, status: int, **extra: Any) -> HttpResponse:
        return log(self.request, self.job_id, status, **extra)


class NoteChangeView(LogActionView):
    action = note_change
    form_class = forms.OtherChangeForm


class PartNotOnView(LogActionView):
    """A new part that was logged by mistake."""

    action = part_not_on

    def given(self, form: SubmissionForm) -> Given:
        return (self.kwargs["adjustment_id"],)


class TakeBackView(LogActionView):
    right = "change"
    form_class = forms.TakeBackForm

    def act(self, form: forms.TakeBackForm, submission: Submission) -> None:
        take_back(self.job_id, submission, form.cleaned_data["since"])
