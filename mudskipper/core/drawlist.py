"""Resolved layers → the few drawing operations that both painters share.

A draw list is a list of operations whose operands are columns: float32 arrays (n, k), one row a frame, or (1, k)
where nothing changes. Both painters read the same numbers, so that the stage shows what the export holds.
Colours are rows r, g, b, a of whole numbers 0…255, not premultiplied.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .bezier import Floats
from .box import picture_info, text_setting
from .content import PictureContent, PictureInfo, Rectangle, ShapeContent, TextContent
from .resolve import Resolved, ResolvedLayer
from .text.layout import shape
from .transform import apply as transform_points

Column = NDArray[np.float32]


@dataclass(frozen=True)
class Push:
    """Begin a layer: skip to its Pop where `visible` is 0; multiply the matrix; open a group where that is needed.

    A group is drawn apart and laid over what is below with `opacity` (0…255, whole) and `blend`; `grouped` says that
    one must be opened where opacity is under 255 or blend is not normal. A layer with a single operation needs none:
    there the opacity stands in that operation's own colour, or in `Picture.opacity`, and `blend` is its own.
    """

    visible: Column
    matrix: Column
    opacity: Column
    blend: str
    grouped: bool


@dataclass(frozen=True)
class Pop:
    """End a layer."""


@dataclass(frozen=True)
class RectangleOp:
    """A rectangle, box (left, top, width, height), with corner radius; filled, then stroked."""

    box: Column
    corners: Column
    fill: Column | None
    stroke: Column | None
    stroke_width: Column | None


@dataclass(frozen=True)
class EllipseOp:
    """An ellipse within its box; filled, then stroked."""

    box: Column
    fill: Column | None
    stroke: Column | None
    stroke_width: Column | None


@dataclass(frozen=True)
class GlyphsOp:
    """Outlines by name as one path: each at places (x, y, …) and scaled by `scale` (g) from outline units."""

    names: tuple[str, ...]
    places: Column
    scale: Column
    fill: Column


@dataclass(frozen=True)
class PictureOp:
    """A picture drawn into its box, bilinear, at `opacity` (0…255, whole)."""

    asset: str
    box: Column
    opacity: Column


Operation = Push | Pop | RectangleOp | EllipseOp | GlyphsOp | PictureOp
Assets = dict[str, PictureInfo]


@dataclass(frozen=True)
class DrawList:
    """The operations of a scene over its frames, back to front, above the background."""

    width: int
    height: int
    background: tuple[int, int, int, int]
    frames: Floats
    operations: tuple[Operation, ...]


def draw_list(resolved: Resolved, assets: Assets) -> DrawList:
    """The draw list of a resolved scene."""
    scene = resolved.scene
    operations: list[Operation] = []
    for layer in resolved.layers.values():
        if layer.visible.any():
            operations.extend(layer_operations(layer, assets, (scene.width, scene.height)))
    red, green, blue, alpha = bytes.fromhex(scene.background[1:])
    return DrawList(scene.width, scene.height, (red, green, blue, alpha), resolved.frames, tuple(operations))


def layer_operations(resolved: ResolvedLayer, assets: Assets, size: tuple[int, int]) -> list[Operation]:
    """Push, what the layer shows, Pop; `size` is the scene's, in pixels."""
    content = resolved.layer.content
    opacity = np.rint(resolved.opacity * 255.0)
    single = _is_single(content)
    alpha = opacity if single else np.full((1, 1), 255.0)
    push = Push(
        visible=_column(resolved.visible[:1, None] if _same(resolved.visible) else resolved.visible[:, None]),
        matrix=_column(_askew(resolved, size) if isinstance(content, PictureContent) else resolved.matrix),
        opacity=_column(opacity),
        blend=resolved.layer.blend,
        grouped=not single,
    )
    return [push, *_content_operations(resolved, content, alpha, assets), Pop()]


def _askew(resolved: ResolvedLayer, size: tuple[int, int]) -> Floats:
    """A picture's matrix, off by 1e-7 from parallel to the pixels at frames where an edge of it is in the scene.

    Rasterisers have short cuts for pictures that are only moved and scaled. Inside them the two painters agree to
    the byte, but along their edges they round differently; on the general way they agree there too. Nothing moves
    by a thousandth of a pixel.
    """
    m, box = resolved.matrix, resolved.box
    corners = [box[:, :2] + box[:, 2:] * np.array(at) for at in ((0, 0), (1, 1))]
    ends = np.stack([transform_points(m, np.broadcast_to(at, (len(m), 2))) for at in corners])
    covers = ((ends.min(axis=0) <= 0) & (ends.max(axis=0) >= np.array(size))).all(axis=1)
    out = np.array(m)
    out[~covers & (m[:, 1] == 0) & (m[:, 2] == 0), 1] = 1e-7
    out[~covers & (m[:, 0] == 0) & (m[:, 3] == 0), 0] = 1e-7
    return out


def _is_single(content: object) -> bool:
    """Whether the content is painted by one stroke of the brush, so that group and own opacity are the same."""
    if isinstance(content, ShapeContent):
        return len(content.items) == 1 and (content.items[0].fill is None or content.items[0].stroke is None)
    return True


def _content_operations(resolved: ResolvedLayer, content: object, alpha: Floats, assets: Assets) -> list[Operation]:
    values = {name.removeprefix("content."): v for name, v in resolved.values.items() if name.startswith("content.")}
    if isinstance(content, TextContent):
        setting = text_setting(content, values)
        glyphs = shape(content.text, content.font)
        scale = _column(values["size"] / glyphs.units)
        return [GlyphsOp(glyphs.names, _column(setting.places), scale, _faded(values["fill"], alpha))]
    if isinstance(content, PictureContent):
        info = picture_info(content, assets)
        box = np.array([[0.0, 0.0, info.width, info.height]])
        return [PictureOp(content.asset, _column(box), _column(alpha))]
    assert isinstance(content, ShapeContent)
    operations: list[Operation] = []
    for index, item in enumerate(content.items):
        at, size = values[f"items.{index}.at"], values[f"items.{index}.size"]
        origin, size = np.broadcast_arrays(at - size / 2, size)
        box = _column(np.concatenate([origin, size], axis=1))
        fill = _faded(values[f"items.{index}.fill"], alpha) if item.fill else None
        stroke = _faded(values[f"items.{index}.stroke.colour"], alpha) if item.stroke else None
        width = _column(values[f"items.{index}.stroke.width"]) if item.stroke else None
        if isinstance(item, Rectangle):
            most = np.minimum(size[:, :1], size[:, 1:]) / 2
            corners = _column(np.minimum(values[f"items.{index}.corners"], most))
            operations.append(RectangleOp(box, corners, fill, stroke, width))
        else:
            operations.append(EllipseOp(box, fill, stroke, width))
    return operations


def _faded(colour: Floats, alpha: Floats) -> Column:
    """A colour column with its alpha multiplied by an opacity of 0…255, rounded once."""
    faded = np.array(np.broadcast_to(colour, (max(len(colour), len(alpha)), 4)))
    faded[:, 3] = np.rint(faded[:, 3] * alpha[:, 0] / 255.0)
    return _column(faded)


def _column(array: np.ndarray) -> Column:
    return np.ascontiguousarray(array, dtype=np.float32)


def _same(array: np.ndarray) -> bool:
    return bool(array.size and (array == array[0]).all())
