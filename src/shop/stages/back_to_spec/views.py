"""The plan and its policies."""

from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import render
from django.utils.html import escape

from bowcore.errors import BowcoreError
from bowcore.io.stored_advice import problem_record
from bowcore.stages.back_to_spec.step import BackToSpecStep
from shop.casework.action_view import Given, JobActionView
from shop.casework.screens import state_or_404
from shop.stages.back_to_spec import screens
from shop.stages.back_to_spec.actions.accept_plan import accept_plan
from shop.stages.back_to_spec.actions.change_module import change_module
from shop.stages.back_to_spec.actions.choose_policy import choose_policy
from shop.stages.back_to_spec.actions.correct_change import correct_change
from shop.stages.back_to_spec.forms import CorrectChangeForm, ModuleForm, PolicyForm
from shop.stages.replace.forms import StepsForm


class AcceptPlanView(JobActionView):
    action = accept_plan
    form_class = StepsForm
    screen = BackToSpecStep.key

    def given(self, form: StepsForm) -> Given:
        return (form.steps(),)


class CorrectChangeView(JobActionView):
    action = correct_change
    form_class = CorrectChangeForm
    screen = BackToSpecStep.key
    stay = True


class ChoosePolicyView(JobActionView):
    action = choose_policy
    form_class = PolicyForm
    screen = BackToSpecStep.key
    stay = True

    def given(self, form: PolicyForm) -> Given:
        data = form.cleaned_data
        return ({data["name"]: data["value"]},)


def policies(request: HttpRequest, job_id: int) -> HttpResponse:
    """Other policies with their plans, as a fragment."""
    state = state_or_404(job_id)
    try:
        shown = screens.policies_context(state)
    except BowcoreError as error:
        return HttpResponse(escape(str(error)))
    return render(request, "back_to_spec/policies.html", shown | {"job": state.job})


def question(request: HttpRequest, job_id: int) -> HttpResponse:
    """The plan's question as the core got it, for `fennock core advice`."""
    try:
        record = problem_record(state_or_404(job_id).advice.problem)
    except BowcoreError as error:
        return HttpResponse(escape(str(error)), status=409)
    headers = {"Content-Disposition": f'attachment; filename="job-{job_id}-plan.json"'}
    return JsonResponse(record, headers=headers, json_dumps_params={"ensure_ascii": False})


class ChangeModuleView(JobActionView):
    action = change_module
    form_class = ModuleForm
    screen = BackToSpecStep.key
