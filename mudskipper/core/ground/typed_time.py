"""Times as they are typed: `45`, `45f`, `1:10`, `1.5s`, `+12`, and calculations with these numbers."""

from __future__ import annotations

import ast
import math
import operator
import re
from collections.abc import Callable

from .errors import Refused
from .time import drops, rate_fraction

FORMS = "45, 45f, 1:10, 1.5s or +12"

_LONGEST = 100
_CODE = re.compile(r"\d{1,9}([:;]\d{1,9}){1,2}")
_SUM = re.compile(r"[-+*/().\d\se]*")
_LEADING_ZEROS = re.compile(r"(?<![\d.])0+(?=\d)")
_OPERATIONS: dict[type, Callable[[float, float], float]] = {
    ast.Add: operator.add, ast.Sub: operator.sub, ast.Mult: operator.mul, ast.Div: operator.truediv,
}  # fmt: skip


def typed_time(text: str, rate: tuple[int, int], now: float | None = None) -> float:
    """The frame, or the number of frames, that a text tells; Refused where it tells none.

    `45` and `45f` are frames, `1:10` (or `1;10`) seconds:frames, `2:01:10` with minutes, `1.5s` seconds, rounded to
    whole frames. `+12` and `-12` step from `now` where it is given. Numbers may be calculations such as `1920/2`, with
    a decimal comma. At 29.97 and 59.94 timecode is drop-frame (SMPTE ST 12-1).

    >>> typed_time("1:10", (30, 1)), typed_time("1.5s", (24, 1)), typed_time("+2:00", (25, 1), now=10)
    (40.0, 36.0, 60.0)
    """
    given = text.strip().lower()
    if now is not None and given[:1] in ("+", "-"):
        step = typed_time(given[1:], rate)
        return now + step if given[0] == "+" else now - step
    frames = _frames(given, rate) if len(given) <= _LONGEST else None
    if frames is None:
        short = text if len(text) <= 40 else f"{text[:40]}…"
        what = f"“{short}” is no time" if given else "No time is given"
        raise Refused(f"{what}: a time is written as {FORMS}.", where="text")
    return frames


def _frames(given: str, rate: tuple[int, int]) -> float | None:
    if _CODE.fullmatch(given):
        *clock, frames = map(int, re.split("[:;]", given))
        nominal = max(round(rate_fraction(rate)), 1)
        if frames >= nominal:
            return None
        seconds = clock[-1] + 60 * sum(clock[:-1])
        minutes = seconds // 60
        return float(seconds * nominal + frames - drops(rate) * (minutes - minutes // 10))
    unit = given[-1:] if given[-1:] in ("f", "s") else ""
    value = number_of(given.removesuffix(unit))
    if value is None or unit != "s":
        return value
    exact = value * float(rate_fraction(rate))
    return float(math.floor(exact + 0.5)) if math.isfinite(exact) else None


def number_of(given: str) -> float | None:
    """The value of a number or a sum of numbers, or None."""
    text = _LEADING_ZEROS.sub("", given.strip().replace(",", "."))
    if not _SUM.fullmatch(text):
        return None
    try:
        value = _value(ast.parse(text, mode="eval").body)
    except (SyntaxError, ValueError, ArithmeticError):
        return None
    return value if math.isfinite(value) else None


def _value(node: ast.expr) -> float:
    match node:
        case ast.Constant(value=int() | float() as number):
            return float(number)
        case ast.UnaryOp(op=ast.USub(), operand=operand):
            return -_value(operand)
        case ast.UnaryOp(op=ast.UAdd(), operand=operand):
            return _value(operand)
        case ast.BinOp(left=left, op=op, right=right) if type(op) in _OPERATIONS:
            return _OPERATIONS[type(op)](_value(left), _value(right))
    raise ValueError("not a calculation of numbers")
