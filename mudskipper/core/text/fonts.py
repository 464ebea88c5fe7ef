"""A text's font, the style that its letters are shaped in, and the faces that HarfBuzz shapes with."""

from __future__ import annotations

import threading
from dataclasses import dataclass, field, replace
from functools import cached_property, lru_cache
from typing import Annotated

import numpy as np
import uharfbuzz as hb
from pydantic import Field, StringConstraints

from ..geometry.bezier import Floats
from ..ground.base_model import Flag, Model, Whole
from .colour import Layer, LayerPaint, layers_of
from .families import INSTALLED, PLAIN, Family, FontFile, Fonts, file_of


class Font(Model):
    """A font by the name of its family, its weight (CSS numbers) and slant. A family that is not here keeps its name,
    and another stands in for it; of a weight or slant that a family has not the nearest is taken."""

    family: Annotated[str, StringConstraints(strict=True, strip_whitespace=True, min_length=1, max_length=100)] = PLAIN
    weight: Annotated[Whole, Field(ge=1, le=1000)] = 600
    italic: Flag = False


@dataclass(frozen=True)
class Style:
    """What letters are shaped in: a font among those at hand, with the values of some axes by their tags, and features
    of it by theirs (OpenType 1.9), those switched off with a `-` in front. Letters of different sizes have different
    numbers `sized`: they do not join, nor kern. `OPTICAL` among the features is kerning by the letters' shapes. Lines
    that are `vertical` run down; letters of scripts that do so stand upright in them."""

    font: Font = field(default_factory=Font)
    fonts: Fonts = INSTALLED
    axes: tuple[tuple[str, float], ...] = ()
    features: tuple[str, ...] = ()
    sized: int = 0
    vertical: bool = False

    def with_features(self, more: tuple[str, ...]) -> Style:
        """With more features."""
        return replace(self, features=(*self.features, *more))

    @property
    def face(self) -> Face:
        """The face of its own family, or of what stands in for that."""
        return self.face_in(self.fonts.family_of(self.font.family))

    def face_in(self, family: Family) -> Face:
        """The face of a family that is nearest to it."""
        weight = min(max(self.font.weight, family.lightest), family.heaviest)
        file = family.file(weight, self.font.italic)
        return face_of(file, {"wght": float(weight), **dict(self.axes)})


OPTICAL = "+optical"
FINE = 64
"""Parts of a font's unit in which it is shaped: between two weights kerning is no whole number of units."""


class Face:
    """One font file at one place of its axes, ready to shape and to draw: `upem` of the units of outlines make an em,
    and `em` of those of shaping."""

    def __init__(self, key: str, file: FontFile, values: dict[str, float]) -> None:
        self.key = key
        self._file, self._values = file, values
        self.letters, self.features = file.letters, file.features
        self.upem = int(file.face.upem)
        self.em = self.upem * FINE
        self.hb, self._drawn = hb.Font(file.face), hb.Font(file.face)
        self.hb.scale = self.em, self.em
        if values:
            for font in (self.hb, self._drawn):
                font.set_variations(values)
        extents = self._drawn.get_font_extents("ltr")
        self.ascent = extents.ascender / self.upem
        self.descent = -extents.descender / self.upem
        self._outlines: dict[int, Outline] = {}
        self._layers: dict[int, tuple[Layer, ...]] = {}
        self.coloured, self.hangs = file.coloured, file.hangs

    @cached_property
    def capitals(self) -> float:
        """The height of its capitals in ems, as an H is high."""
        glyph = self._drawn.get_nominal_glyph(ord("H"))
        numbers = self.outline(glyph).coordinates if glyph else ()
        return -min(numbers[1::2], default=-0.7 * self.upem) / self.upem

    def moved_to(self, wanted: dict[str, float], share: float) -> Face:
        """The same file by a share of the way from here to places on its axes."""
        known = {axis.tag: axis.rest for axis in self._file.axes}
        moved = {tag: self._values.get(tag, known[tag]) for tag in wanted if tag in known}
        moved = {tag: rest + (wanted[tag] - rest) * share for tag, rest in moved.items()}
        return face_of(self._file, {**self._values, **moved}) if moved else self

    def glyph(self, letter: str) -> int:
        """The glyph of a letter by itself; 0 where it has none."""
        return self._drawn.get_nominal_glyph(ord(letter)) or 0

    def advance(self, glyph: int) -> float:
        """How far a glyph goes on, in ems."""
        return float(self._drawn.get_glyph_h_advance(glyph) / self.upem)

    def edges(self, glyph: int) -> Floats:
        """The outline of a glyph as straight pieces (k, 4), y down, in units of the em square."""
        return self.outline(glyph).edges

    def layers(self, glyph: int) -> tuple[Layer, ...]:
        """The layers of a glyph that has colours of its own, from below."""
        found = self._layers.get(glyph)
        if found is None:
            found = self._layers[glyph] = layers_of(self._drawn, glyph) if self.coloured else ()
        return found

    def outline(self, glyph: int) -> Outline:
        """The outline of a glyph, y down, in units of the em square."""
        found = self._outlines.get(glyph)
        if found is None:
            pen = _Pen()
            self._drawn.draw_glyph_with_pen(glyph, pen)
            found = self._outlines[glyph] = Outline("".join(pen.verbs), tuple(pen.numbers))
        return found


TAKES = {"M": 1, "L": 1, "Q": 2, "C": 3, "Z": 0}
CUTS = np.linspace(0.0, 1.0, 7)


@dataclass(frozen=True)
class Outline:
    """Path commands: `verbs` of M, L, Q, C, Z and their coordinates one after another, y down."""

    verbs: str
    coordinates: tuple[float, ...]

    @property
    def edges(self) -> Floats:
        """As straight pieces (k, 4), from x, y to x, y; curves by some each."""
        numbers = iter(np.reshape(self.coordinates, (-1, 2)))
        pieces: list[Floats] = []
        start = now = np.zeros(2)
        t = CUTS[:, None]
        for verb in self.verbs:
            taken = [next(numbers) for _ in range(TAKES[verb])]
            if verb == "M":
                if (now != start).any():
                    pieces.append(np.stack([now, start]))
                start = now = taken[0]
                continue
            if verb == "Z":
                taken = [start]
            if len(taken) == 1:
                pieces.append(np.stack([now, taken[0]]))
            elif len(taken) == 2:
                pieces.append((1 - t) ** 2 * now + 2 * (1 - t) * t * taken[0] + t**2 * taken[1])
            else:
                by, then, to = taken
                pieces.append((1 - t) ** 3 * now + 3 * (1 - t) ** 2 * t * by + 3 * (1 - t) * t**2 * then + t**3 * to)
            now = taken[-1]
        ends = [np.concatenate([piece[:-1], piece[1:]], axis=1) for piece in pieces]
        return np.concatenate(ends) if ends else np.zeros((0, 4))


class _Pen:
    """Takes what HarfBuzz draws, whose curves have one or two handles each."""

    def __init__(self) -> None:
        self.verbs: list[str] = []
        self.numbers: list[float] = []

    def moveTo(self, to: Point) -> None:  # noqa: N802, the name that is called
        self.verbs.append("M")
        self.numbers += to[0], -to[1]

    def lineTo(self, to: Point) -> None:  # noqa: N802
        self.verbs.append("L")
        self.numbers += to[0], -to[1]

    def qCurveTo(self, by: Point, to: Point) -> None:  # noqa: N802
        self.verbs.append("Q")
        self.numbers += by[0], -by[1], to[0], -to[1]

    def curveTo(self, by: Point, then: Point, to: Point) -> None:  # noqa: N802
        self.verbs.append("C")
        self.numbers += by[0], -by[1], then[0], -then[1], to[0], -to[1]

    def closePath(self) -> None:  # noqa: N802
        self.verbs.append("Z")


Point = tuple[float, float]


_lock = threading.Lock()


def face_of(file: FontFile, values: dict[str, float]) -> Face:
    """A file at values of its axes: brought within their ends, and as fine as they are told apart."""
    places = ",".join(f"{axis.tag}={axis.kept(values[axis.tag]):g}" for axis in file.axes if axis.tag in values)
    return face_named(f"{file.key}@{places}")


def face_named(key: str) -> Face:
    """The face of a glyph's name in front of its `:`."""
    with _lock:
        return _made(key)


@lru_cache(maxsize=1_024)
def _made(key: str) -> Face:
    name, _, places = key.partition("@")
    values = dict(place.split("=") for place in places.split(",")) if places else {}
    return Face(key, file_of(name), {tag: float(value) for tag, value in values.items()})


@lru_cache(maxsize=65_536)
def outline(key: str) -> Outline:
    """The outline behind a draw list's glyph name, `FILE@AXES:GLYPH`, or `FILE@AXES:GLYPH.LAYER` of one that has
    colours of its own."""
    face, glyph, layer = _part(key)
    if layer is None:
        return face.outline(glyph)
    one = face.layers(glyph)[layer]
    own = face.outline(one.glyph)
    a, b, c, d, e, f = one.matrix
    xs, ys = own.coordinates[0::2], own.coordinates[1::2]
    moved = [n for x, y in zip(xs, ys, strict=True) for n in (a * x + c * y + e, b * x + d * y + f)]
    return Outline(own.verbs, tuple(moved))


def is_layer(key: str) -> bool:
    """Whether a name is that of a layer, which has a paint of its own."""
    return "." in key.rpartition(":")[2]


def layer_paint(key: str) -> tuple[LayerPaint, float]:
    """What the layer of a name is painted with, and how light the lightest of its letter is."""
    face, glyph, layer = _part(key)
    assert layer is not None
    layers = face.layers(glyph)
    return layers[layer].paint, max(one.paint.lightness for one in layers)


def _part(key: str) -> tuple[Face, int, int | None]:
    name, _, glyph = key.rpartition(":")
    of, _, layer = glyph.partition(".")
    return face_named(name), int(of), int(layer) if layer else None
