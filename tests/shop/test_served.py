"""Serving lengths of the book reach the twin: a served cable answers more to half a twist."""

import pytest

from bowcore.io.book import KeptBook
from bowcore.io.edge import validated
from bowcore.mechanics.bundle import Bundle
from shop.book.actions import save_entry
from shop.book.models import BookEntry
from shop.book.selectors import job_book, spec_of
from shop.book.transfer import as_dict, judged

pytestmark = pytest.mark.django_db
FIGURES = 60.0, 28.5


def entry():
    return BookEntry.objects.prefetch_related("parts").get(model="Lark 31")


def test_both_ends_of_a_part_are_served(floor):
    part = spec_of(entry(), *FIGURES).part("cable_a")
    assert part.served_in == 6.5 + 5.0


def test_half_a_twist_of_a_served_cable_is_about_a_third_more(floor):
    # only the free length winds (common practice, no published source): 34 7/8 in, 11 1/2 of it served
    part = spec_of(entry(), *FIGURES).part("cable_a")
    twists = part.twists_per_in * part.length_in
    bare = Bundle(part.length_in, part.strands, twists).shortening_in(1)
    served = part.bundle().shortening_in(1)
    assert 1.25 < served / bare < 1.6


def test_a_job_keeps_them_as_they_were_at_check_in(script, ines):
    script.check_in(["back_to_spec"])
    data = as_dict(entry())
    for part in data["parts"]:
        part["served_top_in"] = 0.0
    save_entry(data, "measured here", ines)
    kept = validated(KeptBook, script.job.spec).spec().part("cable_a")
    assert kept.served_in == 11.5
    assert spec_of(entry(), *FIGURES).part("cable_a").served_in == 5.0


def test_what_a_job_keeps_comes_back_as_the_same_bow(floor):
    one = entry()
    spec = spec_of(one, *FIGURES)
    assert validated(KeptBook, job_book(one, spec)).spec() == spec


def test_more_serving_than_cable_is_refused_in_words(floor):
    data = as_dict(entry())
    data["parts"][0] |= {"length_in": 40.0, "served_top_in": 25.0, "served_bottom_in": 25.0}
    assert any("Served length" in problem for problem in judged(1, data).problems)


def test_the_model_shows_where_it_is_served(page, floor):
    body = page.get(f"/book/{entry().pk}/").content.decode()
    assert "Served, top and bottom" in body and "not listed" not in body
