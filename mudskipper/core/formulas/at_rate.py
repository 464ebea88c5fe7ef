"""Formulas that count frames, at another frame rate: written so that they give at each moment what they gave."""

from __future__ import annotations

import ast
from fractions import Fraction


def formula_at_rate(text: str, ratio: Fraction) -> str:
    """A formula after the rate was multiplied by `ratio`: what it counts in frames it counts in as many seconds.

    One that reads `fps` elsewhere than as `frame / fps` follows the rate on purpose, and stays as it is, as one does
    that cannot be read.

    >>> formula_at_rate("frame * 3 + frame ** 2", Fraction(2))
    'frame * 1.5 + (frame / 2) ** 2'
    >>> formula_at_rate("if_before(30, base, frame / fps)", Fraction(2))
    'if_before(60, base, frame / fps)'
    """
    try:
        tree = ast.parse(text)
    except (SyntaxError, ValueError, MemoryError, RecursionError):
        return text
    if reads_rate(tree):
        return text
    lines = [line.encode() for line in text.split("\n")]
    for line, begin, end, words in sorted(_changes(tree, ratio), reverse=True):
        lines[line] = lines[line][:begin] + words.encode() + lines[line][end:]
    return b"\n".join(lines).decode()


def reads_rate(tree: ast.AST) -> bool:
    """Whether a formula reads the rate for anything but seconds."""
    seconds = {id(node.right) for node in ast.walk(tree) if isinstance(node, ast.BinOp) and _is_seconds(node)}
    return any(
        (isinstance(node, ast.Name) and node.id == "fps" and id(node) not in seconds)
        or (isinstance(node, ast.Attribute) and node.attr == "fps")
        for node in ast.walk(tree)
    )


def follows_rate(text: str) -> bool:
    """As `reads_rate`, of a text; not of one that cannot be read."""
    try:
        return reads_rate(ast.parse(text))
    except (SyntaxError, ValueError, MemoryError, RecursionError):
        return False


def _is_seconds(node: ast.AST) -> bool:
    return (
        isinstance(node, ast.BinOp) and isinstance(node.op, ast.Div) and _named(node.left, "frame")
        and _named(node.right, "fps")
    )  # fmt: skip


def _named(node: ast.AST, name: str) -> bool:
    return isinstance(node, ast.Name) and node.id == name


def _number(node: ast.AST) -> float | None:
    value = node.value if isinstance(node, ast.Constant) else None
    return float(value) if isinstance(value, int | float) and not isinstance(value, bool) else None


def _changes(tree: ast.AST, ratio: Fraction) -> list[tuple[int, int, int, str]]:
    """What is put where: lines from 0, bytes from one to another, and the text."""
    found: list[tuple[int, int, int, str]] = []
    done: set[int] = set()

    def put(node: ast.expr, words: str, begin: int | None = None, end: int | None = None) -> None:
        start, stop = node.col_offset, node.end_col_offset or node.col_offset
        line = node.lineno if begin is not None or end is None else node.end_lineno or node.lineno
        found.append((line - 1, start if begin is None else begin, stop if end is None else end, words))

    for node in ast.walk(tree):
        if _is_seconds(node):
            done.add(id(node.left))  # type: ignore[attr-defined]
        elif isinstance(node, ast.BinOp) and _named(node.left, "frame") and node.lineno == node.end_lineno:
            by = _number(node.right)
            if by and isinstance(node.op, ast.Mult | ast.Div):
                factor = (by if isinstance(node.op, ast.Mult) else 1 / by) / float(ratio)
                put(node, _times(factor))
                done.add(id(node.left))
        elif isinstance(node, ast.Call) and _named(node.func, "if_before") and node.args:
            at = node.args[0]
            number = _number(at)
            if number is not None:
                put(at, f"{number * float(ratio):.12g}")
            else:
                put(at, "(", at.col_offset, at.col_offset)
                found.append(
                    (
                        (at.end_lineno or 1) - 1,
                        at.end_col_offset or 0,
                        at.end_col_offset or 0,
                        f") * {float(ratio):.12g}",
                    )
                )
    tight = {
        id(part)
        for node in ast.walk(tree)
        if isinstance(node, ast.UnaryOp) or (isinstance(node, ast.BinOp) and not isinstance(node.op, ast.Add | ast.Sub))
        for part in ast.iter_child_nodes(node)
    }
    for node in ast.walk(tree):
        if _named(node, "frame") and id(node) not in done and isinstance(node, ast.Name):
            words = _times(1 / float(ratio))
            put(node, f"({words})" if id(node) in tight and words != "frame" else words)
    return found


def _times(factor: float) -> str:
    """`frame` times a factor, as one would write it by hand."""
    if abs(factor - 1) < 1e-12:
        return "frame"
    back = 1 / factor
    return f"frame / {round(back)}" if abs(back - round(back)) < 1e-9 and round(back) > 1 else f"frame * {factor:.12g}"
