"""The letters of a text as people count them: grapheme clusters (UAX 29)."""

from __future__ import annotations

from functools import lru_cache
from itertools import accumulate, pairwise

from unicode_segmentation_rs import graphemes


@lru_cache(maxsize=4_096)
def clusters(text: str) -> tuple[tuple[int, int], ...]:
    """Where each letter of a text begins and ends (not included).

    >>> clusters("e\u0301a")
    ((0, 2), (2, 3))
    """
    ends = accumulate(map(len, graphemes(text, True)), initial=0)
    return tuple(pairwise(ends))
