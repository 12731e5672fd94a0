"""Questions about customers."""

from django.db.models import QuerySet

from shop.customers.models import Customer


def customers_called(text: str) -> QuerySet[Customer]:
    """Customers whose name or phone contains the text."""
    words = Customer.objects.all()
    for word in text.split():
        words = words.filter(name__icontains=word) | words.filter(phone__icontains=word)
    return words
