"""What is known of a customer, changed."""

from dataclasses import dataclass

from bowcore.errors import BadInput, Refused
from bowcore.work_order.roles import require
from shop.casework.submissions import Submission, without_job
from shop.schema.customers.models import Customer


@dataclass(frozen=True)
class CustomerFacts:
    """How a customer is called and reached."""

    name: str
    phone: str = ""
    note: str = ""


def change_customer(customer_id: int, wanted: CustomerFacts, submission: Submission) -> Customer:
    """Write a customer's name, phone or note anew; the log says what it was.

    Raises
    ------
    BadInput
        There is no name.
    Refused
        There is no such customer, or nothing differs.
    """
    require(submission.by.staff_role, "check_in")
    with without_job("change_customer", submission) as event:
        found = Customer.objects.select_for_update().filter(pk=customer_id).first()
        if found is None:
            raise Refused("There is no such customer.")
        if not wanted.name.strip():
            raise BadInput("A customer needs a name.", "name")
        before = CustomerFacts(found.name, found.phone, found.note)
        if before == wanted:
            raise Refused("Nothing is different.")
        found.name, found.phone, found.note = wanted.name, wanted.phone, wanted.note
        found.save()
        event.result = str(found.pk)
        event.summary = (
            f"changed customer {found.pk}: was {before.name}, {before.phone or 'no phone'}"
        )
        return found
