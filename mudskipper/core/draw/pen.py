"""The pen that contents draw on, and the recorder that keeps what was drawn."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import replace
from typing import Any

import numpy as np

from ..geometry.bezier import Floats
from ..geometry.transform import UNMOVED, apply, multiply
from ..ground.errors import Refused
from .blurs import SMALL_BLUR, small_blur, uneven_sheets
from .inks import BLACK, OPAQUE, GradientInk, Ink, Layering, MaskInk, MatteInk, StrokeInk
from .operations import (
    Below,
    Column,
    Effects,
    Glyphs,
    GradientPaint,
    Group,
    Image,
    MaskPath,
    Matte,
    Operation,
    Paint,
    Path,
    Rule,
    column,
)
from .sheets import effects_on, grown, reach_of

MOST_DEPTH = 64
"""How deep groups may nest, a layer's own group counted."""
NOWHERE = np.zeros((1, 4))
FLAT = 2e-11
"""The area of a pixel below which painters take a matrix for one without a way back."""


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
    def below(self, box: Floats) -> None:
        """What lies below the group; as `operations.Below`."""

    @abstractmethod
    def group(self, layering: Layering) -> Any:
        """A context within which parts are drawn, and laid over what is below as one; Refused past `MOST_DEPTH`."""


class Recorder(Pen):
    """Keeps what is drawn as operations, in a space that `matrix` takes to the scene, of which a region (1 | n, 4) is
    looked at: left, top, right, bottom."""

    def __init__(self, matrix: Floats = UNMOVED, region: Floats = NOWHERE) -> None:
        self.parts: list[Operation] = []
        self._matrix = matrix
        self._region = region
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

    def below(self, box: Floats) -> None:
        self.parts.append(Below(column(box)))

    @contextmanager
    def group(self, layering: Layering) -> Iterator[None]:
        if self._depth >= MOST_DEPTH:
            raise Refused(f"Groups nest at most {MOST_DEPTH} deep.", mend="Take a group apart, then try again.")
        outside = self.parts, self._matrix, self._region
        laid = None if layering.matte is None else self._matte(layering.matte)
        self.parts, self._matrix = [], multiply(self._matrix, layering.matrix)
        layering = _unless_flat(layering, self._matrix)
        effects = effects_on(layering, self._matrix, self._region) if layering.effects else None
        if effects is not None:
            self._region = grown(self._region, self._matrix, reach_of(layering.effects))
        self._depth += 1
        yield
        self._depth -= 1
        boxes = [part.box.astype(np.float64) for part in self.parts if isinstance(part, Image)]
        matrix = _askew(self._matrix, boxes[0], self._region) if boxes else self._matrix
        masks = mask_paths(layering.masks, self._matrix, self._region)
        made = grouped(self.parts, matrix, layering, masks, effects, laid)
        self.parts, self._matrix, self._region = outside
        self.parts.append(made)

    def _matte(self, matte: MatteInk) -> Matte:
        other = Recorder(self._matrix, self._region)
        other._depth = self._depth + 1
        matte.draw(other)
        return Matte(tuple(other.parts), matte.by, matte.inverted)


def _unless_flat(layering: Layering, matrix: Floats) -> Layering:
    """A layering that shows nothing where the matrix to the scene leaves no area: painters differ in hairlines."""
    flat = np.abs(matrix[:, 0] * matrix[:, 3] - matrix[:, 1] * matrix[:, 2]) < FLAT
    return replace(layering, visible=layering.visible * ~flat[:, None]) if flat.any() else layering


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


def _askew(matrix: Floats, box: Floats, region: Floats) -> Floats:
    """A picture's matrix, off by 1e-7 from parallel to the pixels at frames where an edge of it is in the region.

    Rasterisers have short cuts for pictures that are only moved and scaled. Inside them the two painters agree to
    the byte, but along their edges they round differently; on the general way they agree there too. Nothing moves
    by a thousandth of a pixel.
    """
    m = np.broadcast_to(matrix, (max(len(matrix), len(region)), 6))
    corners = [box[:, :2] + box[:, 2:] * np.array(at) for at in ((0, 0), (1, 1))]
    ends = np.stack([apply(m, np.broadcast_to(at, (len(m), 2))) for at in corners])
    covers = ((ends.min(axis=0) <= region[:, :2]) & (ends.max(axis=0) >= region[:, 2:])).all(axis=1)
    out = np.array(m)
    out[~covers & (m[:, 1] == 0) & (m[:, 2] == 0), 1] = 1e-7
    out[~covers & (m[:, 0] == 0) & (m[:, 3] == 0), 0] = 1e-7
    return out


def mask_paths(masks: Sequence[MaskInk], matrix: Floats, region: Floats) -> tuple[MaskPath, ...]:
    """Masks as operations, in a space that `matrix` takes to the scene, of which a region is looked at. A feather grows
    as its mask does, along each way by itself."""
    found = []
    for mask in masks:
        whole = multiply(matrix, mask.matrix)
        grown = np.sqrt(np.abs(whole[:, 0] * whole[:, 3] - whole[:, 1] * whole[:, 2]))[:, None]
        on = Recorder()
        mask.draw(on)
        blur = mask.blur * grown if mask.blur.any() else mask.blur
        sheet = None
        if mask.blur.any() and (uneven := uneven_sheets(whole, mask.blur, region)) is not None:
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


def grouped(
    parts: list[Operation],
    matrix: Floats,
    layering: Layering,
    masks: tuple[MaskPath, ...],
    effects: Effects | None,
    matte: Matte | None,
) -> Group:
    """Parts as one group, under a matrix to the scene; the opacity of a single part painted in one go is put into that
    part, unless it is masked or has effects."""
    opacity, visible = layering.opacity, layering.visible
    alone = len(parts) == 1 and parts[0].single and not masks and effects is None and matte is None
    inside = tuple(part.faded(opacity) for part in parts) if alone else tuple(parts)
    return Group(
        column(visible), column(matrix), column(opacity), layering.blend, not alone, inside, masks, effects, matte
    )
