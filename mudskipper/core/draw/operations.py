"""The drawing operations that both painters share: groups, paths, glyphs and images.

Operands are columns: float32 arrays (n, k), one row a frame, or (1, k) where nothing changes. Both painters read the
same numbers, so that the stage shows what the export holds. Colours are rows r, g, b, a of whole numbers 0…255, not
premultiplied; opacities are whole numbers 0…255; matrices are a, b, c, d, e, f as CSS writes them.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, fields, is_dataclass, replace
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from ..geometry.bezier import Floats

Column = NDArray[np.float32]
Cap = Literal["butt", "round", "square"]
Join = Literal["miter", "round", "bevel"]
Rule = Literal["nonzero", "evenodd"]
MaskMode = Literal["add", "subtract", "intersect"]
TAKES = {"M": 1, "L": 1, "Q": 2, "C": 3, "Z": 0}
"""The points that each verb of a path takes: move, line, quadratic and cubic curve, close."""


def column(array: Any) -> Column:
    """An array (n, k) as an operand."""
    return np.ascontiguousarray(array, dtype=np.float32)


@dataclass(frozen=True)
class GradientPaint:
    """A gradient. `geometry` is x0, y0, x1, y1 of a linear one, the centre x, y and the radius of a radial one, the
    centre and the angle in degrees of a conic one. `offsets` (n, k) are 0…1 in order, `colours` (n, 4k) theirs.

    With a `matrix` it lies under that: its coverage is painted first, and the gradient into it.
    """

    kind: Literal["linear", "radial", "conic"]
    geometry: Column
    offsets: Column
    colours: Column
    matrix: Column | None = None


Paint = Column | GradientPaint
"""A colour (n, 4), or a gradient."""


@dataclass(frozen=True)
class Path:
    """An outline, filled and then stroked along its middle.

    `verbs` are constant; `points` (n, 2k) are the coordinates that they take, one after another. `cap`, `join` and
    `mitre` are as in SVG; `dash` (n, 2k) are pixels drawn and left out by turns from `dash_offset` on, and none where
    the first of them is below 0. `rule` says what is inside of an outline that crosses itself (SVG 2, 13.4.2).
    """

    verbs: str
    points: Column
    fill: Paint | None = None
    stroke: Paint | None = None
    stroke_width: Column | None = None
    cap: Cap = "butt"
    join: Join = "miter"
    mitre: Column | None = None
    dash: Column | None = None
    dash_offset: Column | None = None
    rule: Rule = "nonzero"

    @property
    def single(self) -> bool:
        """Whether it is painted in one go, so that fading its colour is the same as fading it as a group; of gradients
        painters would round each stop."""
        plain = not isinstance(self.fill, GradientPaint) and not isinstance(self.stroke, GradientPaint)
        return plain and (self.fill is None or self.stroke is None)

    def faded(self, opacity: Floats) -> Path:
        """With the alpha of its colours multiplied by an opacity (n, 1); gradients are faded as groups."""
        fill, stroke = (
            paint if paint is None or isinstance(paint, GradientPaint) else _faded(paint, opacity)
            for paint in (self.fill, self.stroke)
        )
        return replace(self, fill=fill, stroke=stroke)


@dataclass(frozen=True)
class Glyphs:
    """Outlines by name, each under a matrix of its own: `matrices` (n, 6g), or (n, 9g) in perspective
    (`geometry.perspective`).

    `fill` (n, 4) paints them all as one path; a fill for each (n, 4g) paints one after another.
    """

    names: tuple[str, ...]
    matrices: Column
    fill: Column

    @property
    def single(self) -> bool:
        """Whether it is painted in one go."""
        return bool(self.fill.shape[1] == 4)

    def faded(self, opacity: Floats) -> Glyphs:
        """With the alpha of its fill multiplied by an opacity (n, 1)."""
        return replace(self, fill=_faded(self.fill, opacity))


@dataclass(frozen=True)
class Image:
    """A picture by its id, drawn into `box` (left, top, width, height), bilinear; of a clip its `frame` (n, 1), none
    where that is −1."""

    source: str
    box: Column
    opacity: Column
    frame: Column | None = None
    single = True

    def faded(self, opacity: Floats) -> Image:
        """With its opacity multiplied by another (n, 1)."""
        return replace(self, opacity=column(np.rint(self.opacity * opacity / 255.0)))


@dataclass(frozen=True)
class Below:
    """What has been painted so far below the group that it lies in, on whatever that is laid; `box` (left, top, width,
    height) is that of the group. The effects of the group run on it along the scene's axes, its masks limit what they
    made, and that takes the place of what it was made of."""

    box: Column
    single = False

    def faded(self, opacity: Floats) -> Below:
        """As it is: it is the group that fades."""
        return self


@dataclass(frozen=True)
class MaskPath:
    """Outlines filled and stroked in black under a matrix to the scene, blurred as one by a deviation of `blur` pixels,
    inverted or not, and laid into the coverage of a group by `strength` (0…255) and `mode`: `add`, `subtract` or
    `intersect`.

    Painters blur differently by less than 2 pixels. There the blur is a sum of copies moved by whole pixels, along x
    and then along y: `weights` (n, 7), in 255ths, are those of the copies 0…6 pixels away. At another size than the
    scene's own it is the painter's.

    Where its matrix stretches more along one way than along another, so it does the blur. Then `sheet` (n, 14) is, at
    those frames, a matrix from the scene to a sheet on which the blur is even, the matrix back, and the sheet's width
    and height, 0 at all others: the outlines are painted and blurred there, and the sheet drawn into the scene,
    bilinear.
    """

    parts: tuple[Path, ...]
    matrix: Column
    strength: Column
    blur: Column
    mode: MaskMode
    inverted: bool
    weights: Column | None = None
    sheet: Column | None = None


@dataclass(frozen=True)
class EffectPaint:
    """An effect of a kind, by the numbers (n, k) that its painters read; where `acts` is 0 it changes nothing."""

    kind: str
    acts: Column
    numbers: Column


@dataclass(frozen=True)
class Effects:
    """Effects on a group, one after another: its parts, masked, are painted on a sheet, the effects run there, and the
    sheet is drawn into the scene, bilinear.

    `sheet` (n, 14) is the matrix from the scene to it, the matrix back, and its width and height, 0 where no effect
    acts: there the group is painted without. Drawn at another size of the scene, the sheet is as much larger.
    """

    steps: tuple[EffectPaint, ...]
    sheet: Column


@dataclass(frozen=True)
class Matte:
    """Groups whose opacity, or brightness on black, is where a group is shown; where it is not, if inverted."""

    parts: tuple[Operation, ...]
    by: Literal["opacity", "brightness"]
    inverted: bool


@dataclass(frozen=True)
class Group:
    """Parts under a matrix, which takes them to the scene whatever groups the group lies in: not painted where
    `visible` is 0, and laid over what is below as one.

    `apart` says that they are painted on a sheet of their own where the opacity is under 255 or the blend is not
    normal, or where there are masks, effects or a matte: what is left of them is laid over. Otherwise there is but one
    part, painted in one go: the opacity stands in it already, and it is blended by itself.
    """

    visible: Column
    matrix: Column
    opacity: Column
    blend: str
    apart: bool
    parts: tuple[Operation, ...]
    masks: tuple[MaskPath, ...] = ()
    effects: Effects | None = None
    matte: Matte | None = None
    single = False

    def faded(self, opacity: Floats) -> Group:
        """With its opacity multiplied by another (n, 1)."""
        parts = self.parts if self.apart else tuple(part.faded(opacity) for part in self.parts)
        return replace(self, opacity=column(np.rint(self.opacity * opacity / 255.0)), parts=parts)


Operation = Path | Glyphs | Image | Below | Group


@dataclass(frozen=True)
class DrawList:
    """What a scene shows over its frames: a group for each layer, back to front, above the background."""

    width: int
    height: int
    background: tuple[int, int, int, int]
    frames: Floats
    groups: tuple[Group, ...]


def glyph_runs(part: Operation) -> Iterator[Glyphs]:
    """The runs of glyphs of an operation, those of its matte too."""
    if isinstance(part, Glyphs):
        yield part
    elif isinstance(part, Group):
        for inner in (*part.parts, *(part.matte.parts if part.matte else ())):
            yield from glyph_runs(inner)


def columns_in(part: object) -> Iterator[Column]:
    """Every column of an operation and of all that lies in it."""
    if isinstance(part, np.ndarray):
        yield part
    elif isinstance(part, tuple):
        for inner in part:
            yield from columns_in(inner)
    elif is_dataclass(part) and not isinstance(part, type):
        for field in fields(part):
            yield from columns_in(getattr(part, field.name))


def sources_in(part: object) -> Iterator[Image]:
    """Every picture of an operation and of all that lies in it."""
    if isinstance(part, Image):
        yield part
    elif isinstance(part, Group):
        for inner in (*part.parts, *(part.matte.parts if part.matte else ())):
            yield from sources_in(inner)


def alphas(paint: Paint) -> Column:
    """The alphas (n, k) of a colour, or of a gradient's."""
    return (paint.colours if isinstance(paint, GradientPaint) else paint)[:, 3::4]


def _faded(colour: Column, opacity: Floats) -> Column:
    """Colours (n, 4g) with their alpha multiplied by an opacity (n, 1) of 0…255, rounded once."""
    count = max(len(colour), len(opacity))
    faded = np.array(np.broadcast_to(colour, (count, colour.shape[1])), dtype=np.float64)
    faded[:, 3::4] = np.rint(faded[:, 3::4] * opacity / 255.0)
    return column(faded)
