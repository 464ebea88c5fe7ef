"""Texts in formulas: one for each frame, made of numbers, joined, cut, and as arrays beside those of other values."""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from datetime import date, timedelta
from fractions import Fraction
from functools import lru_cache
from typing import TypeVar

import numpy as np

from ..geometry.bezier import Floats
from ..text.clusters import clusters
from .problem import Faulty, FormulaProblem

MOST_LETTERS = 5_000
"""As many as a text that is typed has at most."""
MOST_MADE = 20_000
"""As many as a text may have that is cut afterwards."""
END = -1.0
"""What stands behind the last letter of a text that is shorter than others."""


@dataclass(frozen=True)
class Texts:
    """A text that is the same at every frame (one row), or one for each frame."""

    rows: tuple[str, ...]


def joined(a: Texts, b: Texts) -> Texts:
    """One text after another; Faulty where that is longer than any that is made."""
    longest = max((len(left) + len(right) for left, right in _alike(a.rows, b.rows)), default=0)
    if longest > MOST_MADE:
        raise Faulty(
            FormulaProblem(
                sentence=f"This joins {longest:,} letters; a text that is made on the way has at most {MOST_MADE:,}."
            )
        )
    return Texts(tuple(left + right for left, right in _alike(a.rows, b.rows)))


def chosen(choice: Floats, yes: Texts, no: Texts) -> Texts:
    """One text where `choice` (1 | n, 1) is not 0, another where it is."""
    both = _alike(yes.rows, no.rows)
    flags = choice[:, 0].tolist()
    return Texts(tuple(a if flag else b for flag, (a, b) in _alike(flags, both)))


def formatted(value: Floats, pattern: Texts) -> Texts:
    """Numbers (1 | n, 1) written by a pattern: `0` a whole number, `0.00` or `0,00` two places behind a point or a
    comma, `000` three in front of it; `0,000`, `0 000` and `0.000.000` with a comma, a space or a point between
    thousands; `0:00` minutes and seconds, `0:00:00` hours too. A `+` in front writes the sign of what is not negative;
    whatever else stands around is written around it. Halves are rounded away from 0.

    >>> formatted(np.array([[3.14159], [-2.5]]), Texts(("0.0",))).rows
    ('3.1', '-2.5')
    >>> formatted(np.array([[75.0]]), Texts(("0:00", "0.000,00"))).rows
    ('1:15', '75,00')
    """
    if value.shape[1] != 1:
        raise Faulty(FormulaProblem(sentence='format(value, "0.0") takes one number, and this is a pair.'))
    writers = {one: _writer(one) for one in set(pattern.rows)}
    return Texts(tuple(writers[how](number) for number, how in _alike(value[:, 0].tolist(), pattern.rows)))


PATTERN = re.compile(
    r"(?P<sign>\+?)"
    r"(?:(?P<clock>0{1,2}(?::00){1,2})"
    r"|0(?P<thousands>(?P<part>[,. '\u00a0\u202f])000(?!0)(?:(?P=part)000(?!0))*)"
    r"|(?P<figures>0{1,12}))"
    r"(?:(?P<point>[.,])(?P<places>0{1,9}))?"
)


def _writer(pattern: str) -> Callable[[float], str]:
    found = PATTERN.search(pattern)
    before, behind = (pattern[: found.start()], pattern[found.end() :]) if found else ("", "0")
    part, point, places = "", ".", 0
    if found:
        part, point, places = found["part"] or "", found["point"] or ".", len(found["places"] or "")
        if found["thousands"] == ".000" and not places:
            # As everywhere a point alone stands before places; thousands are parted by one from the second on.
            part, places = "", 3
    unclear = "0" in before + behind or before[-1:].isdigit() or re.match(r"[.,: ]?\d", behind)
    if unclear or (part and places and part == point):
        raise Faulty(
            FormulaProblem(
                sentence=f"'{pattern}' is no pattern of a number: 0, 0.0, 00.00, 0,000, 0.000,00 and 0:00 are, with + "
                "in front for its sign, and with words, units and currencies around."
            )
        )
    assert found
    sign, clock, width = found["sign"], (found["clock"] or "").split(":"), len(found["figures"] or "0")

    def written(number: float) -> str:
        if not math.isfinite(number):
            return "–"
        # Halves are rounded away from 0, as everybody does by hand; nearly halves that floats have lost too. A clock
        # cuts off: at 59.99 s it has not struck the minute.
        half = 0.5 if len(clock) == 1 else 0.0
        if abs(number) < 1e15 / 10**places:
            scaled = math.floor(abs(number) * 10**places + half + 1e-9)
        else:
            scaled = math.floor(Fraction(abs(number)) * 10**places + Fraction(half))
        minus = "-" if number < 0 and scaled else sign
        front, rest = divmod(scaled, 10**places)
        if len(clock) > 1:
            units = []
            for one in reversed(clock[1:]):
                front, unit = divmod(front, 60)
                units.append(str(unit).zfill(len(one)))
            text = ":".join([str(front).zfill(len(clock[0])), *reversed(units)])
        else:
            text = f"{front:,}".replace(",", part) if part else str(front).zfill(width)
        return f"{before}{minus}{text}{f'{point}{str(rest).zfill(places)}' if places else ''}{behind}"

    return written


DATED = re.compile(r"D{1,2}(?!\w)|M{1,4}(?!\w)|Y{4}(?!\w)|Y{2}(?!\w)|W{1,2}(?!\w)|\w+|\W")
MONTHS = (
    "January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November",
    "December",
)  # fmt: skip
WEEK = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")


def dated(start: Texts, days: Floats, pattern: Texts) -> Texts:
    """Dates (ISO 8601, `2026-11-30`) so many whole days (1 | n, 1) on, written by a pattern: `D` or `DD` the day, `M`,
    `MM`, `MMM` or `MMMM` the month, `YY` or `YYYY` the year, `W` or `WW` the day of the week; all else as it is.

    >>> dated(Texts(("2026-11-30",)), np.array([[0.0], [1.5]]), Texts(("WW, D MMM YYYY",))).rows
    ('Monday, 30 Nov 2026', 'Tuesday, 1 Dec 2026')
    """
    if days.shape[1] != 1:
        raise Faulty(FormulaProblem(sentence="date(…) takes one number of days, and this is a pair."))
    return Texts(
        tuple(
            _dated(begin, number, how)
            for begin, (number, how) in _alike(start.rows, _alike(days[:, 0].tolist(), pattern.rows))
        )
    )


def _dated(start: str, days: float, pattern: str) -> str:
    try:
        day = date.fromisoformat(start.strip())
    except ValueError:
        raise Faulty(
            FormulaProblem(sentence=f"'{start}' is no date: one is written year, month and day, as 2026-11-30.")
        ) from None
    if not math.isfinite(days):
        return "–"
    try:
        day += timedelta(days=math.floor(days + 1e-9))
    except OverflowError:
        raise Faulty(FormulaProblem(sentence="That date lies beyond the years 1 to 9999.")) from None
    month, week = MONTHS[day.month - 1], WEEK[day.weekday()]
    parts = {
        "D": f"{day.day}", "DD": f"{day.day:02}", "M": f"{day.month}", "MM": f"{day.month:02}", "MMM": month[:3],
        "MMMM": month, "YY": f"{day.year % 100:02}", "YYYY": f"{day.year:04}", "W": week[:3], "WW": week,
    }  # fmt: skip
    return "".join(parts.get(one, one) for one in DATED.findall(pattern))


THOUSANDS = re.compile(r"\d{1,3}(?:,\d{3})+")


def number_in(text: str) -> float:
    """The number that a text is, signs and units around it left out; Faulty where it holds none. Commas part thousands
    where each stands before three figures, as `format` writes them; one alone is a decimal comma else.

    >>> number_in("312 crabs"), number_in("1,204"), number_in("− 0,5 m"), number_in("1.250,75 €")
    (312.0, 1204.0, -0.5, 1250.75)
    """
    found = re.search(r"([-−+]?)\s*(\d[\d., '\u00a0\u202f]*)", text)
    if found is None:
        short = text if len(text) <= 40 else f"{text[:40]}…"
        raise Faulty(FormulaProblem(sentence=f"“{short}” holds no number."))
    figures = re.sub(r"[^\d.,]", "", found[2]).strip(".,")
    if "." in figures and "," in figures:
        part = min(".", ",", key=lambda one: figures.rindex(one))
        figures = figures.replace(part, "")
    elif THOUSANDS.fullmatch(figures) or figures.count(",") > 1:
        figures = figures.replace(",", "")
    elif figures.count(".") > 1:
        figures = figures.replace(".", "")
    value = float(figures.replace(",", "."))
    return -value if found[1] in ("-", "−") else value


def cut(text: Texts, count: Floats) -> Texts:
    """The first letters of a text, so many as `count` (1 | n, 1) says; what is written of several code points is one
    letter (UAX 29).

    >>> cut(Texts(("Tide",)), np.array([[-1.0], [2.9], [9.0]])).rows
    ('', 'Ti', 'Tide')
    """
    whole = np.clip(np.nan_to_num(np.floor(count[:, 0] + 1e-9)), 0, 10_000).astype(int).tolist()
    ends = {row: _ends(row) for row in set(text.rows)}
    return Texts(tuple(row[: ends[row][min(most, len(ends[row]) - 1)]] for row, most in _alike(text.rows, whole)))


@lru_cache(maxsize=256)
def _ends(row: str) -> tuple[int, ...]:
    """Where the first letters of a text end, from none of them to all."""
    return (0, *(end for _, end in clusters(row)))


A = TypeVar("A")
B = TypeVar("B")


def _alike(a: Iterable[A], b: Iterable[B]) -> list[tuple[A, B]]:
    """Two lists side by side, of which one may be of length 1."""
    left, right = list(a), list(b)
    count = max(len(left), len(right))
    return list(zip(left * (count if len(left) == 1 else 1), right * (count if len(right) == 1 else 1), strict=True))


def codes_of(text: Texts, count: int) -> Floats:
    """Texts as code points (count, d), d at least 1, `END` behind the last letter; what is longer than `MOST_LETTERS`
    is cut off, each by itself."""
    rows = [
        "".join(letter if letter == "\n" or letter >= " " else " " for letter in row[:MOST_LETTERS])
        for row in text.rows
    ]
    longest = max(1, *map(len, rows))
    found = np.full((len(rows), longest), END)
    for place, row in enumerate(rows):
        found[place, : len(row)] = [ord(letter) for letter in row]
    return np.broadcast_to(found, (count, longest))


def texts_of(codes: Floats) -> list[str]:
    """The texts of code points (n, d)."""
    return ["".join(chr(int(code)) for code in row if code >= 0) for row in codes]


def padded(codes: Floats, width: int) -> Floats:
    """Code points (n, d) with `END` up to a width."""
    if codes.shape[1] >= width:
        return codes
    return np.concatenate([codes, np.full((len(codes), width - codes.shape[1]), END)], axis=1)
