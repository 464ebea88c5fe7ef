"""Texts of numbers, and parts of texts."""

from __future__ import annotations

from ..problem import Faulty, FormulaProblem
from ..texts import Texts, cut, formatted
from ..values import numbers, texts
from .base import Call, Function


def _format(call: Call) -> Texts:
    value, pattern = call.value(0), call.text(1)
    if pattern is None:
        raise Faulty(FormulaProblem(sentence='format(value, "0.0") takes its pattern in quotes.'))
    return formatted(numbers(value), pattern)


def _letters(call: Call) -> Texts:
    value, count = call.value(0), call.value(1)
    words = texts(value)
    if words is None:
        raise Faulty(FormulaProblem(sentence='letters("text", count) takes a text in quotes.'))
    return cut(words, numbers(count))


WORDS = [
    Function(
        name="format", written='format(value, "0.0")', run=_format, least=2, most=2,
        sentence='A number as a text: "0.0" with one place behind the point, "0:00" as a clock.',
        example='format(t * 25, "0.0")',
    ),
    Function(
        name="letters", written="letters(text, count)", run=_letters, least=2, most=2,
        sentence="The first letters of a text, so many as the count.", example='letters("Low tide", t * 8)',
    ),
]  # fmt: skip
