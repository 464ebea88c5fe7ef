"""Names of layers in formulas: found, and put in place of one another."""

from __future__ import annotations

import ast
import json


def renamed(text: str, old: str, new: str) -> str:
    """A formula in which a layer has another name; one that cannot be read stays as it is.

    >>> renamed('scene["Sign"].rotation * 2', "Sign", "Flag")
    'scene["Flag"].rotation * 2'
    """
    try:
        tree = ast.parse(text)
    except (SyntaxError, ValueError, MemoryError, RecursionError):
        return text
    lines = [line.encode() for line in text.split("\n")]
    places = [
        node.slice
        for node in ast.walk(tree)
        if isinstance(node, ast.Subscript) and isinstance(node.value, ast.Name) and node.value.id == "scene"
        if isinstance(node.slice, ast.Constant) and node.slice.value == old
        if node.slice.lineno == node.slice.end_lineno
    ]
    for place in sorted(places, key=lambda one: (one.lineno, one.col_offset), reverse=True):
        line = lines[place.lineno - 1]
        words = json.dumps(new, ensure_ascii=False).encode()
        lines[place.lineno - 1] = line[: place.col_offset] + words + line[place.end_col_offset :]
    return b"\n".join(lines).decode()
