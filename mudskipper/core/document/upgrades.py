"""Documents of earlier versions made those of today: a step for each version, each from one to the next.

`mudskipper.scene/1`: a formula was called `expression`; it read other layers by `layer("Name")`, heard them by
`sound("Name").level`, and took points to and from the scene by `to_scene` and `from_scene`. A carrier's kind was
`empty`, and layers were once written with a `mask` that was always null.

`mudskipper.scene/2`: layers had `filters`, of which there were none; theirs are `effects` now.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ..formulas.earlier import formula_of_today

FIELDS = {"expression": "formula", "expression_from": "formula_from", "expression_seed": "formula_seed"}


def upgraded(data: dict[str, Any]) -> dict[str, Any]:
    """A document of any stored version as one of today; what is of no known version stays as it is."""
    for _ in STEPS:
        step = STEPS.get(str(data.get("schema")))
        if step is None:
            break
        data = step(data)
    return data


def _from_first(data: dict[str, Any]) -> dict[str, Any]:
    layers = data.get("layers")
    kept = [_layer(one) for one in layers] if isinstance(layers, list) else layers
    return {**data, "schema": "mudskipper.scene/2", **({} if layers is None else {"layers": kept})}


def _layer(one: Any) -> Any:
    if not isinstance(one, dict):
        return one
    changed = {name: part for name, part in one.items() if name != "mask" or part is not None}
    content = changed.get("content")
    if isinstance(content, dict) and content.get("kind") == "empty":
        changed["content"] = {**content, "kind": "carrier"}
    return _with_formulas(changed)


def _with_formulas(part: Any) -> Any:
    """A part of a document with the fields of its formulas, and what stands in them, as they are today."""
    if isinstance(part, list | tuple):
        return [_with_formulas(one) for one in part]
    if not isinstance(part, dict):
        return part
    made = {FIELDS.get(name, name): _with_formulas(value) for name, value in part.items()}
    if isinstance(part.get("expression"), str):
        made["formula"] = formula_of_today(part["expression"])
    return made


def _from_second(data: dict[str, Any]) -> dict[str, Any]:
    layers = data.get("layers")
    kept = [_without_filters(one) for one in layers] if isinstance(layers, list) else layers
    return {**data, "schema": "mudskipper.scene/3", **({} if layers is None else {"layers": kept})}


def _without_filters(one: Any) -> Any:
    if not isinstance(one, dict):
        return one
    return {name: part for name, part in one.items() if name != "filters" or part}


STEPS: dict[str, Callable[[dict[str, Any]], dict[str, Any]]] = {
    "mudskipper.scene/1": _from_first,
    "mudskipper.scene/2": _from_second,
}
