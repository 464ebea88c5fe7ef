"""Where lines end: as typed, and where a paragraph no longer fits its width (UAX 14)."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache
from itertools import accumulate

import numpy as np
from numpy.typing import NDArray
from unicode_segmentation_rs import line_break_units

from ..geometry.bezier import Floats
from .directions import level_of
from .runs import Marks
from .written import cut, paragraphs

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


@dataclass(frozen=True)
class Measured:
    """A paragraph with its marks and with what is known of where its lines may end: the `places` (k), how far the
    letters before each place of it reach (c + 1), and how far a line does that ends at each of the places (k), without
    the spaces there."""

    text: str
    marks: Marks
    places: NDArray[np.intp]
    reached: Floats
    behind: Floats

    @cached_property
    def rising(self) -> bool:
        """Whether a line that ends later always reaches further."""
        return bool((np.diff(self.behind) >= 0).all())

    def ends(self, width: float, indent: float) -> tuple[list[int], float]:
        """Where the lines of the paragraph end that fit a width, the first of them shorter by an indent; and how wide
        the widest is."""
        if len(self.places) < 2:
            return [len(self.text)], indent + (float(self.behind[-1]) if len(self.behind) else 0.0)
        ends: list[int] = []
        first, start, into, widest = 0, 0.0, indent, 0.0
        while first < len(self.places):
            room = start + width - into + 1e-9
            if self.rising:
                last = int(np.searchsorted(self.behind, room, side="right")) - 1
            else:
                fits = np.flatnonzero(self.behind[first:] <= room)
                last = first + int(fits[-1]) if len(fits) else first
            last = max(last, first)
            widest = max(widest, float(self.behind[last]) - start + into)
            ends.append(int(self.places[last]))
            first, start, into = last + 1, float(self.reached[ends[-1]]), 0.0
        return ends, widest


def measured(paragraph: str, marks: Marks, reach: Reach, hyphen: str) -> Measured:
    """What must be known of a paragraph to break it at any width."""
    places = np.array(chances(paragraph), dtype=np.intp)
    letters, gaps = reach(paragraph, marks)
    reached = np.concatenate([[0.0], np.cumsum(letters + gaps)])
    solid = np.array([len(paragraph[:place].rstrip(" ")) for place in places], dtype=np.intp)
    # Tracking follows no last letter.
    behind = reached[solid] - np.where(solid > 0, gaps[solid - 1], 0.0) if len(places) else np.zeros(0)
    for index, place in enumerate(places[:-1].tolist()):
        if paragraph[place - 1] == SOFT:
            behind[index] = reached[place] + reach(hyphen, cut(marks, place - 1, place))[0].sum()
    return Measured(paragraph, marks, places, reached, behind)


def broken(
    paragraphs: Sequence[Measured], width: float, indent: float, hyphen: str = "-", turned: bool | None = None
) -> tuple[Line, ...]:
    """The lines of a text that fits a width in pixels; `indent` is what first lines are shorter by, `turned` as in
    `is_turned`. A word that is wider has a line of its own."""
    found: list[Line] = []
    for number, one in enumerate(paragraphs):
        ends, _ = one.ends(width, indent)
        backwards = is_turned(one.text, turned)
        for place, (start, stop) in enumerate(zip((0, *ends), ends, strict=False)):
            line = one.text[start:stop].rstrip(" ")
            if stop < len(one.text) and line.endswith(SOFT):
                line = line[:-1] + hyphen
            mine = cut(one.marks, start, start + len(line))
            found.append(Line(line, mine, place == 0, place == len(ends) - 1, backwards, number))
    return tuple(found)
