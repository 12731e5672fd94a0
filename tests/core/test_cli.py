"""The core's command line: answers, refusals that name the path, no tracebacks."""

import io
import json

import pytest

from bowcore.cli import main

BOOK = {
    "name": "Invented 31", "family": "binary", "axle_to_axle_in": 31.25, "brace_height_in": 6.625,
    "draw_length_in": 28.5, "peak_weight_lbf": 55, "let_off": 0.8,
    "parts": [
        {"role": "cable_a", "label": "Top take-up cable", "length_in": 34.875, "strands": 24,
         "twists_per_in": 0.6},
        {"role": "cable_b", "label": "Bottom take-up cable", "length_in": 34.875, "strands": 24,
         "twists_per_in": 0.6},
        {"role": "string", "label": "String", "length_in": 56.25, "strands": 24, "twists_per_in": 0.4},
    ],
}  # fmt: skip
CASE = {
    "book": BOOK,
    "readings": [{"quantity": "stop_gap", "value": -0.0625}],
    "bands": [{"quantity": "stop_gap", "low": -0.03125, "high": 0.03125}],
}


def run(verb, data):
    out = io.StringIO()
    text = data if isinstance(data, str) else json.dumps(data)
    code = main([verb], io.StringIO(text), out)
    return code, json.loads(out.getvalue())


def test_a_plan():
    code, answer = run("plan", CASE)
    assert code == 0
    assert answer["kind"] == "change"
    assert (
        answer["best"]["predicted"]["stop_gap"]["low90"]
        < answer["best"]["predicted"]["stop_gap"]["high90"]
    )


def test_an_entry_and_a_bundle():
    assert run("entry", {"quantity": "axle_to_axle", "text": "33 1/16"})[1]["value"] == 33.0625
    assert (
        run("bundle", {"length_in": 36, "strands": 24, "twists": 20})[1]["shortening_in"]["1"] > 0
    )


def broken(**changes):
    return CASE | changes


@pytest.mark.parametrize(
    ("data", "path"),
    [
        ("not json", "$"),
        ([1], "$"),
        ({}, "book"),
        (broken(book=BOOK | {"let_off": 0.99}), "book.let_off"),
        (broken(book=BOOK | {"brace_height_in": -2}), "book.brace_height_in"),
        (broken(book=BOOK | {"family": "crossbow"}), "book.family"),
        (broken(readings=[{"quantity": "stop_gap", "value": float("nan")}]), "readings[0].value"),
        (broken(readings=[{"quantity": "colour", "value": 1}]), "readings[0].quantity"),
        (broken(readings=[]), "readings"),
        (broken(bands=[{"quantity": "stop_gap", "low": "x", "high": 1}]), "bands[0].low"),
        (broken(ledger=[{"part": "cable_a", "half_twists": 1.5}]), "ledger[0].half_twists"),
    ],
)
def test_a_bad_case_names_the_path(data, path):
    code, answer = run("plan", data)
    assert code == 2
    assert answer["error"]["path"] == path
    assert answer["error"]["message"]


def test_an_unknown_verb_lists_the_known_ones():
    code, answer = run("dance", {})
    assert code == 2
    assert "plan" in answer["error"]["allowed"]


def test_help_lists_the_verbs():
    out = io.StringIO()
    assert main(["--help"], io.StringIO(), out) == 0
    assert "bundle" in out.getvalue()
