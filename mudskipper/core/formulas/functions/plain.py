"""The functions that need nothing but their numbers, a line each."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from ...geometry.bezier import Floats
from . import shares
from .base import Call, Function, each


def _of_pairs(
    name: str, least: int, most: int, sums: Callable[..., Any], sentence: str, example: str, written: str
) -> Function:
    """A function whose arguments need not go together."""

    def run(call: Call) -> Floats:
        return np.asarray(sums(*call.numbers))

    return Function(name=name, written=written, sentence=sentence, example=example, run=run, least=least, most=most)


ANGLES = [
    each("sin", 1, np.sin, "The sine of an angle in radians.", "30 * sin(t * tau)", "sin(angle)"),
    each("cos", 1, np.cos, "The cosine of an angle in radians.", "30 * cos(t * tau)", "cos(angle)"),
    each("tan", 1, np.tan, "The tangent of an angle in radians.", "tan(radians(30))", "tan(angle)",
         fails="a value that is too large"),
    each("asin", 1, np.arcsin, "The angle in radians whose sine it is.", "degrees(asin(0.5))", "asin(share)",
         fails="asin of what is beyond −1 to 1", passes=None),
    each("acos", 1, np.arccos, "The angle in radians whose cosine it is.", "degrees(acos(0.5))", "acos(share)",
         fails="acos of what is beyond −1 to 1", passes=None),
    each("atan2", 2, np.arctan2, "The angle in radians of the arrow (x, y), y first.", "degrees(atan2(1, 1))",
         "atan2(y, x)", passes=None),
    each("degrees", 1, np.degrees, "Radians in degrees.", "degrees(pi)", "degrees(angle)", unit="°"),
    each("radians", 1, np.radians, "Degrees in radians.", "sin(radians(90))", "radians(angle)"),
]  # fmt: skip

NUMBERS = [
    each("sqrt", 1, np.sqrt, "The square root.", "sqrt(t) * 100", "sqrt(value)",
         fails="the square root of less than 0"),
    each("pow", 2, np.power, "A number to a power; ** is the same.", "pow(t, 2) * 10", "pow(value, power)",
         fails="a power that has no value"),
    each("exp", 1, np.exp, "e to a power.", "100 * exp(-3 * t)", "exp(power)", fails="a value that is too large"),
    each("log", 1, np.log, "The natural logarithm.", "log(1 + t) * 50", "log(value)",
         fails="the logarithm of 0 or less"),
    each("abs", 1, np.abs, "Without its sign.", "abs(sin(t * tau)) * 40", "abs(value)"),
    each("sign", 1, np.sign, "−1, 0 or 1.", "sign(sin(t)) * 20", "sign(value)"),
    each("floor", 1, np.floor, "The next whole number below.", "floor(t) * 15", "floor(value)"),
    each("ceil", 1, np.ceil, "The next whole number above.", "ceil(t) * 15", "ceil(value)"),
    each("round", 1, np.rint, "The nearest whole number.", "round(t) * 15", "round(value)"),
    each("min", 2, lambda *a: np.minimum.reduce(np.broadcast_arrays(*a)), "The least of several.", "min(t * 100, 80)",
         "min(a, b, …)", most=8),
    each("max", 2, lambda *a: np.maximum.reduce(np.broadcast_arrays(*a)), "The largest of several.", "max(t * 100, 20)",
         "max(a, b, …)", most=8),
    _of_pairs("hypot", 2, 4, shares.hypot, "The length of the arrow (x, y).", "hypot(3, 4)", "hypot(x, y)"),
    _of_pairs("length", 1, 1, shares.length, "How long a pair is, as an arrow.", "length(base)", "length(pair)"),
]  # fmt: skip

SHARES = [
    each("mix", 3, shares.mix, "From a at k = 0 to b at k = 1.", "mix(base, 50, 0.5)", "mix(a, b, k)"),
    each("clamp", 3, shares.clamp, "Not below low, and not above high.", "clamp(t * 50, 0, 100)",
         "clamp(value, low, high)"),
    each("step", 2, shares.step, "0 below the edge, 1 from it on.", "step(1, t) * 100", "step(edge, value)"),
    each("smoothstep", 3, shares.smoothstep, "0 up to low, 1 from high on, and smoothly between.",
         "smoothstep(0, 1, t) * 100", "smoothstep(low, high, value)"),
    each("fract", 1, shares.saw, "What is behind the point: 2.25 gives 0.25.", "fract(t) * 100", "fract(value)"),
    each("remap", 5, shares.remap, "What lies between a0 and a1 as far between b0 and b1.", "remap(t, 0, 2, 0, 100)",
         "remap(value, a0, a1, b0, b1)", fails="a division by 0"),
    each("saw", 1, shares.saw, "0 to 1 in each turn.", "saw(t) * 100", "saw(turns)"),
    each("triangle", 1, shares.triangle, "0 to 1 and back in each turn.", "triangle(t) * 100", "triangle(turns)"),
    each("square", 1, shares.square, "1 in the first half of each turn, 0 in the second.", "square(t) * 100",
         "square(turns)"),
]  # fmt: skip

PLAIN = [*ANGLES, *NUMBERS, *SHARES]
