"""Hostile cases for every verb of the command line: an answer or an error in words, never a crash."""

import copy
import io
import json
import random
from pathlib import Path

import pytest

from bowcore.io.cli import main
from bowcore.io.edge import MOST_JSON
from bowcore.io.verbs import VERBS

FORMATS = Path(__file__).resolve().parents[2] / "docs" / "formats"
HOSTILE = ["", None, -1, 0, 1e308, -1e308, 10**19, True, [], {}, "x" * 5000, "NaN", "²", [[[]]], 1e-300,
           3, {"a": {}}, "cable_a", "string", 1000]  # fmt: skip
GONE = object()


def run(verb, text):
    target = io.StringIO()
    code = main([verb], io.StringIO(text), target)
    return code, json.loads(target.getvalue())


def places(data, path=()):
    """The way to every value of a case."""
    found = [path] if path else []
    inside = (
        data.items()
        if isinstance(data, dict)
        else enumerate(data)
        if isinstance(data, list)
        else ()
    )
    for key, value in inside:
        found += places(value, (*path, key))
    return found


def changed(case, path, value):
    case = copy.deepcopy(case)
    inner = case
    for key in path[:-1]:
        inner = inner[key]
    if value is GONE:
        del inner[path[-1]]
    else:
        inner[path[-1]] = value
    return case


@pytest.mark.parametrize("verb", VERBS)
def test_no_value_ends_in_a_crash(verb):
    rng = random.Random(verb)
    case = json.loads((FORMATS / f"{verb}.example.json").read_text())["case"]
    every = places(case)
    for _ in range(12):
        hostile = changed(case, rng.choice(every), rng.choice([*HOSTILE, GONE]))
        code, answer = run(verb, json.dumps(hostile))
        assert code in (0, 2) and (code == 0) == ("error" not in answer)


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("[" * 100_000, "nested deeper"),
        ('{"a":' * 100_000, "nested deeper"),
        ("9" * 5000, "5000 digits"),
        ('"' + "x" * MOST_JSON + '"', "larger than"),
        ("1e999", "object is expected"),
        ("", "not JSON"),
        ("[NaN]", "object is expected"),
    ],
)
def test_what_is_no_case_is_said_at_once(text, says):
    code, answer = run("plan", text)
    assert code == 2 and says in answer["error"]["message"]


def test_a_file_that_is_not_text_is_said(tmp_path):
    place = tmp_path / "case.json"
    place.write_bytes(b"\xff\xfe\x00")
    target = io.StringIO()
    assert main(["plan", str(place)], io.StringIO(), target) == 2
    assert "not text" in target.getvalue()
