"""Serving lengths of the book reach the twin: a served cable answers more to half a twist."""

import pytest

from bowcore.bow.bundle import Bundle
from bowcore.io.book import KeptBook
from bowcore.io.edge import validated
from shop.book.actions import save_entry
from shop.book.selectors import job_book, spec_of
from shop.book.transfer import as_dict, judged
from shop.schema.book.models import BookEntry

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


RADII = ("peg_radius_in", "take_up_radius_in", "let_out_radius_in")


@pytest.mark.parametrize(
    ("by_caliper", "peg", "tracks"),
    [
        ((), False, False),
        (RADII[:1], True, False),
        (RADII[1:2], False, False),
        (RADII[1:], False, True),
        (RADII, True, True),
    ],
)
def test_only_what_a_caliper_gave_counts_as_measured(floor, by_caliper, peg, tracks):
    one = entry()
    for name in RADII:
        setattr(one, name, 0.7 if name in by_caliper else None)
    spec = spec_of(one, *FIGURES)
    assert (spec.peg_measured, spec.radii_measured) == (peg, tracks)
    assert validated(KeptBook, job_book(one, spec)).spec() == spec


@pytest.mark.parametrize("measured", [True, False])
def test_a_job_that_kept_one_word_for_all_radii_still_opens(floor, measured):
    one = entry()
    kept = job_book(one, spec_of(one, *FIGURES)) | {"radii_measured": measured}
    del kept["peg_measured"]
    spec = validated(KeptBook, kept).spec()
    assert (spec.peg_measured, spec.radii_measured) == (measured, measured)


def test_the_model_shows_a_track_that_was_measured_without_the_peg(page, floor):
    one = entry()
    one.peg_radius_in = one.let_out_radius_in = None
    one.save()
    shown = " ".join(page.get(f"/book/{one.pk}/").content.decode().split())
    at = shown.index("Stop peg, take-up, let-out")
    assert "–, 0.64, –" in shown[at : at + 200], shown[at : at + 200]
