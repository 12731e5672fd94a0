"""JSON Schemas of every edge, generated from its shapes and shared by reference."""

from typing import Any

from pydantic.json_schema import models_json_schema

from bowcore.io.verbs import VERBS

DIALECT = "https://json-schema.org/draft/2020-12/schema"
SHARED = "shapes.schema.json"


def schema_files() -> dict[str, dict[str, Any]]:
    """Every schema file by its name: the shared shapes, and one file a verb that refers to them."""
    shapes = {shape for verb in VERBS.values() for shape in (verb.case, verb.answer)}
    ordered = sorted(shapes, key=lambda shape: shape.__name__)
    _, shared = models_json_schema([(shape, "validation") for shape in ordered])
    files = {SHARED: {"$schema": DIALECT, "$id": SHARED, "$defs": shared["$defs"]}}
    for name, verb in VERBS.items():
        files[f"{name}.schema.json"] = {
            "$schema": DIALECT,
            "title": f"fennock core {name}",
            "description": verb.words,
            "type": "object",
            "properties": {
                "case": {"$ref": f"{SHARED}#/$defs/{verb.case.__name__}"},
                "answer": {"$ref": f"{SHARED}#/$defs/{verb.answer.__name__}"},
            },
            "required": ["case", "answer"],
        }
    return files
