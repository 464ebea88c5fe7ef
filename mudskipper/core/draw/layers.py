"""Resolved layers as groups of drawing operations."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

import numpy as np

from ..bezier import Floats
from ..context import Context
from ..resolve import Resolved
from ..resolved_layer import ResolvedLayer, in_span
from ..transform import apply
from .bounds import BoundsPen
from .operations import DrawList, Group, Image, Matte, Operation
from .pen import OPAQUE, SEEN, UNMOVED, Pen, Recorder, grouped, mask_paths


def draw_list(resolved: Resolved) -> DrawList:
    """The draw list of a resolved scene."""
    scene = resolved.scene
    size = (scene.width, scene.height)
    groups = tuple(
        layer_group(layer, resolved.context, size) for layer in resolved.layers.values() if layer.visible.any()
    )
    red, green, blue, alpha = bytes.fromhex(scene.background[1:])
    return DrawList(scene.width, scene.height, (red, green, blue, alpha), resolved.frames, groups)


def layer_group(resolved: ResolvedLayer, context: Context, size: tuple[int, int]) -> Group:
    """What a layer shows under its own matrix, masks, opacity and blend; `size` is the scene's, in pixels."""
    place = resolved.content_matrix
    pen = Recorder(place)
    _draw_content(pen, resolved, context)
    parts, matrix = pen.parts, resolved.matrix
    at = _askew(resolved, place, size) if _holds_image(parts) else place
    if resolved.framed is None:
        matrix = at
    else:
        parts = [grouped(parts, at, OPAQUE, "normal", SEEN)]
    return grouped(
        parts,
        matrix,
        np.rint(resolved.opacity * 255.0),
        resolved.layer.blend,
        _one_if_same(resolved.visible[:, None].astype(np.float64)),
        mask_paths(resolved.masks, resolved.matrix),
        _matte_of(resolved, context, size),
    )


def _matte_of(resolved: ResolvedLayer, context: Context, size: tuple[int, int]) -> Matte | None:
    """What a layer is shown in: another as it is painted in its span, hidden or not; None where that is gone."""
    matte = resolved.layer.matte
    other = None if matte is None else context.layer(matte.layer, resolved.frames)
    if matte is None or other is None:
        return None
    there = replace(other, visible=in_span(other.layer, other.frames))
    return Matte((layer_group(there, context, size),), matte.by, matte.inverted)


def _one_if_same(rows: Floats) -> Floats:
    return rows[:1] if rows.size and (rows == rows[0]).all() else rows


def tight_box(resolved: ResolvedLayer, context: Context) -> Floats:
    """The box of what is really painted, in content pixels (1 | n, 4); the layer's own box where nothing is."""
    pen = BoundsPen()
    with pen.group(masks=resolved.masks), pen.group(UNMOVED if resolved.framed is None else resolved.framed):
        _draw_content(pen, resolved, context)
    return resolved.box if pen.box is None else pen.box


def _draw_content(pen: Pen, resolved: ResolvedLayer, context: Context) -> None:
    resolved.layer.content.draw(pen, resolved.inner, context.around(resolved.layer, resolved.frames))


def _holds_image(parts: Iterable[Operation]) -> bool:
    return any(isinstance(part, Image) or (isinstance(part, Group) and _holds_image(part.parts)) for part in parts)


def _askew(resolved: ResolvedLayer, matrix: Floats, size: tuple[int, int]) -> Floats:
    """A picture's matrix, off by 1e-7 from parallel to the pixels at frames where an edge of it is in the scene.

    Rasterisers have short cuts for pictures that are only moved and scaled. Inside them the two painters agree to
    the byte, but along their edges they round differently; on the general way they agree there too. Nothing moves
    by a thousandth of a pixel.
    """
    m, box = matrix, resolved.content_box
    corners = [box[:, :2] + box[:, 2:] * np.array(at) for at in ((0, 0), (1, 1))]
    ends = np.stack([apply(m, np.broadcast_to(at, (len(m), 2))) for at in corners])
    covers = ((ends.min(axis=0) <= 0) & (ends.max(axis=0) >= np.array(size))).all(axis=1)
    out = np.array(m)
    out[~covers & (m[:, 1] == 0) & (m[:, 2] == 0), 1] = 1e-7
    out[~covers & (m[:, 0] == 0) & (m[:, 3] == 0), 0] = 1e-7
    return out
