"""The examples of docs/formats: valid by their schemas, and what the core answers now."""

import json
import runpy
from pathlib import Path

import jsonschema
import pytest
from referencing import Registry, Resource

from bowcore.io.schemas import SHARED, schema_files
from bowcore.io.verbs import VERBS

FORMATS = Path(__file__).resolve().parents[2] / "docs" / "formats"
MAKE = runpy.run_path(str(FORMATS / "make.py"), run_name="make")


def validator(schema):
    """With the shapes that all schemas share."""
    shared = json.loads((FORMATS / SHARED).read_text())
    registry = Registry().with_resource(SHARED, Resource.from_contents(shared))
    return jsonschema.Draft202012Validator(schema, registry=registry)


def test_the_schemas_on_file_are_those_of_the_shapes():
    for name, schema in schema_files().items():
        assert json.loads((FORMATS / name).read_text()) == schema, "run docs/formats/make.py"


def test_every_verb_has_a_schema_and_an_example():
    for verb in VERBS:
        assert (FORMATS / f"{verb}.schema.json").exists()
        assert (FORMATS / f"{verb}.example.json").exists()


@pytest.mark.parametrize("verb", VERBS)
def test_the_example_is_valid_and_of_the_same_shape_as_the_answer_now(verb):
    schema = json.loads((FORMATS / f"{verb}.schema.json").read_text())
    example = json.loads((FORMATS / f"{verb}.example.json").read_text())
    jsonschema.Draft202012Validator.check_schema(schema)
    validator(schema).validate(example)
    assert example["case"] == MAKE["CASES"][verb]
    now = json.loads(MAKE["example"](verb))["answer"]
    assert alike(example["answer"], now), (example["answer"], now)


def alike(a, b):
    """Equal but for rounding, which differs between processors."""
    if isinstance(a, dict) and isinstance(b, dict):
        return a.keys() == b.keys() and all(alike(a[key], b[key]) for key in a)
    if isinstance(a, list) and isinstance(b, list):
        return len(a) == len(b) and all(map(alike, a, b))
    if isinstance(a, int | float) and isinstance(b, int | float):
        return a == pytest.approx(b, rel=2e-3, abs=2e-4)
    return a == b


def test_a_schema_refuses_what_the_core_refuses():
    schema = json.loads((FORMATS / "plan.schema.json").read_text())
    good = json.loads((FORMATS / "plan.example.json").read_text())
    bad = json.loads(json.dumps(good))
    bad["case"]["book"]["let_off"] = 0.99
    with pytest.raises(jsonschema.ValidationError):
        validator(schema).validate(bad)
