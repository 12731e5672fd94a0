"""A bow goes back."""

from bowcore.stages.hand_over.step import HandOverStep
from shop.casework.action_view import JobActionView
from shop.stages.hand_over.actions import hand_over
from shop.stages.hand_over.forms import HandOverForm


class HandOverView(JobActionView):
    action = hand_over
    form_class = HandOverForm
    screen = HandOverStep.key
