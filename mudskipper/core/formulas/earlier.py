"""Formulas as they were written for documents of earlier versions, in today's words."""

from __future__ import annotations

import ast
import re
from typing import Any

WORDS = {"to_scene": "in_scene", "from_scene": "in_layer"}


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
