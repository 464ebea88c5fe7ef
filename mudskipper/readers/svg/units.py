"""Numbers, lengths, matrices and viewports of SVG."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass

from svgelements import Matrix as _Matrix

Matrix = tuple[float, float, float, float, float, float]
"""As CSS writes it: x' = a·x + c·y + e, y' = b·x + d·y + f."""
IDENTITY: Matrix = (1.0, 0.0, 0.0, 1.0, 0.0, 0.0)
PIXELS = {
    "": 1.0, "px": 1.0, "pt": 4 / 3, "pc": 16.0, "mm": 96 / 25.4, "cm": 96 / 2.54, "q": 96 / 101.6, "in": 96.0,
}  # fmt: skip
NUMBER = re.compile(r"[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?")
LENGTH = re.compile(rf"\s*({NUMBER.pattern})\s*([a-zA-Z%]*)\s*$")
FARTHEST = 1e6
FIXED = {"rest": [0.0, 0.0], "pinned": False}
"""An anchor at the origin."""


@dataclass(frozen=True)
class Viewport:
    """What percentages are of, and the sizes of fonts."""

    width: float
    height: float

    def of(self, axis: str) -> float:
        """100 % along x, along y, or of neither (SVG 2, 8.9)."""
        if axis == "x":
            return self.width
        if axis == "y":
            return self.height
        return math.hypot(self.width, self.height) / math.sqrt(2)


def length(text: str | None, viewport: Viewport, axis: str, default: float = 0.0, em: float = 16.0) -> float:
    """A length in pixels; the default where there is none that can be read."""
    match = LENGTH.match(text or "")
    if not match:
        return default
    number, unit = float(match.group(1)), match.group(2).lower()
    if unit == "%":
        value = number / 100 * viewport.of(axis)
    elif unit in ("em", "rem"):
        value = number * (em if unit == "em" else 16.0)
    elif unit in ("ex", "ch"):
        value = number * em / 2
    else:
        value = number * PIXELS.get(unit, math.nan)
    return value if math.isfinite(value) and abs(value) <= FARTHEST else default


def numbers(text: str | None) -> list[float]:
    """All the numbers in a text."""
    return [float(one) for one in NUMBER.findall(text or "")]


def view_box(text: str | None) -> tuple[float, float, float, float] | None:
    """x, y, width, height of a view box; None where there is none that can be read."""
    found = numbers(text)
    return (found[0], found[1], found[2], found[3]) if len(found) == 4 and all(map(math.isfinite, found)) else None


def number(text: str | None, default: float) -> float:
    """A number, or a percentage as a share of 1; the default where it cannot be read."""
    match = LENGTH.match(text or "")
    if not match or match.group(2) not in ("", "%"):
        return default
    value = float(match.group(1)) / (100 if match.group(2) else 1)
    return value if math.isfinite(value) else default


def matrix_of(text: str | None) -> Matrix:
    """A transform; the one that leaves all as it is where it cannot be read."""
    if not text or not text.strip() or text.strip() == "none":
        return IDENTITY
    try:
        m = _Matrix(text)
        found = tuple(float(n) for n in (m.a, m.b, m.c, m.d, m.e, m.f))
    except (ValueError, TypeError, IndexError, KeyError, AttributeError):
        return IDENTITY
    return found if all(math.isfinite(n) and abs(n) <= FARTHEST for n in found) else IDENTITY  # type: ignore[return-value]


def multiply(o: Matrix, i: Matrix) -> Matrix:
    """The matrix that applies `i` first, then `o`."""
    return (
        o[0] * i[0] + o[2] * i[1], o[1] * i[0] + o[3] * i[1], o[0] * i[2] + o[2] * i[3], o[1] * i[2] + o[3] * i[3],
        o[0] * i[4] + o[2] * i[5] + o[4], o[1] * i[4] + o[3] * i[5] + o[5],
    )  # fmt: skip


def at(m: Matrix, x: float, y: float) -> tuple[float, float]:
    """A point through a matrix."""
    return m[0] * x + m[2] * y + m[4], m[1] * x + m[3] * y + m[5]


def along(m: Matrix, x: float, y: float) -> tuple[float, float]:
    """A step through a matrix."""
    return m[0] * x + m[2] * y, m[1] * x + m[3] * y


def similar(m: Matrix) -> float | None:
    """By how much a matrix grows all lengths alike; None where it does not."""
    a, b, c, d = m[:4]
    one, other = math.hypot(a, b), math.hypot(c, d)
    if abs(one - other) <= 1e-6 * max(one, other) and abs(a * c + b * d) <= 1e-6 * one * other:
        return one
    return None


def turned(m: Matrix) -> tuple[float, float, float, float]:
    """A matrix as turns and a scale: R(first) · S(x, y) · R(last), angles in degrees (singular values)."""
    a, b, c, d = m[:4]
    e, f, g, h = (a + d) / 2, (a - d) / 2, (b + c) / 2, (b - c) / 2
    q, r = math.hypot(e, h), math.hypot(f, g)
    plus, minus = math.atan2(h, e), math.atan2(g, f)
    return math.degrees((plus + minus) / 2), q + r, q - r, math.degrees((plus - minus) / 2)


def fitted(given: str | None, aspect: str | None, width: float, height: float) -> Matrix | None:
    """The matrix from a view box to a viewport of a size (SVG 2, 8.2); None where it has no size."""
    box = view_box(given)
    if box is None:
        return IDENTITY
    x, y, w, h = box
    if w <= 0 or h <= 0:
        return None
    sx, sy = width / w, height / h
    words = (aspect or "xMidYMid meet").split()
    how = words[0] if words else "xMidYMid"
    if how == "none":
        return sx, 0.0, 0.0, sy, -x * sx, -y * sy
    scale = max(sx, sy) if "slice" in words else min(sx, sy)
    shares = {"Min": 0.0, "Mid": 0.5, "Max": 1.0}
    fx, fy = shares.get(how[1:4], 0.5), shares.get(how[5:8], 0.5)
    return (
        scale, 0.0, 0.0, scale, (width - w * scale) * fx - x * scale, (height - h * scale) * fy - y * scale,
    )  # fmt: skip


def tidy(n: float) -> float:
    """A number as it is written."""
    return round(n, 4)
