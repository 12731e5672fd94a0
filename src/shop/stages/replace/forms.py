"""What is posted at the press and after it: parts, steps, gates, checks, changes."""

from decimal import Decimal
from typing import Any

from django import forms
from django.contrib.auth import authenticate
from django.http import HttpRequest

from bowcore.adjusters.limb_bolt import BOLT_MARKS
from bowcore.adjusters.steps import Steps
from bowcore.measurement.cam_mark import Tug
from bowcore.stages.replace.press_plan import PressKind
from bowcore.stages.string_set.arrival import LengthKnown
from bowcore.work_order.replacement import OldPart, ReplacementPolicy
from shop.accounts.selectors import passes, wants_code
from shop.casework.action_view import SubmissionForm
from shop.casework.forms import ReasonForm, RowsForm
from shop.schema.accounts.models import MOST_DRAWS, Member
from shop.stages.replace.actions.check_part import TugResult
from shop.stages.replace.actions.cycle import NewPart
from shop.ui.form_fields import LayField, LengthField, TextListField

MOST_POSTED_STEPS = 999


class ReplaceForm(SubmissionForm):
    """The part that goes on next."""

    role = forms.CharField()


class ReplacementForm(SubmissionForm):
    """How this job's parts are replaced."""

    policy = forms.ChoiceField(choices=[(s.value, s.value) for s in ReplacementPolicy])


class PressForm(SubmissionForm):
    """In which press this job is done."""

    kind = forms.ChoiceField(choices=[(p.value, p.value) for p in PressKind])


class TrayForm(SubmissionForm):
    """A small part that came off."""

    name = forms.CharField(max_length=60, error_messages={"required": "What is out of the bow?"})


class NewPartForm(SubmissionForm):
    """A part as it goes on."""

    length_in = LengthField(
        label="Its length", error_messages={"required": "Which length does it have?"}
    )
    known = forms.ChoiceField(
        choices=[(x.value, x.value) for x in LengthKnown], required=False, label="The length is"
    )
    strands = forms.IntegerField(
        min_value=4, max_value=60, label="Strands", error_messages={"required": "How many strands?"}
    )
    note = forms.CharField(required=False, max_length=120, label="Maker, colour, batch")
    lay = LayField()
    becomes = forms.ChoiceField(choices=[(x.value, x.value) for x in OldPart], required=False)
    sure = forms.BooleanField(required=False)

    def part(self) -> NewPart:
        """As the action takes it."""
        data = self.cleaned_data
        known = LengthKnown(data["known"] or LengthKnown.LABELLED)
        becomes = OldPart(data["becomes"]) if data["becomes"] else None
        return NewPart(
            data["length_in"],
            data["strands"],
            data["note"],
            data["lay"],
            known,
            becomes,
            data["sure"],
        )


class TugForm(SubmissionForm):
    """The tug test of a new part, or why it could not be made."""

    role = forms.CharField(max_length=20)
    tug = forms.ChoiceField(choices=[(t.value, t.value) for t in Tug], required=False)
    off_mark_in = LengthField(required=False, label="How far off the mark")
    not_because = forms.CharField(required=False, max_length=150)
    looked_twice = forms.BooleanField(required=False)

    def result(self) -> TugResult:
        """As the action takes it."""
        data = self.cleaned_data
        off = data["off_mark_in"] or Decimal(0)
        return TugResult(data["role"], data["tug"], off, data["not_because"], data["looked_twice"])


class StepForm(forms.Form):
    """Steps of one adjuster."""

    adjuster = forms.CharField(max_length=20)
    steps = forms.IntegerField(min_value=-MOST_POSTED_STEPS, max_value=MOST_POSTED_STEPS)


class StepsForm(RowsForm):
    """Steps of several adjusters."""

    row_form = StepForm
    prefix_of_rows = "turn"

    note = forms.CharField(required=False, max_length=120)

    def steps(self) -> Steps:
        """What was turned; zeros drop out."""
        return Steps((row["adjuster"], row["steps"]) for row in self.cleaned_rows())


class CountBoltsForm(SubmissionForm):
    """Where both limb bolts are, in turns out from bottomed."""

    top = forms.CharField(max_length=20, label="Top", error_messages={"required": "Count it."})
    bottom = forms.CharField(
        max_length=20, label="Bottom", error_messages={"required": "Count it."}
    )

    def counts(self) -> dict[str, str]:
        """By mark."""
        data = self.cleaned_data
        return dict(zip(BOLT_MARKS["both"], (data["top"], data["bottom"]), strict=True))


class DrawInForm(SubmissionForm):
    """How often the new threads were drawn."""

    draws = forms.IntegerField(
        min_value=0, max_value=MOST_DRAWS, label="Draws", error_messages={"required": "How often?"}
    )


_DO_NOT_BELONG = "That name and password do not belong together."
_LOCKED = "Too many wrong passwords: this name cannot sign for a while. Somebody else can."


class GateForm(SubmissionForm):
    """The gate's points and, where it is needed, a second person's signature."""

    points = TextListField(required=False)
    nothing_done = forms.BooleanField(required=False)
    second_name = forms.CharField(required=False)
    second_password = forms.CharField(required=False)
    second_code = forms.CharField(required=False, max_length=20)

    def __init__(self, *args: Any, request: HttpRequest | None = None, **kwargs: Any):
        super().__init__(*args, **kwargs)
        self.request = request

    def clean(self) -> dict[str, Any]:
        data: dict[str, Any] = super().clean() or {}
        data["second"] = None
        if data.get("second_name"):
            self._second_signs(data)
        return data

    def _second_signs(self, data: dict[str, Any]) -> None:
        """Name, password and, for whoever logs in with one, a code."""
        name, word = data["second_name"].strip().lower(), data.get("second_password", "")
        second = authenticate(self.request, username=name, password=word, at_gate=True)
        if second is None:
            locked = getattr(self.request, "axes_locked_out", False)
            self.add_error("second_name", _LOCKED if locked else _DO_NOT_BELONG)
        elif wants_code(second) and not self._code_fits(second, data.get("second_code", "")):
            ask = f"{second} logs in with a code. Which one does the phone show now?"
            self.add_error("second_code", ask)
        else:
            data["second"] = second

    @staticmethod
    def _code_fits(second: Member, code: str) -> bool:
        """An empty one is not tried: each wrong try makes the next one wait."""
        return bool(code) and passes(second, code)


class OtherChangeForm(SubmissionForm):
    """A change that is not turned in steps."""

    change = forms.CharField(max_length=30)
    note = forms.CharField(required=False, max_length=200)


class TakeBackForm(SubmissionForm):
    """Where in the job's order the taking back begins."""

    since = forms.IntegerField(min_value=1)


class SendBackForm(ReasonForm):
    """A new part that is the wrong length."""

    role = forms.CharField(max_length=20)
