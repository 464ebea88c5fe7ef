"""Where lines end: as typed, and where a paragraph no longer fits its width (UAX 14)."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from itertools import accumulate

import numpy as np
from unicode_segmentation_rs import line_break_units

from ..geometry.bezier import Floats
from .runs import Marks, level_of
from .written import Written, cut, paragraphs

SOFT = "\u00ad"
"""The soft hyphen: a place where a word may be parted, which shows a hyphen there."""


@dataclass(frozen=True)
class Line:
    """A line of a paragraph with the marks of its parts, the first or last of it or not; `turned` says that the
    paragraph is read from the right, `paragraph` how many are above it."""

    text: str
    marks: Marks
    first: bool = True
    last: bool = True
    turned: bool = False
    paragraph: int = 0


@lru_cache(maxsize=2_048)
def typed_lines(text: str, marks: Marks, turned: bool | None = None) -> tuple[Line, ...]:
    """The lines of a text as they were typed; `turned` as in `is_turned`."""
    return tuple(
        Line(one, own, turned=is_turned(one, turned), paragraph=at)
        for at, (one, own) in enumerate(paragraphs(text, marks))
    )


def is_turned(paragraph: str, turned: bool | None) -> bool:
    """Whether a paragraph is read from the right: where it is not said, by its first strong letter."""
    return level_of(paragraph) == 1 if turned is None else turned


@lru_cache(maxsize=1_024)
def chances(paragraph: str) -> tuple[int, ...]:
    """Where a line of a paragraph may end, its own end last."""
    return tuple(accumulate(map(len, line_break_units(paragraph))))


Reach = Callable[[str, Marks], tuple[Floats, Floats]]
"""The width of each letter of a line, in pixels, and the tracking that follows it."""


def broken(
    whole: Written, reach: Reach, width: float, indent: float, hyphen: str = "-", turned: bool | None = None
) -> tuple[Line, ...]:
    """The lines of a text that fits a width in pixels; `indent` is what first lines are shorter by, `turned` as in
    `is_turned`. A word that is wider has a line of its own."""
    found: list[Line] = []
    for number, (paragraph, marks) in enumerate(paragraphs(whole.text, whole.marks)):
        ends = _ends(paragraph, marks, reach, width, indent, hyphen)
        backwards = is_turned(paragraph, turned)
        for place, (start, stop) in enumerate(zip((0, *ends), ends, strict=False)):
            line = paragraph[start:stop].rstrip(" ")
            if stop < len(paragraph) and line.endswith(SOFT):
                line = line[:-1] + hyphen
            mine = cut(marks, start, start + len(line))
            found.append(Line(line, mine, place == 0, place == len(ends) - 1, backwards, number))
    return tuple(found)


def _ends(paragraph: str, marks: Marks, reach: Reach, width: float, indent: float, hyphen: str) -> tuple[int, ...]:
    places = np.array(chances(paragraph), dtype=np.intp)
    if len(places) < 2:
        return (len(paragraph),)
    letters, gaps = reach(paragraph, marks)
    # Tracking follows no last letter.
    ends_at = np.concatenate([[0.0], np.cumsum(letters + gaps)])
    solid = np.array([len(paragraph[:place].rstrip(" ")) for place in places], dtype=np.intp)
    behind = ends_at[solid] - np.where(solid > 0, gaps[solid - 1], 0.0)
    for index, place in enumerate(places[:-1].tolist()):
        if paragraph[place - 1] == SOFT:
            behind[index] = ends_at[place] + reach(hyphen, cut(marks, place - 1, place))[0].sum()
    ends: list[int] = []
    start, into = 0, indent
    while start < len(paragraph):
        first = int(np.searchsorted(places, start, side="right"))
        fits = np.flatnonzero(behind[first:] <= ends_at[start] + width - into + 1e-9)
        ends.append(int(places[first + (int(fits[-1]) if len(fits) else 0)]))
        start, into = ends[-1], 0.0
    return tuple(ends)
