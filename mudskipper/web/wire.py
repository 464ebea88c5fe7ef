"""Drawing operations in messages: what they are there is said once, by the operations' own fields.

An operation goes as an object of its fields, with its name as `op`; an array as the number of a column of the layer's
block, a part as an object, several as a list. The API's description holds the same, and the page's types are generated
from it; the version of messages is a digest of it.
"""

from __future__ import annotations

import hashlib
import json
from dataclasses import fields
from types import NoneType, UnionType
from typing import Any, Literal, Union, get_args, get_origin, get_type_hints

import numpy as np

from ..core.draw.operations import (
    Below,
    EffectPaint,
    Effects,
    Glyphs,
    GradientPaint,
    Group,
    Image,
    MaskPath,
    Matte,
    Operation,
    Path,
)

NAMES: dict[type[Any], str] = {
    Group: "GroupOperation", Path: "PathOperation", Glyphs: "GlyphsOperation", Image: "ImageOperation",
    Below: "BelowOperation",
    MaskPath: "MaskPath", EffectPaint: "EffectPaint", Effects: "EffectsOperation",
    Matte: "MatteOperation", GradientPaint: "GradientPaint",
}  # fmt: skip
"""What each is called in the API's description."""
PLAIN: dict[Any, dict[str, Any]] = {
    str: {"type": "string"}, bool: {"type": "boolean"}, int: {"type": "integer"}, NoneType: {"type": "null"},
}  # fmt: skip


def schemas() -> dict[str, dict[str, Any]]:
    """The JSON Schema of each operation, by its name in the API's description."""
    found: dict[str, dict[str, Any]] = {}
    for kind, name in NAMES.items():
        hints = get_type_hints(kind)
        properties = {field.name: _schema(hints[field.name]) for field in fields(kind)}
        if kind in get_args(Operation):
            properties = {"op": {"const": kind.__name__.lower(), "type": "string"}, **properties}
        found[name] = {
            "type": "object", "description": " ".join((kind.__doc__ or "").split()), "properties": properties,
            "required": list(properties), "additionalProperties": False,
        }  # fmt: skip
    found["Operation"] = {"anyOf": [{"$ref": _ref(kind)} for kind in get_args(Operation)]}
    return found


def _ref(kind: type[Any]) -> str:
    return f"#/components/schemas/{NAMES[kind]}"


def _schema(hint: Any) -> dict[str, Any]:
    if hint in PLAIN:
        return PLAIN[hint]
    if hint == Operation:
        return {"$ref": "#/components/schemas/Operation"}
    if isinstance(hint, type) and hint in NAMES:
        return {"$ref": _ref(hint)}
    origin, parts = get_origin(hint), get_args(hint)
    if origin is np.ndarray:
        return {"type": "integer", "description": "The number of a column."}
    if origin is Literal:
        return {"enum": list(parts), "type": "string"}
    if origin is tuple and parts[-1] is Ellipsis:
        return {"type": "array", "items": _schema(parts[0])}
    if origin in (UnionType, Union):
        return {"anyOf": [_schema(part) for part in parts]}
    raise TypeError(f"{hint} has no form in messages")


def version() -> str:
    """The version of messages: another one whenever what they hold is another."""
    forms = {name: {**schema, "description": ""} for name, schema in schemas().items()}
    return hashlib.sha256(json.dumps(forms, sort_keys=True).encode()).hexdigest()[:12]


def page_file() -> str:
    """The file of the page that holds the version."""
    return (
        "/** The form of the messages that this page reads; written by `make types`. */\n"
        f'export const WIRE = "{version()}";\n'
    )
