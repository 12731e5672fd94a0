"""A bow goes back."""

from bowcore.stages.hand_over.step import HandOverStep
from shop.casework.action_view import JobActionView
from shop.casework.submissions import Submission
from shop.stages.hand_over.actions import hand_over
from shop.stages.hand_over.forms import HandOverForm


class HandOverView(JobActionView):
    right = "hand_over"
    form_class = HandOverForm
    screen = HandOverStep.key

    def act(self, form: HandOverForm, submission: Submission) -> None:
        data = form.cleaned_data
        hand_over(self.job_id, data["override"], data["not_done"], submission)
