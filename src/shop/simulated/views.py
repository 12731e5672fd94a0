"""The simulated tools, and how each behaves."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render

from shop.casework.action_view import ActionView
from shop.casework.submissions import Submission
from shop.simulated.actions import set_tool
from shop.simulated.bench import tools_shown
from shop.simulated.forms import ToolForm
from shop.simulated.models import ToolBehaviour


class ToolsView(ActionView):
    """Every tool on one page; a post changes one."""

    right = "set_tool"
    http_method_names = ["get", "post"]
    form_class = ToolForm

    def get(self, request: HttpRequest) -> HttpResponse:
        return self.show(200)

    def act(self, form: ToolForm, submission: Submission) -> None:
        set_tool(form.cleaned_data["tool"], form.cleaned_data["state"], submission)

    def done(self, form: ToolForm) -> HttpResponse:
        return redirect("tools")

    def show(self, status: int, **extra: Any) -> HttpResponse:
        context = {"tools": tools_shown(), "states": ToolBehaviour.STATES, "section": "shop"}
        return render(self.request, "simulated/tools.html", context | extra, status=status)
