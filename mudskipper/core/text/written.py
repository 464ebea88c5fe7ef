"""A text as it is written: its letters, cased, and which part of it each belongs to."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Literal

from .fonts import Style
from .runs import Marks

Case = Literal["typed", "upper", "small capitals"]
SMALL = 0.7
"""How large capitals are that stand for small ones which a font has not, as browsers make them."""


@dataclass(frozen=True)
class Written:
    """A text with the marks of its parts; part 0 is what no other is. `styles` are those of the parts."""

    text: str
    marks: Marks
    styles: tuple[Style, ...]


def paragraphs(text: str, marks: Marks) -> list[tuple[str, Marks]]:
    """The paragraphs of a text as they were typed, each with its marks."""
    found, start = [], 0
    for paragraph in text.split("\n"):
        found.append((paragraph, cut(marks, start, start + len(paragraph))))
        start += len(paragraph) + 1
    return found


def cut(marks: Marks, start: int, stop: int) -> Marks:
    """The marks of what lies from `start` to `stop` (not included)."""
    return tuple(
        (min(end, stop) - start, part)
        for (end, part), before in zip(marks, (0, *(m[0] for m in marks)), strict=False)
        if end > start and before < stop
    )


def part_at(marks: Marks, place: int) -> int:
    """The part of a letter."""
    return next((part for end, part in marks if place < end), 0)


@lru_cache(maxsize=4_096)
def written(
    text: str, parts: tuple[tuple[int, int], ...], cases: tuple[Case, ...], styles: tuple[Style, ...]
) -> Written:
    """A text whose parts go from one letter (code point) to another (not included), a later one over an earlier one;
    `cases` and `styles` are those of part 0 and then of each. Of small capitals those that a font has not are large
    ones, in a part of their own behind the others: that of part k stands at `len(styles) + k`, where any has them."""
    of = [0] * len(text)
    for number, (start, stop) in enumerate(parts, 1):
        end = min(stop, len(text))
        of[start:end] = [number] * max(end - start, 0)
    small = [case == "small capitals" and not _has_small(style) for case, style in zip(cases, styles, strict=True)]
    letters: list[str] = []
    stretches: list[tuple[int, int]] = []
    for letter, part in zip(text, of, strict=True):
        shown, at = letter, part
        if letter != "\n" and (cases[part] == "upper" or small[part]):
            shown = letter.upper()
            if small[part] and shown != letter:
                at = len(styles) + part
        letters.append(shown)
        end = (stretches[-1][0] if stretches else 0) + len(shown)
        if stretches and stretches[-1][1] == at:
            stretches[-1] = end, at
        else:
            stretches.append((end, at))
    every = styles
    if any(small):
        every = (*styles, *(replace(style, sized=len(styles) + style.sized) for style in styles))
    featured = tuple(
        style.with_features(("smcp",))
        if cases[at % len(styles)] == "small capitals" and not small[at % len(styles)]
        else style
        for at, style in enumerate(every)
    )
    return Written("".join(letters), tuple(stretches), featured)


def _has_small(style: Style) -> bool:
    return "smcp" in style.face.features


def shifted(stretches: Sequence[tuple[int, int]], before: str, after: str) -> list[tuple[int, int]]:
    """Where stretches of a text stand in another that was made of it by typing in one place. What is typed belongs to
    what the letter before it does, or where letters were replaced, the first of them; a stretch that is gone is empty.

    >>> shifted([(0, 3), (4, 8)], "Low tide", "Slow tide")
    [(0, 4), (5, 9)]
    """
    most = min(len(before), len(after))
    same = next((i for i in range(most) if before[i] != after[i]), most)
    tail = next((i for i in range(most - same) if before[-1 - i] != after[-1 - i]), most - same)
    gone, come = len(before) - tail, len(after) - tail
    typed = same == gone

    def start_of(place: int) -> int:
        if place < same or place == 0 or (place == same and not typed):
            return place
        return come if place < gone else place + come - gone

    def end_of(place: int) -> int:
        if place < same or (place == same and not typed):
            return place
        return come if place <= gone else place + come - gone

    return [(start_of(start), end_of(stop)) for start, stop in stretches]
