"""The fonts that ship with Mudskipper, and the faces HarfBuzz shapes with."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path
from typing import Annotated, Any

import uharfbuzz as hb
from fontTools.pens.recordingPen import RecordingPen
from pydantic import AfterValidator, Field, model_validator

from ..ground.base_model import Flag, Model, Whole

FOLDER = Path(__file__).resolve().parents[2] / "fonts"


@dataclass(frozen=True)
class Family:
    """A family: the stem of its files, its weights, and whether it has an italic."""

    stem: str
    lightest: int
    heaviest: int
    italic: bool


FAMILIES = {
    "Figtree": Family("figtree", 300, 900, True),
    "Bricolage Grotesque": Family("bricolage-grotesque", 200, 800, False),
    "Source Serif 4": Family("source-serif-4", 200, 900, False),
    "Caveat": Family("caveat", 400, 700, False),
}
SUBSETS = ("latin", "latin-ext")


def _shipped(family: str) -> str:
    if family not in FAMILIES:
        raise ValueError(f"the font {family!r} is not here; choose one of {', '.join(FAMILIES)}")
    return family


class Font(Model):
    """A shipped font: family, weight (CSS numbers) and slant."""

    family: Annotated[str, Field(strict=True), AfterValidator(_shipped)] = "Figtree"
    weight: Annotated[Whole, Field(ge=1, le=1000)] = 600
    italic: Flag = False

    @model_validator(mode="after")
    def _within(self) -> Font:
        family = FAMILIES[self.family]
        if not family.lightest <= self.weight <= family.heaviest:
            raise ValueError(
                f"{self.family} has weights from {family.lightest} to {family.heaviest}, and {self.weight} was asked"
            )
        if self.italic and not family.italic:
            raise ValueError(f"{self.family} has no italic")
        return self


class Face:
    """One font file at one weight, ready to shape and to draw."""

    def __init__(self, key: str, path: Path, weight: int) -> None:
        self.key = key
        blob = hb.Blob.from_file_path(str(path))
        self.face = hb.Face(blob)
        self.upem = int(self.face.upem)
        self.hb = hb.Font(self.face)
        self.hb.set_variations({"wght": float(weight)})
        extents = self.hb.get_font_extents("ltr")
        self.ascent = extents.ascender / self.upem
        self.descent = -extents.descender / self.upem
        self.letters = frozenset(self.face.unicodes)
        self._outlines: dict[int, Outline] = {}

    def outline(self, glyph: int) -> Outline:
        """The outline of a glyph, y down, in units of the em square."""
        found = self._outlines.get(glyph)
        if found is None:
            pen = RecordingPen()
            self.hb.draw_glyph_with_pen(glyph, pen)
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


@lru_cache(maxsize=256)
def faces(family: str, weight: int, italic: bool) -> tuple[Face, ...]:
    """The faces of a font in the order in which a letter is looked for."""
    stem = FAMILIES[family].stem
    style = "italic" if italic else "normal"
    return tuple(
        Face(f"{stem}-{style}-{subset}-{weight}", FOLDER / f"{stem}-{style}-{subset}.ttf", weight) for subset in SUBSETS
    )


@lru_cache(maxsize=16_384)
def outline(key: str) -> Outline:
    """The outline behind a draw list's glyph name, `FACE:GLYPH`."""
    face_key, _, glyph = key.rpartition(":")
    stem, weight = face_key.rsplit("-", 1)
    face = _face_by_stem(stem, int(weight))
    return face.outline(int(glyph))


@lru_cache(maxsize=256)
def _face_by_stem(stem: str, weight: int) -> Face:
    for name, family in FAMILIES.items():
        for italic in (False, True) if family.italic else (False,):
            for face in faces(name, weight, italic):
                if face.key == f"{stem}-{weight}":
                    return face
    raise KeyError(stem)
