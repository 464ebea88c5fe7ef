"""Optical kerning: letters moved until what lies open between them is what lies between the letters that the font's
maker spaced first, n and n, or H and H."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from ..geometry.bezier import Floats
from .fonts import Face

SCRIPTS = frozenset(("Latn", "Grek", "Cyrl", "Armn", "Geor", "Hebr"))
"""Whose letters stand apart from one another; what joins is not moved."""
BANDS = 48
"""Heights from the font's descent to its ascent at which letters are looked at."""
DEEP = 0.17
"""Ems; what lies further in than that from an edge counts as that, so that the open side of a C pulls nothing in."""
SHARE = 0.6
"""Of what is open too much or too little so much is taken: the maker's own spacing has its say."""
LEAST, MOST = -0.16, 0.08
"""Ems by which letters come together and go apart at most."""
NEAR = 0.03
"""Ems that letters keep between them at the nearest, unless the font has them nearer."""


def kerns(face: Face, glyphs: tuple[int, ...], advances: tuple[float, ...]) -> tuple[float, ...]:
    """By how many ems each of some glyphs that follow one another from the left goes on further, for the sake of the
    next; `advances` are theirs, in ems."""
    found = [_between(face, one, other, wide) for one, other, wide in zip(glyphs, glyphs[1:], advances, strict=False)]
    return (*found, 0.0)[: len(glyphs)]


@lru_cache(maxsize=65_536)
def _between(face: Face, one: int, other: int, advance: float) -> float:
    left, right = _profile(face, one), _profile(face, other)
    if left is None or right is None:
        return 0.0
    open_ = _open(advance - left[1], right[0])
    wanted = [_wanted(face, "H" if _tall(face, profile) else "n") for profile in (left, right)]
    if open_ is None or None in wanted:
        return 0.0
    closest = float((advance - left[1] + right[0])[np.isfinite(left[1]) & np.isfinite(right[0])].min(initial=1.0))
    by = min(max(SHARE * (sum(filter(None, wanted)) / 2 - open_), LEAST), MOST)
    return max(by, min(NEAR - closest, 0.0)) if by < 0 else by


def _open(behind: Floats, before: Floats) -> float | None:
    """The mean of what lies open between two letters, over the heights at which either is."""
    some = np.isfinite(behind) | np.isfinite(before)
    if not some.any():
        return None
    gaps = np.minimum(np.where(np.isfinite(behind), behind, DEEP), DEEP) + np.minimum(
        np.where(np.isfinite(before), before, DEEP), DEEP
    )
    return float(gaps[some].mean())


@lru_cache(maxsize=256)
def _wanted(face: Face, letter: str) -> float | None:
    """What lies open between a letter that stands for those of its height and another of it."""
    glyph = face.glyph(letter)
    own = _profile(face, glyph) if glyph else None
    return None if own is None else _open(face.advance(glyph) - own[1], own[0])


def _tall(face: Face, profile: tuple[Floats, Floats]) -> bool:
    """Whether a letter is as high as a capital."""
    return bool(_heights(face)[np.isfinite(profile[0])].min(initial=0.0) < -0.85 * face.capitals)


def _heights(face: Face) -> Floats:
    """The middles of the bands, in ems, y down."""
    return np.asarray((np.arange(BANDS) + 0.5) / BANDS * (face.ascent + face.descent) - face.ascent)


@lru_cache(maxsize=8_192)
def _profile(face: Face, glyph: int) -> tuple[Floats, Floats] | None:
    """How far a glyph reaches to the left and to the right at each height (BANDS), in ems; without a number where it
    is not. None of one without an outline."""
    pieces = face.edges(glyph)
    if not len(pieces):
        return None
    ys = _heights(face)
    x0, y0, x1, y1 = (pieces / face.upem).T
    # Each band takes all of what crosses it, so that a flat edge between two heights is not missed.
    half = (face.ascent + face.descent) / BANDS / 2
    top, bottom = np.minimum(y0, y1), np.maximum(y0, y1)
    crossing = (top <= ys[:, None] + half) & (bottom >= ys[:, None] - half)
    tall = np.where(y1 == y0, 1.0, y1 - y0)
    ends = [
        x0 + (x1 - x0) * np.clip(np.where(y1 == y0, share, (ys[:, None] + edge - y0) / tall), 0.0, 1.0)
        for edge, share in ((-half, 0.0), (half, 1.0))
    ]
    least = np.where(crossing, np.minimum(*ends), np.inf).min(axis=1)
    most = np.where(crossing, np.maximum(*ends), -np.inf).max(axis=1)
    some = np.isfinite(least)
    return np.where(some, least, np.nan), np.where(some, most, np.nan)
