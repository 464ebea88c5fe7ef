"""A text's font, and the faces that HarfBuzz shapes with."""

from __future__ import annotations

import threading
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Annotated, Any

import uharfbuzz as hb
from fontTools.pens.recordingPen import RecordingPen
from pydantic import Field, StringConstraints

from ..ground.base_model import Flag, Model, Whole
from .families import PLAIN, Family, families, family_of


class Font(Model):
    """A font by the name of its family, its weight (CSS numbers) and slant. A family that is not installed keeps its
    name, and another stands in for it; of a weight or slant that a family has not the nearest is taken."""

    family: Annotated[str, StringConstraints(strict=True, strip_whitespace=True, min_length=1, max_length=100)] = PLAIN
    weight: Annotated[Whole, Field(ge=1, le=1000)] = 600
    italic: Flag = False

    @property
    def missing(self) -> bool:
        """Whether its family is not installed."""
        return self.family not in families()


FINE = 64
"""Parts of a font's unit in which it is shaped: between two weights kerning is no whole number of units."""


class Face:
    """One font file at one weight, ready to shape and to draw: `upem` of the units of outlines make an em, and `em` of
    those of shaping."""

    def __init__(self, key: str, family: Family, weight: int, italic: bool) -> None:
        self.key = key
        file = family.file(weight, italic)
        self.letters = file.letters
        self.upem = int(file.face.upem)
        self.em = self.upem * FINE
        self.hb, self._drawn = hb.Font(file.face), hb.Font(file.face)
        self.hb.scale = self.em, self.em
        if file.weight is None:
            for font in (self.hb, self._drawn):
                font.set_variations({"wght": float(weight)})
        extents = self._drawn.get_font_extents("ltr")
        self.ascent = extents.ascender / self.upem
        self.descent = -extents.descender / self.upem
        self._outlines: dict[int, Outline] = {}

    def outline(self, glyph: int) -> Outline:
        """The outline of a glyph, y down, in units of the em square."""
        found = self._outlines.get(glyph)
        if found is None:
            pen = RecordingPen()
            self._drawn.draw_glyph_with_pen(glyph, pen)
            found = self._outlines[glyph] = outline_of(pen.value)
        return found


@dataclass(frozen=True)
class Outline:
    """Path commands: `verbs` of M, L, Q, C, Z and their coordinates one after another, y down."""

    verbs: str
    coordinates: tuple[float, ...]


def outline_of(commands: list[Any]) -> Outline:
    """A fontTools pen recording as an outline; quadratic runs are split at their implied points."""
    verbs: list[str] = []
    numbers: list[float] = []

    def put(verb: str, *points: tuple[float, float]) -> None:
        verbs.append(verb)
        for x, y in points:
            numbers.extend((float(x), float(-y)))

    for name, points in commands:
        if name == "moveTo":
            put("M", *points)
        elif name == "lineTo":
            put("L", *points)
        elif name == "curveTo":
            put("C", *points)
        elif name == "qCurveTo":
            for i, control in enumerate(points[:-1]):
                last = i == len(points) - 2
                after = points[i + 1]
                on = after if last else ((control[0] + after[0]) / 2, (control[1] + after[1]) / 2)
                put("Q", control, on)
        else:
            put("Z")
    return Outline("".join(verbs), tuple(numbers))


_faces: dict[str, Face] = {}
_lock = threading.Lock()


def face_of(family: Family, weight: int, italic: bool) -> Face:
    """The face of a family that is nearest to a weight and a slant."""
    weight = min(max(weight, family.lightest), family.heaviest)
    italic = italic and family.italic
    key = f"{family.slug}-{'italic' if italic else 'normal'}-{weight}"
    found = _faces.get(key)
    if found is None:
        with _lock:
            found = _faces.get(key) or _faces.setdefault(key, Face(key, family, weight, italic))
    return found


def face_for(font: Font) -> Face:
    """The face of a font, or what stands in for it."""
    return face_of(family_of(font.family), font.weight, font.italic)


@lru_cache(maxsize=16_384)
def outline(key: str) -> Outline:
    """The outline behind a draw list's glyph name, `FACE:GLYPH`."""
    name, _, glyph = key.rpartition(":")
    face = _faces.get(name)
    if face is None:
        slug, style, weight = name.rsplit("-", 2)
        face = face_of(_by_slug()[slug], int(weight), style == "italic")
    return face.outline(int(glyph))


def _by_slug() -> Mapping[str, Family]:
    return {one.slug: one for one in families().values()}
