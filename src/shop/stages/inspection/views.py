"""Inspections."""

from bowcore.stages.inspection.step import InspectionStep
from shop.casework.action_view import JobActionView
from shop.casework.submissions import Submission
from shop.stages.inspection.actions import inspect_bow
from shop.stages.inspection.forms import InspectionForm


class InspectView(JobActionView):
    right = "inspect"
    form_class = InspectionForm
    screen = InspectionStep.key

    def act(self, form: InspectionForm, submission: Submission) -> None:
        inspect_bow(self.job_id, form.places(), submission)
