"""What looks like a mistake in a formula that has a value: degrees where radians are taken, percent for shares."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from ..geometry.bezier import Floats
from ..ground.shown import Shown
from .problem import FormulaProblem, Mend

TURNS = {30.0, 45.0, 60.0, 90.0, 120.0, 135.0, 180.0, 225.0, 270.0, 315.0, 360.0, 720.0}
"""Numbers that are angles in degrees rather than in radians."""
OF_ANGLES = ("sin", "cos", "tan")
GIVE_RADIANS = ("asin", "acos", "atan2", "radians")
SMALL, PLAIN = 1.5, 10.0
"""Percent up to the first are shares, where the property without the formula is above the second."""


def hints_of(text: str, about: Shown, values: Floats, base: Floats, shares: bool = False) -> list[FormulaProblem]:
    """Hints about a formula that can be read, by its values and those without it (n, d) over the layer's span; `shares`
    says that the property is in shares of a box. Each has the text that mends it."""
    tree = ast.parse(text)
    found = [*_angles_taken(text, tree, about), *_angles_given(text, tree, about)]
    last = tree.body[-1]
    if values.shape[1] == 4 and isinstance(last, ast.Expr) and _fades(last.value) and (values[:, 3] < base[:, 3]).any():
        sentence = "This fades the colour as well: its fourth number is how opaque it is."
        words = ast.get_source_segment(text, last.value) or ""
        above = "\n".join([*text.split("\n")[: last.lineno - 1], ""]) if last.lineno > 1 else ""
        whole = f"{above}faded = {words}\n(faded.r, faded.g, faded.b, base.a)"
        found.append(FormulaProblem(sentence=sentence, mends=(Mend(label="Keep it as opaque", text=whole),)))
    given = values[abs(values) < 1e9]
    if not given.size or not isinstance(last, ast.Expr):
        return found
    most = float(abs(given).max())
    if about.unit == "%" and 0 < most <= SMALL and float(abs(base).max()) >= PLAIN:
        sentence = f"{about.label} is in percent, and this gives {most:.2g} % at most."
        found.append(_hint(text, last.value, sentence, "100 * ({})"))
    if shares and most > PLAIN:
        sentence = f"{about.label} is in shares of the box (0.5 is its middle), and this gives {most:.4g}."
        found.append(_hint(text, last.value, sentence, "({}) / 100"))
    return found


def _fades(node: ast.AST) -> bool:
    """Whether a colour is multiplied or divided as a whole."""
    return any(
        isinstance(one, ast.BinOp) and isinstance(one.op, ast.Mult | ast.Div)
        and any(isinstance(side, ast.Name) and side.id == "base" for side in (one.left, one.right))
        for one in ast.walk(node)
    )  # fmt: skip


def _angles_taken(text: str, tree: ast.AST, about: Shown) -> Iterator[FormulaProblem]:
    for call in ast.walk(tree):
        if not (isinstance(call, ast.Call) and isinstance(call.func, ast.Name) and call.func.id in OF_ANGLES):
            continue
        if len(call.args) == 1 and (what := _degrees(call.args[0], about)):
            sentence = f"{call.func.id} takes an angle in radians, and {what} in degrees."
            yield _hint(text, call.args[0], sentence, "radians({})")


def _degrees(node: ast.AST, about: Shown) -> str:
    """What in an angle is in degrees, in words; empty where nothing seems to be."""
    if isinstance(node, ast.Call) and isinstance(node.func, ast.Name):
        return "angle_to(…) is" if node.func.id == "angle_to" else "degrees(…) is" if node.func.id == "degrees" else ""
    if isinstance(node, ast.Constant):
        value = node.value
        return f"{value:g} seems to be" if isinstance(value, int | float) and float(value) in TURNS else ""
    named = node.attr if isinstance(node, ast.Attribute) else node.id if isinstance(node, ast.Name) else ""
    if named == "rotation" or (named == "base" and about.unit == "°"):
        return f"{named} is"
    if isinstance(node, ast.BinOp):
        sides = (node.left,) if isinstance(node.op, ast.Div) else (node.left, node.right)
        return next(filter(None, (_degrees(side, about) for side in sides)), "")
    return _degrees(node.operand, about) if isinstance(node, ast.UnaryOp) else ""


def _angles_given(text: str, tree: ast.Module, about: Shown) -> Iterator[FormulaProblem]:
    """A property in degrees to which radians are given."""
    last = tree.body[-1]
    if about.unit == "°" and isinstance(last, ast.Expr):
        for call in _summands(last.value):
            sentence = f"{about.label} is in degrees, and {call.func.id}(…) gives radians."  # type: ignore[attr-defined]
            if call.func.id == "radians":  # type: ignore[attr-defined]
                yield _hint(text, call, sentence, "{}", call.args[0])
            else:
                yield _hint(text, call, sentence, "degrees({})")


def _summands(node: ast.AST) -> Iterator[ast.Call]:
    """The calls that give radians and of which a value is the sum, as it stands or times a number."""
    if isinstance(node, ast.BinOp):
        yield from _summands(node.left)
        if not isinstance(node.op, ast.Div):
            yield from _summands(node.right)
    elif isinstance(node, ast.UnaryOp):
        yield from _summands(node.operand)
    elif isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in GIVE_RADIANS:
        yield node


def _hint(text: str, node: ast.expr, sentence: str, form: str, inner: ast.expr | None = None) -> FormulaProblem:
    """A hint about a node, which is mended by `form` around what stands there, or around a part of it."""
    words = ast.get_source_segment(text, inner or node) or ""
    lines = [line.encode() for line in text.split("\n")]
    mends: tuple[Mend, ...] = ()
    if node.end_lineno == node.lineno and node.end_col_offset is not None:
        line = lines[node.lineno - 1]
        put = form.format(words)
        lines[node.lineno - 1] = line[: node.col_offset] + put.encode() + line[node.end_col_offset :]
        mends = (Mend(label=f"Write {put}", text=b"\n".join(lines).decode()),)
    return FormulaProblem(
        sentence=sentence, line=node.lineno, column=node.col_offset + 1, end=(node.end_col_offset or 0) + 1, mends=mends
    )
