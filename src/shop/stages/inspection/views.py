"""Inspections."""

from bowcore.stages.inspection.step import InspectionStep
from shop.casework.action_view import Given, JobActionView
from shop.stages.inspection.actions import inspect_bow
from shop.stages.inspection.forms import InspectionForm


class InspectView(JobActionView):
    action = inspect_bow
    form_class = InspectionForm
    screen = InspectionStep.key

    def given(self, form: InspectionForm) -> Given:
        return (form.places(),)
