"""A model of the book has an owner: the chain's book is kept by one shop, what is guessed stays a guess."""

import pytest
from django.test import Client
from django.urls import reverse

from shop.accounts.actions import new_shop
from shop.book.actions import confirm_entry, save_entry
from shop.book.selectors import book_here, entry_named, to_confirm
from shop.book.transfer import as_dict
from shop.schema.accounts.models import Member, Membership, Shop
from shop.schema.book.models import BookEntry
from shop.schema.bows.models import Bow
from shop.schema.jobs.models import Job
from tests.shop.test_agreed import UNLISTED, counter


@pytest.fixture
def north(floor):
    """A second shop of the chain, which does not keep the book."""
    shop = new_shop("Saltgate North")
    una = Member.objects.create_user("una", password="north-bench-1", home=shop)
    Membership.objects.create(member=una, shop=shop, role="manager")
    return shop


@pytest.fixture
def una(north):
    client = Client()
    client.force_login(Member.objects.get(username="una"))
    return client


@pytest.fixture
def of_an_apprentice(pia):
    """A bow of a model that nobody has in the book, checked in by an apprentice."""
    client = Client()
    client.force_login(pia)
    assert client.post(reverse("check_in"), counter(**UNLISTED)).status_code == 302
    return Job.objects.get().bow


def offered(client):
    """The models that check-in offers."""
    body = client.get(reverse("check_in") + "?new").content.decode()
    assert "Lark 31" in body
    return body


def test_the_first_shop_keeps_the_book_and_the_others_see_it(north):
    keeper = Shop.objects.get(keeps_book=True)
    assert keeper != north and keeper.pk < north.pk
    with keeper.during():
        everything = list(book_here())
    with north.during():
        assert list(book_here()) == everything != []


def test_a_change_of_another_shop_is_a_copy_of_its_own(north):
    una = Member.objects.get(username="una")
    with north.during():
        lark = entry_named("Tidewell", "Lark 31")
        own = save_entry(as_dict(lark) | {"brace_height_in": 6.5}, "our own sheet", una)
        assert own.pk != lark.pk and own.version == 1 and own.shop == north
        assert [entry.pk for entry in book_here().filter(model="Lark 31")] == [own.pk]
        again = save_entry(as_dict(own) | {"brace_height_in": 6.75}, "measured again", una)
        assert again.pk == own.pk and again.version == 2
    with lark.shop.during():
        (chains,) = book_here().filter(model="Lark 31")
        assert chains.pk == lark.pk and as_dict(chains) == as_dict(lark)


def test_no_shop_opens_what_another_one_has_of_its_own(page, una, north):
    with north.during():
        lark = entry_named("Tidewell", "Lark 31")
        own = save_entry(
            as_dict(lark) | {"let_off": 0.7}, "ours", Member.objects.get(username="una")
        )
    assert una.get(reverse("entry", args=[own.pk])).status_code == 200
    assert "our own" in una.get(reverse("book")).content.decode()
    for name in ("entry", "entry_edit"):
        assert page.get(reverse(name, args=[own.pk])).status_code == 404
    assert "a copy of its own" in una.get(reverse("entry", args=[lark.pk])).content.decode()


def test_an_apprentices_guess_is_of_that_bow_until_a_technician_confirms_it(
    page, tomas, of_an_apprentice
):
    entry = of_an_apprentice.entry
    assert entry.listed is None and entry.guessed
    assert "Wren 30" not in offered(page)
    assert "Wren 30" in page.get(reverse("book")).content.decode()
    client = Client()
    client.force_login(tomas)
    assert client.post(reverse("entry_confirm", args=[entry.pk])).status_code == 302
    assert "Wren 30" in offered(page)
    assert client.post(reverse("entry_confirm", args=[entry.pk])).status_code == 404  # once


def test_an_apprentice_confirms_nothing(pia, of_an_apprentice):
    client = Client()
    client.force_login(pia)
    assert (
        client.post(reverse("entry_confirm", args=[of_an_apprentice.entry_id])).status_code == 422
    )
    assert to_confirm().count() == 1


def test_two_apprentices_may_guess_the_same_model_and_one_is_confirmed(page, pia, of_an_apprentice):
    client = Client()
    client.force_login(pia)
    again = counter(**UNLISTED, customer_name="P. Lund")
    assert client.post(reverse("check_in"), again).status_code == 302
    first, second = BookEntry.objects.filter(model="Wren 30")
    assert page.post(reverse("entry_confirm", args=[first.pk])).status_code == 302
    refused = page.post(reverse("entry_confirm", args=[second.pk]))
    assert refused.status_code == 422 and "is in the book" in refused.content.decode()


def test_the_opened_entry_is_changed_and_not_the_one_of_the_same_name(ines, pia, of_an_apprentice):
    client = Client()
    client.force_login(pia)
    client.post(reverse("check_in"), counter(**UNLISTED, customer_name="P. Lund"))
    first, second = BookEntry.objects.filter(model="Wren 30").order_by("pk")
    confirm_entry(first, ines)
    changed = save_entry(as_dict(second) | {"let_off": 0.75}, "looked again", ines, second)
    assert changed.pk == second.pk and changed.version == 2 and changed.listed is None
    assert BookEntry.objects.get(pk=first.pk).version == 1


def test_a_bow_that_moves_takes_a_copy_of_its_model_along(page, una, north, of_an_apprentice):
    bow = of_an_apprentice
    Job.objects.update(cancelled_at=Job.objects.get().opened_at)
    ask = counter() | {"shop": north.pk}
    assert page.post(reverse("move_bow", args=[bow.pk]), ask).status_code == 302
    moved = Bow.objects.get(pk=bow.pk).entry
    assert moved.shop == north and moved.listed is None and as_dict(moved) == as_dict(bow.entry)
    assert una.get(reverse("entry", args=[moved.pk])).status_code == 200
    assert page.get(reverse("entry", args=[moved.pk])).status_code == 404
