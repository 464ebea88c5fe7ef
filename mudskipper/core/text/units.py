"""What a text is moved by: its letters and its words, by where they are written (UAX 29)."""

from __future__ import annotations

from functools import lru_cache
from itertools import accumulate, pairwise

import regex
from unicode_segmentation_rs import split_word_bounds

from .clusters import clusters

UNSPACED = regex.compile(r"[\p{Han}\p{Hiragana}\p{Katakana}\p{Thai}\p{Lao}\p{Khmer}\p{Myanmar}]")
"""Letters of scripts that are written without spaces between words."""


@lru_cache(maxsize=4_096)
def unit_numbers(line: str) -> tuple[tuple[int, int], ...]:
    """The numbers of the letter and of the word that each code point of a line is of. Words end at spaces, marks with
    what they stand at; where none are written, as the standard parts them.

    >>> unit_numbers("It is")
    ((0, 0), (1, 0), (2, 0), (3, 1), (4, 1))
    """
    letters = [number for number, (start, stop) in enumerate(clusters(line)) for _ in range(start, stop)]
    words: list[int] = []
    for start, stop in _words(line):
        words += [words[-1] + 1 if words else 0] * (stop - start)
    return tuple(zip(letters, words, strict=True))


def _words(line: str) -> list[tuple[int, int]]:
    """Where words begin and end, the spaces behind them their own."""
    ends = [0]
    for found in regex.finditer(r"\s*\S+\s*", line):
        start, stop = found.span()
        if UNSPACED.search(found.group()):
            pieces = list(accumulate(map(len, split_word_bounds(found.group())), initial=start))
            # Punctuation goes with what stands before it.
            pieces = [at for at in pieces[1:-1] if line[at].isalnum()]
            ends += pieces
        ends.append(stop)
    if ends[-1] < len(line):
        ends.append(len(line))
    return list(pairwise(dict.fromkeys(ends)))


def stretches_of(text: str, unit: str) -> list[tuple[int, int]]:
    """Where the letters or the words of a text begin and end, of those of which something is seen.

    >>> stretches_of("It is", "word")
    [(0, 2), (3, 5)]
    """
    found: list[tuple[int, int]] = []
    start = 0
    for line in text.split("\n"):
        ends = clusters(line) if unit == "letter" else _words(line)
        for low, high in ends:
            seen = line[low:high]
            if seen.strip():
                left = low + len(seen) - len(seen.lstrip())
                found.append((start + left, start + low + len(seen.rstrip())))
        start += len(line) + 1
    return found
