"""The pen that contents draw on, and the recorder that keeps what was drawn."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, field, replace
from typing import Any, Literal

import numpy as np

from ..bezier import Floats
from ..errors import Refused
from ..transform import UNMOVED, apply, inverse, multiply
from .operations import (
    Cap,
    Column,
    Glyphs,
    GradientPaint,
    Group,
    Image,
    Join,
    MaskMode,
    MaskPath,
    Matte,
    Operation,
    Paint,
    Path,
    Rule,
    column,
)

MOST_DEPTH = 64
"""How deep groups may nest, a layer's own group counted."""
EVEN = 0.995
"""Two deviations of a blur are one where the smaller is at least this share of the larger."""
LEAST_EVEN, MOST_SHEET = 3.0, 8_192.0
"""Pixels: the least deviation of a blur on a sheet of its own, and the longest side of such a sheet."""
SMALL_BLUR = 2.0
"""Pixels below which painters blur differently."""
REACH = 6
OPAQUE = np.array([[255.0]])
BLACK = np.array([[0.0, 0.0, 0.0, 255.0]])
SEEN = np.array([[1.0]])


@dataclass(frozen=True)
class GradientInk:
    """A gradient in the pixels of what it paints, (n, k) each; as `operations.GradientPaint`."""

    kind: Literal["linear", "radial", "conic"]
    geometry: Floats
    offsets: Floats
    colours: Floats
    matrix: Floats | None = None


Ink = Floats | GradientInk
"""A colour (n, 4), or a gradient."""


@dataclass(frozen=True)
class StrokeInk:
    """How an outline is stroked, (n, k) each; as `operations.Path`."""

    colour: Ink
    width: Floats
    cap: Cap = "butt"
    join: Join = "miter"
    mitre: Floats = field(default_factory=lambda: np.array([[10.0]]))
    dash: Floats | None = None
    dash_offset: Floats | None = None


@dataclass(frozen=True)
class MaskInk:
    """What masks a group, (n, k) each; as `operations.MaskPath`, under a matrix within the group and with the blur in
    pixels there. `draw` draws outlines alone, in whatever colour."""

    draw: Callable[[Pen], None]
    strength: Floats
    blur: Floats
    matrix: Floats
    mode: MaskMode
    inverted: bool = False


@dataclass(frozen=True)
class MatteInk:
    """A drawing that limits where a group is shown; as `operations.Matte`."""

    draw: Callable[[Pen], None]
    by: Literal["opacity", "brightness"]
    inverted: bool


@dataclass(frozen=True)
class Layering:
    """How parts are laid over what is below as one: under a matrix, masked, shown in a matte, faded and blended, (n, k)
    each."""

    matrix: Floats = field(default_factory=lambda: UNMOVED)
    opacity: Floats = field(default_factory=lambda: OPAQUE)
    blend: str = "normal"
    visible: Floats = field(default_factory=lambda: SEEN)
    masks: Sequence[MaskInk] = ()
    matte: MatteInk | None = None


class Pen(ABC):
    """Takes what a content shows. All operands are arrays (n, k), or (1, k) where nothing changes."""

    @abstractmethod
    def path(
        self, verbs: str, points: Floats, fill: Ink | None, stroke: StrokeInk | None = None, rule: Rule = "nonzero"
    ) -> None:
        """An outline, filled and then stroked; as `operations.Path`."""

    @abstractmethod
    def glyphs(self, names: tuple[str, ...], matrices: Floats, fill: Floats) -> None:
        """Named outlines; as `operations.Glyphs`."""

    @abstractmethod
    def image(self, source: str, box: Floats, frame: Floats | None = None) -> None:
        """A picture in its box, or a frame (n, 1) of a clip; none where that is −1."""

    @abstractmethod
    def group(self, layering: Layering) -> Any:
        """A context within which parts are drawn, and laid over what is below as one; Refused past `MOST_DEPTH`."""


class Recorder(Pen):
    """Keeps what is drawn as operations, in a space that `matrix` takes to a scene of that size in pixels."""

    def __init__(self, matrix: Floats = UNMOVED, size: tuple[int, int] = (0, 0)) -> None:
        self.parts: list[Operation] = []
        self._matrix = matrix
        self._size = size
        self._depth = 0

    def path(
        self, verbs: str, points: Floats, fill: Ink | None, stroke: StrokeInk | None = None, rule: Rule = "nonzero"
    ) -> None:
        if fill is not None:
            self.parts.append(self._filled(verbs, points, fill, rule))
        if stroke is not None:
            mitre, dash, offset = (_column_or_none(part) for part in (stroke.mitre, stroke.dash, stroke.dash_offset))
            self.parts.append(
                Path(
                    verbs, column(points), stroke=_paint(stroke.colour), stroke_width=column(stroke.width),
                    cap=stroke.cap, join=stroke.join, mitre=mitre, dash=dash, dash_offset=offset,
                )
            )  # fmt: skip

    @staticmethod
    def _filled(verbs: str, points: Floats, fill: Ink, rule: Rule) -> Path:
        verbs, points = _general(verbs, points)
        return Path(verbs, column(points), _paint(fill), rule=rule)

    def glyphs(self, names: tuple[str, ...], matrices: Floats, fill: Floats) -> None:
        self.parts.append(Glyphs(names, column(matrices), column(fill)))

    def image(self, source: str, box: Floats, frame: Floats | None = None) -> None:
        self.parts.append(Image(source, column(box), column(OPAQUE), _column_or_none(frame)))

    @contextmanager
    def group(self, layering: Layering) -> Iterator[None]:
        if self._depth >= MOST_DEPTH:
            raise Refused(f"Groups nest at most {MOST_DEPTH} deep.", mend="Take a group apart, then try again.")
        outside = self.parts, self._matrix
        laid = None if layering.matte is None else self._matte(layering.matte)
        self.parts, self._matrix = [], multiply(self._matrix, layering.matrix)
        self._depth += 1
        yield
        self._depth -= 1
        boxes = [part.box.astype(np.float64) for part in self.parts if isinstance(part, Image)]
        matrix = _askew(self._matrix, boxes[0], self._size) if boxes else self._matrix
        masks = mask_paths(layering.masks, self._matrix, self._size)
        made = grouped(self.parts, matrix, layering, masks, laid)
        self.parts, self._matrix = outside
        self.parts.append(made)

    def _matte(self, matte: MatteInk) -> Matte:
        other = Recorder(self._matrix, self._size)
        other._depth = self._depth + 1
        matte.draw(other)
        return Matte(tuple(other.parts), matte.by, matte.inverted)


def _paint(ink: Ink) -> Paint:
    if not isinstance(ink, GradientInk):
        return column(ink)
    geometry, offsets, colours = (column(part) for part in (ink.geometry, ink.offsets, ink.colours))
    return GradientPaint(ink.kind, geometry, offsets, colours, _column_or_none(ink.matrix))


def _column_or_none(array: Floats | None) -> Column | None:
    return None if array is None else column(array)


def _general(verbs: str, points: Floats) -> tuple[str, Floats]:
    """An outline that is filled on the general way by both painters.

    Rasterisers take short cuts through convex outlines, and painters then differ by up to 30 of 255 at the frame's
    edge. An outline of two parts, the second without a length, is on the general way for both.
    """
    if verbs.count("M") != 1:
        return verbs, points
    return verbs + "ML", np.concatenate([points, points[:, :2], points[:, :2]], axis=1)


def _askew(matrix: Floats, box: Floats, size: tuple[int, int]) -> Floats:
    """A picture's matrix, off by 1e-7 from parallel to the pixels at frames where an edge of it is in the scene.

    Rasterisers have short cuts for pictures that are only moved and scaled. Inside them the two painters agree to
    the byte, but along their edges they round differently; on the general way they agree there too. Nothing moves
    by a thousandth of a pixel.
    """
    m = matrix
    corners = [box[:, :2] + box[:, 2:] * np.array(at) for at in ((0, 0), (1, 1))]
    ends = np.stack([apply(m, np.broadcast_to(at, (len(m), 2))) for at in corners])
    covers = ((ends.min(axis=0) <= 0) & (ends.max(axis=0) >= np.array(size))).all(axis=1)
    out = np.array(m)
    out[~covers & (m[:, 1] == 0) & (m[:, 2] == 0), 1] = 1e-7
    out[~covers & (m[:, 0] == 0) & (m[:, 3] == 0), 0] = 1e-7
    return out


def mask_paths(masks: Sequence[MaskInk], matrix: Floats, size: tuple[int, int]) -> tuple[MaskPath, ...]:
    """Masks as operations, in a space that `matrix` takes to the scene, of a size in pixels. A feather grows as its
    mask does, along each way by itself."""
    found = []
    for mask in masks:
        whole = multiply(matrix, mask.matrix)
        grown = np.sqrt(np.abs(whole[:, 0] * whole[:, 3] - whole[:, 1] * whole[:, 2]))[:, None]
        on = Recorder()
        mask.draw(on)
        blur = mask.blur * grown if mask.blur.any() else mask.blur
        sheet = None
        if mask.blur.any() and (uneven := uneven_sheets(whole, mask.blur, size)) is not None:
            sheet, even = column(uneven[0]), uneven[1]
            blur = np.where(uneven[0][:, 12:13] > 0, even, np.broadcast_to(blur, (len(even), 1)))
        weights = column(small_blur(blur)) if ((blur > 0) & (blur < SMALL_BLUR)).any() else None
        found.append(
            MaskPath(
                tuple(_black(part) for part in on.parts), column(whole), column(mask.strength), column(blur), mask.mode,
                mask.inverted, weights, sheet,
            )
        )  # fmt: skip
    return tuple(found)


def _black(part: Operation) -> Path:
    """An outline as it covers, whatever it is painted with."""
    assert isinstance(part, Path)
    fill, stroke = (None if paint is None else column(BLACK) for paint in (part.fill, part.stroke))
    return replace(part, fill=fill, stroke=stroke)


def filled(verbs: str, points: Floats, rule: Rule = "nonzero") -> Callable[[Pen], None]:
    """An outline as what a mask draws."""
    return lambda pen: pen.path(verbs, points, BLACK, rule=rule)


def uneven_sheets(matrix: Floats, blur: Floats, size: tuple[int, int]) -> tuple[Floats, Floats] | None:
    """Sheets (n, 14) on which blurs (1 | n, 1) before a matrix (1 | n, 6) are even, as `operations.MaskPath` has them,
    and those even blurs (n, 1); None where they are even in the scene at every frame.

    A blur of a deviation σ before a matrix with the linear part L has the covariance σ²·L·Lᵀ after it. Along the axes
    of that the sheet is drawn smaller or larger until both deviations are the same.
    """
    count = max(len(matrix), len(blur))
    m, deviation = np.broadcast_to(matrix, (count, 6)), np.broadcast_to(blur, (count, 1))[:, 0]
    a, b, c, d = m[:, 0], m[:, 1], m[:, 2], m[:, 3]
    xx, yy, xy = a * a + c * c, b * b + d * d, a * b + c * d
    middle, apart = (xx + yy) / 2, np.hypot((xx - yy) / 2, xy)
    long, short = (deviation * np.sqrt(np.maximum(part, 0)) for part in (middle + apart, middle - apart))
    uneven = (deviation > 0) & (short < long * EVEN)
    if not uneven.any():
        return None
    angle = np.arctan2(2 * xy, xx - yy) / 2
    cos, sin = np.cos(angle), np.sin(angle)
    corners = np.array([[0, 0], [size[0], 0], [size[0], size[1]], [0, size[1]]], dtype=np.float64)
    along = corners[:, 0] * cos[:, None] + corners[:, 1] * sin[:, None]
    across = corners[:, 1] * cos[:, None] - corners[:, 0] * sin[:, None]
    even = np.clip(short, LEAST_EVEN, None)
    wide, high = (np.ptp(way, axis=1) for way in (along, across))
    reached = blurred_by(even)
    kx = reached / np.maximum(long, reached * wide / MOST_SHEET)
    ky = reached / np.maximum(short, reached * high / MOST_SHEET)
    margin = 3 * even + 2
    left, top = along.min(axis=1) * kx - margin, across.min(axis=1) * ky - margin
    # Never quite parallel to the pixels: no painter then takes a short cut.
    there = np.stack([kx * cos, -ky * sin - 1e-7, kx * sin + 1e-7, ky * cos, -left, -top], axis=1)
    back = inverse(there)
    assert back is not None
    ends = np.ceil(np.stack([wide * kx + 2 * margin, high * ky + 2 * margin], axis=1))
    return np.where(uneven[:, None], np.concatenate([there, back, ends], axis=1), 0.0), even[:, None]


def blurred_by(deviation: Floats) -> Floats:
    """The deviation (n,) of what painters make of a blur from 2 px on: three boxes of a whole width, as SVG allows
    (Filter Effects 1, 9.16), are a little narrower than the bell that they stand for."""
    width = np.floor(deviation * 3 * np.sqrt(2 * np.pi) / 4 + 0.5)
    last = width + (width % 2 == 0)
    return np.asarray(np.sqrt((2 * (width**2 - 1) + last**2 - 1) / 12))


def small_blur(deviation: Floats) -> Floats:
    """The weights (n, 7), whole 255ths, of copies 0…6 pixels away whose sum is a blur of a deviation (n, 1) below
    `SMALL_BLUR`; those on both sides together are 255."""
    away = np.arange(REACH + 1)
    with np.errstate(divide="ignore"):
        bell = np.exp(-((away / np.maximum(deviation, 0.05)) ** 2) / 2)
    shares = np.rint(255 * bell / (bell[:, :1] + 2 * bell[:, 1:].sum(axis=1, keepdims=True)))
    shares[:, 0] = 255 - 2 * shares[:, 1:].sum(axis=1)
    return np.asarray(shares)


def grouped(
    parts: list[Operation], matrix: Floats, layering: Layering, masks: tuple[MaskPath, ...], matte: Matte | None
) -> Group:
    """Parts as one group, under a matrix to the scene; the opacity of a single part painted in one go is put into that
    part, unless it is masked."""
    opacity, visible = layering.opacity, layering.visible
    alone = len(parts) == 1 and parts[0].single and not masks and matte is None
    inside = tuple(part.faded(opacity) for part in parts) if alone else tuple(parts)
    return Group(column(visible), column(matrix), column(opacity), layering.blend, not alone, inside, masks, matte)
