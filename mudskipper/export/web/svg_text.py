"""Letters of SVG as text: each run with the place of every letter, in a font that holds no more than them."""

from __future__ import annotations

import html
import io
import unicodedata
from base64 import b64encode
from collections.abc import Iterator
from functools import lru_cache
from itertools import pairwise

import numpy as np
from fontTools.subset import Options, Subsetter
from fontTools.ttLib import TTFont

from ...core.draw.operations import Glyphs
from ...core.text.families import file_of
from ...core.text.fonts import Face, face_named

NO_LETTERS = "Letters that move one by one, or that the font makes of several, are outlines."
NO_FONT = "The font “{}” may not be given out: it must be there where the text is shown."
RESTRICTED = 2
"""Of a font's licence bits (OpenType, OS/2 fsType 0…3): it may not be embedded."""
GAP = 0.12
"""Ems between two letters from which on there is a space."""


class TextRuns:
    """Writes letters as text elements, and at the end the fonts that these need."""

    def __init__(self) -> None:
        self._used: dict[str, tuple[str, set[str]]] = {}
        self.lost: dict[str, None] = {}

    def written(self, part: Glyphs, ink: str) -> str | None:
        """Text elements in the pixels of what the letters lie in; None where only outlines show them as they are."""
        count = len(part.names)
        if not part.single or len(part.matrices) > 1 or part.matrices.shape[1] != 6 * count:
            self.lost[NO_LETTERS] = None
            return None
        rows = np.asarray(part.matrices[0], dtype=np.float64).reshape(-1, 6)
        if (np.abs(rows[:, 0] * rows[:, 3] - rows[:, 1] * rows[:, 2]) < 1e-12).any():
            return None
        letters = [_letter(name) for name in part.names]
        if any(one is None for one in letters):
            self.lost[NO_LETTERS] = None
            return None
        found = []
        for key, linear, level, places, words in _runs(part.names, rows, [one or "" for one in letters]):
            face = face_named(key)
            family, used = self._used.setdefault(key, (f"f{len(self._used)}", set()))
            used.update(words)
            told = " ".join(f"{one:.9g}" for one in linear)
            found.append(
                f'<text class="{family}" font-size="{face.upem}" transform="matrix({told} 0 0)" y="{level:.6g}" '
                f'x="{" ".join(f"{place:.6g}" for place in places)}"{ink}>{html.escape(words)}</text>'
            )
        return "".join(found)

    def css(self) -> list[str]:
        """Rules of the fonts, each within the file."""
        rules = []
        for key, (family, used) in self._used.items():
            name, _, places = key.partition("@")
            settings = ", ".join(
                f'"{tag}" {value}' for tag, _, value in (one.partition("=") for one in places.split(",")) if tag
            )
            data, called = _subset(str(file_of(name).path), "".join(sorted(used)))
            if data is None:
                self.lost[NO_FONT.format(called)] = None
                family_name = f'"{called}"'
            else:
                url = f"data:font/woff2;base64,{b64encode(data).decode()}"
                rules.append(f'@font-face{{font-family:"{family}";font-weight:1 1000;src:url({url})}}')
                family_name = f'"{family}"'
            rules.append(
                f".{family}{{font-family:{family_name};white-space:pre;font-kerning:none;font-variant-ligatures:none;"
                f"text-rendering:geometricPrecision{f';font-variation-settings:{settings}' if settings else ''}}}"
            )
        return rules


Run = tuple[str, list[float], float, list[float], str]
"""The face, the turn and size of its letters, the baseline, and the places of letters in the units of the font."""


def _runs(names: tuple[str, ...], rows: np.ndarray, letters: list[str]) -> Iterator[Run]:
    """Letters that follow each other in a line of one face; a space where there is room for one."""
    line: list[tuple[float, float, str]] = []
    style: tuple[str, list[float]] | None = None
    level = 0.0
    for name, row, letter in zip(names, rows, letters, strict=True):
        key, _, glyph = name.rpartition(":")
        linear = [round(float(one), 9) for one in row[:4]]
        inverse = np.linalg.inv(np.array([[linear[0], linear[2]], [linear[1], linear[3]]]))
        x, y = (float(one) for one in inverse @ row[4:])
        face = face_named(key)
        goes_on = line and style == (key, linear) and abs(level - y) < 1e-3 * face.upem
        if not goes_on or x < line[-1][1] - face.upem:
            if style is not None:
                yield (*style, level, *_spaced(line, face_named(style[0]).upem))
            line, style, level = [], (key, linear), y
        line.append((x, x + face.advance(int(glyph)) * face.upem, letter))
    if style is not None:
        yield (*style, level, *_spaced(line, face_named(style[0]).upem))


def _spaced(line: list[tuple[float, float, str]], em: int) -> tuple[list[float], str]:
    """The places of letters, given with where each ends, and the letters: with a space where two stand further apart
    than the nearest ones do, which tracking parts too."""
    apart = [after[0] - before[1] for before, after in pairwise(line)]
    usual = max(min(apart, default=0.0), 0.0)
    places, words = [line[0][0]], line[0][2]
    for (_, end, _), (x, _, letter), gap in zip(line, line[1:], apart, strict=False):
        if gap - usual > GAP * em:
            places, words = [*places, end], words + " "
        places, words = [*places, x], words + letter
    return places, words


def _letter(name: str) -> str | None:
    """The letter that a glyph is of; None where it is of none by itself, or stands otherwise than one after another."""
    key, _, glyph = name.rpartition(":")
    found = _letters(key).get(int(glyph)) if glyph.isdecimal() else None
    if found is None or ord(found) > 0xFFFF or unicodedata.bidirectional(found) in ("R", "AL"):
        return None
    return None if unicodedata.category(found).startswith("M") else found


@lru_cache(maxsize=64)
def _letters(key: str) -> dict[int, str]:
    face: Face = face_named(key)
    found: dict[int, str] = {}
    for code in sorted(face.letters, reverse=True):
        if not 0xE000 <= code <= 0xF8FF:
            found[face.glyph(chr(code))] = chr(code)
    return found


@lru_cache(maxsize=64)
def _subset(path: str, letters: str) -> tuple[bytes | None, str]:
    """A font with these letters alone as WOFF2, and its name; no bytes where it may not be given out."""
    font = TTFont(path, fontNumber=0, lazy=True)
    called = str(font["name"].getBestFamilyName() or "")
    if font["OS/2"].fsType & 0x000F == RESTRICTED:
        return None, called
    options = Options(flavor="woff2", layout_features=[], name_IDs=[0, 13, 14], notdef_outline=True)
    subsetter = Subsetter(options)
    subsetter.populate(text=letters + " ")
    subsetter.subset(font)
    font.flavor = "woff2"
    out = io.BytesIO()
    font.save(out)
    return out.getvalue(), called
