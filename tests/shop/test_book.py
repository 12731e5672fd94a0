"""The book goes out and comes back whole; a bad row is refused with its reason, alone."""

import csv
import io
import json

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from jsonschema import Draft202012Validator

from bowcore.errors import BadInput, Refused
from shop.book.actions import save_entry
from shop.book.transfer import as_dict, read_csv, read_json, to_csv, to_json
from shop.demo.job_script import CABLE
from shop.schema.book.models import BookEntry, EntryVersion

pytestmark = pytest.mark.django_db


def everything():
    return list(BookEntry.objects.prefetch_related("parts").order_by("pk"))


def document():
    return json.loads(to_json(everything()))


def take(page, text, name="book.json"):
    file = SimpleUploadedFile(name, text.encode() if isinstance(text, str) else text)
    return page.post(reverse("book_import"), {"file": file, "why": "a test"})


def test_it_comes_back_as_it_went_out_in_both_forms(floor):
    data = [as_dict(entry) for entry in everything()]
    for rows in (read_json(to_json(everything())), read_csv(to_csv(everything()))):
        assert [row.problems for row in rows] == [()] * len(data)
        back = [
            row.data | {"parts": sorted(row.data["parts"], key=lambda p: p["role"])} for row in rows
        ]
        for one, two in zip(back, data, strict=True):
            kept = {k: v for k, v in one.items() if k != "parts"}
            assert kept.items() <= two.items()
            assert [p["length_in"] for p in one["parts"]] == [
                p["length_in"] for p in sorted(two["parts"], key=lambda p: p["role"])
            ]


def test_the_published_schema_accepts_what_is_given_out(page):
    schema = json.loads(page.get(reverse("book_schema")).content)
    Draft202012Validator.check_schema(schema)
    given = json.loads(page.get(reverse("book_export", args=["json"])).content)
    assert not list(Draft202012Validator(schema).iter_errors(given))


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"let_off": 1.4}, "let_off"),
        ({"family": "quintuple"}, "family"),
        ({"axle_to_axle_in": "long"}, "axle_to_axle_in"),
        ({"draw_from_in": 31.0, "draw_to_in": 26.0}, "above"),
        ({"family": "single"}, "single bow has"),
        ({"parts": []}, "parts"),
    ],
)
def test_a_bad_row_is_refused_alone_and_says_why(page, change, said):
    book = document()
    book["entries"] = book["entries"][:2]
    book["entries"][0] |= change
    book["entries"][1]["note"] = "changed"
    answer = take(page, json.dumps(book))
    shown = answer.content.decode()
    assert said in shown
    good = BookEntry.objects.get(model=book["entries"][1]["model"])
    bad = BookEntry.objects.get(model=book["entries"][0]["model"])
    assert (good.note, good.version, bad.version) == ("changed", 2, 1)


@pytest.mark.parametrize(
    ("text", "name"),
    [
        ("{", "book.json"),
        ('{"format": "other/1", "entries": []}', "book.json"),
        ("maker,wingspan\nA,3\n", "book.csv"),
        (b"\xff\xfe\x00", "book.csv"),
    ],
)
def test_what_is_no_book_changes_nothing(page, text, name):
    assert take(page, text, name).status_code == 422
    assert not BookEntry.objects.exclude(version=1).exists()


def test_a_csv_of_a_spreadsheet_is_read(floor):
    rows = list(csv.DictReader(io.StringIO(to_csv(everything()))))
    rows[0]["two_stage"] = "TRUE"
    target = io.StringIO()
    writer = csv.DictWriter(target, rows[0].keys())
    writer.writeheader()
    writer.writerows(rows)
    found = read_csv("\ufeff" + target.getvalue())
    assert not found[0].problems and found[0].data["two_stage"] is True


def test_too_many_rows_at_once_are_refused(floor):
    book = document()
    book["entries"] = book["entries"][:1] * 2001
    with pytest.raises(BadInput, match="too many"):
        read_json(json.dumps(book))


def test_half_of_a_character_is_refused_before_the_database_meets_it(floor):
    book = document()
    book["entries"][0]["model"] = "Lark \ud800"
    with pytest.raises(BadInput, match="character in this file is broken"):
        read_json(json.dumps(book))


def test_a_change_is_a_new_version_and_open_jobs_keep_theirs(script, ines):
    script.check_in(CABLE)
    entry = BookEntry.objects.get(model="Lark 31")
    save_entry(as_dict(entry) | {"axle_to_axle_in": 31.5}, "measured here", ines)
    entry.refresh_from_db()
    script.job.refresh_from_db()
    assert entry.version == 2 and script.job.book_version == 1
    assert script.job.spec["axle_to_axle_in"] == 31.25
    assert EntryVersion.objects.filter(entry=entry).count() == 2


def test_an_apprentice_does_not_change_the_book(floor, pia):
    entry = BookEntry.objects.get(model="Lark 31")
    with pytest.raises(Refused):
        save_entry(as_dict(entry) | {"note": "mine"}, "", pia)
