"""Documents of earlier versions made those of today: a step for each version, each from one to the next.

`mudskipper.scene/1`: a formula was called `expression`; it read other layers by `layer("Name")`, heard them by
`sound("Name").level`, and took points to and from the scene by `to_scene` and `from_scene`. A carrier's kind was
`empty`, and layers were once written with a `mask` that was always null.
"""

from __future__ import annotations

import ast
import re
from collections.abc import Callable
from typing import Any

from .scene import SCHEMA

FIELDS = {"expression": "formula", "expression_from": "formula_from", "expression_seed": "formula_seed"}
WORDS = {"to_scene": "in_scene", "from_scene": "in_layer"}


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
    return {**data, "schema": SCHEMA, **({} if layers is None else {"layers": kept})}


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


def formula_of_today(text: str) -> str:
    """A formula as it was written for `mudskipper.scene/1`, in today's words; one that cannot be read by its marks.

    >>> formula_of_today('layer("Plate").rotation.at(t - 0.2) + sound("Bell").level * 50')
    'scene["Plate"].rotation.at(t - 0.2) + scene["Bell"].loudness * 50'
    >>> formula_of_today('length(layer("Sign").to_scene((0, 0)))')
    'length(scene["Sign"].in_scene((0, 0)))'
    """
    try:
        tree = ast.parse(text)
    except (SyntaxError, ValueError, MemoryError, RecursionError):
        return _by_marks(text)
    heard = {
        target.id
        for line in tree.body
        if isinstance(line, ast.Assign) and _calls(line.value, "sound")
        for target in line.targets
        if isinstance(target, ast.Name)
    }
    lines = [line.encode() for line in text.split("\n")]
    places: list[tuple[int, int, int, str]] = []

    def put(node: Any, begin: int, end: int, words: str) -> None:
        places.append((node.end_lineno - 1, begin, end, words))

    for node in ast.walk(tree):
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in ("layer", "sound"):
            if len(node.args) == 1 and node.lineno == node.end_lineno:
                name = node.args[0]
                given = lines[node.lineno - 1][name.col_offset : name.end_col_offset].decode()
                put(node, node.col_offset, node.end_col_offset or 0, f"scene[{given}]")
        elif isinstance(node, ast.Name) and node.id in WORDS:
            put(node, node.col_offset, node.end_col_offset or 0, WORDS[node.id])
        elif isinstance(node, ast.Attribute):
            sounds = _calls(node.value, "sound") or (isinstance(node.value, ast.Name) and node.value.id in heard)
            words = "loudness" if node.attr == "level" and sounds else WORDS.get(node.attr)
            if words:
                end = node.end_col_offset or 0
                put(node, end - len(node.attr.encode()), end, words)
    for line, begin, end, words in sorted(places, reverse=True):
        lines[line] = lines[line][:begin] + words.encode() + lines[line][end:]
    return b"\n".join(lines).decode()


def _calls(node: ast.AST, name: str) -> bool:
    return isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id == name


def _by_marks(text: str) -> str:
    found = re.sub(r"""(?<![\w.])sound\(\s*("[^"\n]*"|'[^'\n]*')\s*\)\s*\.\s*level\b""", r"scene[\1].loudness", text)
    found = re.sub(r"""(?<![\w.])(?:layer|sound)\(\s*("[^"\n]*"|'[^'\n]*')\s*\)""", r"scene[\1]", found)
    for old, new in WORDS.items():
        found = re.sub(rf"\b{old}\b(?=\s*\()", new, found)
    return found


STEPS: dict[str, Callable[[dict[str, Any]], dict[str, Any]]] = {"mudskipper.scene/1": _from_first}
