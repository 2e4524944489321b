"""The JSON Schema of a ``.lattice`` file, made from the classes that read it."""

from __future__ import annotations

from typing import Any

from under_lattice.declare.dials import NumberDial
from under_lattice.files.migrations import VERSION
from under_lattice.files.storage import FORMAT
from under_lattice.rules import RULES
from under_lattice.rules.base import Rule
from under_lattice.work.model import Design

DIALECT = "https://json-schema.org/draft/2020-12/schema"


def schema() -> dict[str, Any]:
    """Return the schema of the present version."""
    design = Design.model_json_schema(ref_template="#/$defs/{model}")
    definitions: dict[str, Any] = design.pop("$defs")
    for kind in RULES:
        own = kind.model_json_schema(ref_template="#/$defs/{model}")
        definitions |= own.pop("$defs", {})
        definitions[kind.__name__] = own | {"description": kind.words, "required": ["kind"]}
        _describe(kind, definitions[kind.__name__]["properties"])
    known = [str(kind.model_fields["kind"].default) for kind in RULES]
    definitions["UnknownRule"] = {
        "description": "A rule from another version; it is kept and saved back untouched.",
        "type": "object",
        "properties": {"kind": {"type": "string", "not": {"enum": known}}},
        "required": ["kind"],
    }
    definitions["Rule"] = {"anyOf": [{"$ref": f"#/$defs/{name}"} for name in [*(kind.__name__ for kind in RULES), "UnknownRule"]]}
    definitions["EndRule"] = {"anyOf": [{"$ref": f"#/$defs/{kind.__name__}"} for kind in RULES if kind.family == "end"]}
    design["properties"].pop("pictures")  # beside the designs, each once
    definitions["Design"] = design
    return {
        "$schema": DIALECT,
        "title": "A work of Under Lattice",
        "type": "object",
        "properties": {
            "format": {"const": FORMAT},
            "version": {"const": VERSION},
            "design": {"$ref": "#/$defs/Design"},
            "pictures": {"type": "array", "items": {"$ref": "#/$defs/StoredPicture"}},
            "kept": {
                "type": "array",
                "items": {
                    "type": "object",
                    "properties": {
                        "id": {"type": "string"},
                        "name": {"type": "string", "maxLength": 80},
                        "at": {"type": "string", "description": "When it was kept, in ISO form, or nothing."},
                        "design": {"$ref": "#/$defs/Design"},
                    },
                    "required": ["name", "design"],
                },
            },
            "strip": {
                "description": "The test strip that is open, as orders.",
                "anyOf": [
                    {
                        "type": "object",
                        "properties": {"across": {"type": "string"}, "down": {"type": "string"}},
                        "required": ["across"],
                    },
                    {"type": "null"},
                ],
            },
        },
        "required": ["format", "version", "design"],
        "$defs": definitions,
    }


def _describe(kind: type[Rule], properties: dict[str, Any]) -> None:
    """Put words and ranges of the declared dials into the schema."""
    for name, dial in kind.dials().items():
        properties[name]["description"] = dial.words
        if isinstance(dial, NumberDial):
            for place in properties[name].get("anyOf", [properties[name]]):
                if place.get("type") in ("number", "integer"):
                    place |= {"minimum": dial.least, "maximum": dial.most}
