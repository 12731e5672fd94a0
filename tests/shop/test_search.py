"""Finding by a few letters, with typing errors, and the index that makes it quick."""

import importlib

import pytest
from django.apps import apps
from django.urls import reverse

from shop.demo.people import CUSTOMERS
from shop.schema.book.models import BookEntry
from shop.schema.bows.models import Bow
from shop.schema.customers.models import Customer
from shop.search.grams import grams_of, least_shared, words_of
from shop.search.models import Gram
from shop.search.selectors import matches_of


def customers_like(text):
    return matches_of(text).customers


def bows_like(text):
    return matches_of(text).bows


@pytest.fixture
def everybody(floor):
    for name, phone in CUSTOMERS:
        Customer.objects.create(name=name, phone=phone)


def bow_of(name, model, tag=""):
    owner = Customer.objects.get(name=name)
    entry = BookEntry.objects.get(model=model)
    return Bow.objects.create(customer=owner, entry=entry, hand="right", tag=tag,
                              marked_weight_lbf=60, marked_draw_in=28)  # fmt: skip


@pytest.mark.parametrize(
    ("typed", "name"),
    [
        ("verhoven", "J. Verhoeven"),
        ("Verhoeven", "J. Verhoeven"),
        ("verh", "J. Verhoeven"),
        ("ACHTERBERG", "M. Achterberg"),
        ("winslow tarr", "H. Winslow-Tarr"),
        ("0555 014 203", "M. Achterberg"),
        ("014205", "T. Iwasaki"),
        ("school", "Saltgate School"),
    ],
)
def test_a_customer_is_found_first(everybody, typed, name):
    assert customers_like(typed)[0].name == name


@pytest.mark.parametrize("typed", ["", "  ", "zzzzzz", "²", "💥", "x" * 5000, "%", "_"])
def test_what_fits_nobody_finds_nobody(everybody, typed):
    assert customers_like(typed) == [] and bows_like(typed) == []


def test_a_bow_is_found_by_owner_model_and_markings(everybody):
    lark = bow_of("J. Verhoeven", "Lark 31", "TL-4471 green")
    other = bow_of("D. Pell", "Lark 31")
    assert bows_like("lark 31") == [other, lark]
    assert bows_like("verhoven lark") == [lark]
    assert bows_like("4471") == [lark] and bows_like("gren") == [lark]
    assert bows_like("lark heron") == []


def test_one_wrong_letter_in_a_long_name_never_hides_it(everybody):
    """Each deletion, doubling and swap of neighbours in every name of seven letters and more."""
    for customer in Customer.objects.all():
        for word in (w for w in words_of(customer.name) if len(w) >= 7):
            for wrong in _slips(word):
                assert customer in customers_like(wrong), (word, wrong)


def _slips(word):
    for at in range(1, len(word) - 1):
        yield word[:at] + word[at + 1 :]
        yield word[:at] + word[at] + word[at:]
        if word[at] != word[at + 1]:
            yield word[:at] + word[at + 1] + word[at] + word[at + 2 :]


def test_a_new_name_is_found_by_and_the_old_one_is_not(everybody):
    customer = customers_like("verhoeven")[0]
    customer.name = "J. Castellane"
    customer.save()
    assert customer in customers_like("castellane") and customer not in customers_like("verhoeven")


def test_the_index_is_made_anew_from_what_is_on_file(everybody):
    before = set(Gram.objects.values_list("gram", "kind", "row"))
    Gram.objects.all().delete()
    importlib.import_module("shop.search.migrations.0002_index").index(apps, None)
    assert set(Gram.objects.values_list("gram", "kind", "row")) == before


def test_runs_of_letters():
    assert grams_of("lark") == {"^la", "lar", "ark"} and grams_of("j") == {"^j"}
    assert words_of("Zoë O'Brien-Łę") == ["zoe", "o", "brien", "e"]
    assert least_shared({"a", "b", "c", "d"}) == 2


def test_the_search_page_shows_them(page, script):
    script.check_in(["back_to_spec"])
    shown = page.get(reverse("find"), {"q": "okaffor"}).content.decode()
    assert "R. Okafor" in shown and f"Job {script.job.pk}" in shown
    assert (
        f"Job {script.job.pk}"
        in page.get(reverse("find"), {"q": str(script.job.pk)}).content.decode()
    )
    assert "R. Okafor" in page.get(reverse("check_in"), {"q": "okafr"}).content.decode()
