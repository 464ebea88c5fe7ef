"""The few numbers of a recipe, as an interface shows them."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, TypeAdapter

from ..ground.shown import Shown
from .base import Recipe


class RecipeField(BaseModel):
    """A number, a choice, an easing or a pair that a recipe takes: what its annotation says of it, and its range."""

    name: str
    label: str
    unit: str
    parts: tuple[str, ...]
    kind: Literal["number", "choice", "easing", "pair", "colour"]
    whole: bool
    step: float
    low: float | None
    high: float | None
    choices: list[str]
    default: Any


def fields_of(kind: type[Recipe]) -> list[RecipeField]:
    """The fields of a kind of recipe, in its own order.

    >>> from mudskipper.core.recipes import DropIn
    >>> [(one.label, one.kind, one.default) for one in fields_of(DropIn)]
    [('Side', 'choice', 'top'), ('Length', 'number', 24), ('Bounces', 'number', 2)]
    """
    found = []
    for name, field in kind.model_fields.items():
        about = next((one for one in field.metadata[::-1] if isinstance(one, Shown)), None)
        if about is None:
            continue
        schema = TypeAdapter(field.rebuild_annotation()).json_schema()
        whole = schema.get("type") == "integer"
        found.append(
            RecipeField(
                name=name, label=about.label, unit=about.unit, parts=about.parts,
                kind="pair" if len(about.parts) == 2 else "choice" if "enum" in schema else
                "colour" if schema.get("type") == "string" else
                "number" if schema.get("type") in ("integer", "number") else "easing",
                whole=whole, step=about.step, low=schema.get("minimum", schema.get("exclusiveMinimum")),
                high=schema.get("maximum"), choices=schema.get("enum", []),
                default=TypeAdapter(Any).dump_python(field.default, mode="json"),
            )
        )  # fmt: skip
    return found
