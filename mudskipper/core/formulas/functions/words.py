"""Texts of numbers, and parts of texts."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

import numpy as np

from ...geometry.bezier import Floats
from ..problem import Faulty, FormulaProblem
from ..texts import Texts, cut, dated, formatted, number_in
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


def _date(call: Call) -> Texts:
    start, days, pattern = call.text(0), call.value(1), call.text(2)
    if start is None or pattern is None:
        raise Faulty(FormulaProblem(sentence='date("2026-11-30", days, "D MMMM YYYY") takes both texts in quotes.'))
    return dated(start, numbers(days), pattern)


def _cased(name: str, change: Callable[[str], str], call: Call) -> Texts:
    words = texts(call.value(0))
    if words is None:
        raise Faulty(FormulaProblem(sentence=f'{name}("text") takes a text in quotes.'))
    return Texts(tuple(change(row) for row in words.rows))


def _number(call: Call) -> Floats:
    words = texts(call.value(0))
    if words is None:
        raise Faulty(FormulaProblem(sentence='number("text") takes a text in quotes, such as base of a text.'))
    return np.array([[number_in(row)] for row in words.rows])


WORDS = [
    Function(
        name="format", written='format(value, "0.0")', run=_format, least=2, most=2,
        sentence='A number as a text: "0.0" with one place, "0,000" with thousands, "0.000,00 €", "0:00" a clock.',
        example='format(t * 25, "0.0")',
    ),
    Function(
        name="letters", written="letters(text, count)", run=_letters, least=2, most=2,
        sentence="The first letters of a text, so many as the count.", example='letters("Low tide", t * 8)',
    ),
    Function(
        name="date", written='date("2026-11-30", days, "D MMMM YYYY")', run=_date, least=3, most=3, yields=True,
        sentence="A date some days on: D, DD, M, MM, MMM, MMMM, YY, YYYY, and W, WW for the day of the week.",
        example='date("2026-11-30", t * 7, "WW, D MMMM YYYY")',
    ),
    Function(
        name="number", written="number(text)", run=_number, least=1, most=1, yields=True,
        sentence="The number that a text is: of “312” 312, of “1,204” 1204, of “0.5” and “0,5” a half.",
        example='number("312") * t',
    ),
    Function(
        name="upper", written="upper(text)", run=partial(_cased, "upper", str.upper), yields=True,
        sentence="A text in capital letters.", example='upper("Low tide")',
    ),
    Function(
        name="lower", written="lower(text)", run=partial(_cased, "lower", str.lower), yields=True,
        sentence="A text in small letters.", example='lower("Low tide")',
    ),
]  # fmt: skip
