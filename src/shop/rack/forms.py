"""What is posted on a customer's page."""

from django import forms

from shop.casework.action_view import SubmissionForm
from shop.rack.actions.change_customer import CustomerFacts


class MoveBowForm(SubmissionForm):
    """To which shop a bow goes."""

    shop = forms.IntegerField(
        min_value=1, max_value=2**31, error_messages={"required": "To which shop?"}
    )


class CustomerForm(SubmissionForm):
    """How a customer is called and reached."""

    name = forms.CharField(
        max_length=80, label="Name", error_messages={"required": "A customer needs a name."}
    )
    phone = forms.CharField(max_length=40, required=False, label="Phone")
    note = forms.CharField(max_length=200, required=False, label="Note")

    def facts(self) -> CustomerFacts:
        """As the action takes it."""
        data = self.cleaned_data
        return CustomerFacts(data["name"], data["phone"], data["note"])
