"""The core's command line: answers, refusals that name the path, no tracebacks."""

import io
import json

import pytest

from bowcore.io.cli import main

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
    "events": [
        {"kind": "replaced", "part": "cable_a"},
        {"kind": "read", "quantity": "stop_gap", "value": -0.0625},
    ],
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


READ = {"kind": "read", "quantity": "stop_gap", "value": 0.0}


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
        (broken(events=[READ | {"value": float("nan")}]), "events[0].value"),
        (broken(events=[READ | {"quantity": "colour"}]), "events[0].quantity"),
        (broken(events=[READ | {"takes": []}]), "events[0].takes"),
        (broken(events=[READ | {"takes": [1, "x"]}]), "events[0].takes[1]"),
        (broken(events=[{"kind": "dreamt"}]), "events[0].kind"),
        (broken(events=[{"kind": "turned", "steps": {"cable_a": 1.5}}]), "events[0].steps.cable_a"),
        (broken(bands=[{"quantity": "stop_gap", "low": "x", "high": 1}]), "bands[0].low"),
        (broken(bands=[{"quantity": "stop_gap", "low": 2, "high": 1}]), "bands[0].low"),
        (broken(limb_bolts={"turns_out": 9, "most_turns_out": 6}), "limb_bolts.turns_out"),
        (broken(policy={"leave": "cable_b"}), "policy.leave"),
    ],
)
def test_a_bad_case_names_the_path(data, path):
    code, answer = run("plan", data)
    assert code == 2
    assert answer["error"]["path"] == path
    assert answer["error"]["message"]


def test_no_readings_are_asked_for_and_not_made_up():
    code, answer = run("plan", broken(events=[]))
    assert code == 2
    assert "Read these first" in answer["error"]["message"]


def test_a_driver_closes_the_loop_by_calling_again_and_again():
    """plan and virtual alone, as another program would use them."""
    acts, events = [], []
    names = ["axle_to_axle", "brace_height", "peak_weight", "stop_gap"]
    faults = {"shorter": {"cable_a": 0.05}, "noise": 0.2}
    cached = run("twin", {"book": BOOK})[1]["twin"]
    for _ in range(6):
        acts += [{"read": name, "takes": 3} for name in names]
        told = run("virtual", {"book": BOOK, "seed": 4, "faults": faults, "acts": acts})[1][
            "answers"
        ]
        events += [{"kind": "read"} | answer for answer in told[-len(names) :]]
        bands = [
            {"quantity": "axle_to_axle", "low": 31.125, "high": 31.375},
            {"quantity": "brace_height", "low": 6.5, "high": 6.75},
            {"quantity": "peak_weight", "low": 54, "high": 56},
            {"quantity": "stop_gap", "low": -0.03125, "high": 0.03125},
        ]
        case = {"book": BOOK, "twin": cached, "events": events, "bands": bands, "limit": 12}
        answer = run("plan", case)[1]
        if answer["kind"] == "leave":
            break
        steps = answer["best"]["steps"]
        if steps:
            acts.append({"turn": steps})
            events.append({"kind": "turned", "steps": steps})
    assert answer["kind"] == "leave"
    assert events[-1]["takes"]
    shown = run("learn", {"book": BOOK, "events": events})[1]
    assert shown["lessons"]


def test_the_other_verbs_answer():
    assert run("curve", {"book": BOOK, "points": 20})[1]["let_off"] == pytest.approx(0.8, abs=0.01)
    assert "stop_gap" in run("response", {"book": BOOK})[1]["quantities"]
    rest = {"method": "marks", "difference_in": 0.02, "bolts_bottomed": True}
    assert run("timing", {"book": BOOK, "at_rest": rest})[1]["believed"]["gap_in"] > 0
    drawn = run("timing", {"book": BOOK, "at_rest": rest, "drawn": {"gap_in": 0.0}})[1]
    assert drawn["believed"]["source"] == "drawn"
    assert run("lean", {"book": BOOK, "off_in": [0.5, 0.4]})[1]["degrees_per_half_twist"] > 0
    takes = {"quantity": "peak_weight", "takes": [54.0, 54.2, 61.0],
             "before": {"takes": [54.1, 54.3]}}  # fmt: skip
    answer = run("readings", takes)[1]
    assert answer["outliers"] == [2]
    assert answer["change"]["smaller_than_scatter"]


def test_an_unknown_verb_lists_the_known_ones():
    code, answer = run("dance", {})
    assert code == 2
    assert "plan" in answer["error"]["allowed"]


def test_help_lists_the_verbs():
    out = io.StringIO()
    assert main(["--help"], io.StringIO(), out) == 0
    assert "bundle" in out.getvalue()
