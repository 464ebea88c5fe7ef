"""Resolved layers as groups of drawing operations."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from ..bezier import Floats
from ..context import Context
from ..resolve import Resolved
from ..resolved_layer import ResolvedLayer
from ..transform import apply
from .bounds import BoundsPen
from .operations import DrawList, Group, Image, Operation
from .pen import Recorder, grouped


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
    """What a layer shows under its own matrix, opacity and blend; `size` is the scene's, in pixels."""
    pen = Recorder(resolved.matrix)
    resolved.layer.content.draw(pen, resolved.inner, context.around(resolved.layer, resolved.frames))
    visible = resolved.visible[:, None].astype(np.float64)
    return grouped(
        pen.parts,
        _askew(resolved, size) if _holds_image(pen.parts) else resolved.matrix,
        np.rint(resolved.opacity * 255.0),
        resolved.layer.blend,
        visible[:1] if visible.size and (visible == visible[0]).all() else visible,
    )


def tight_box(resolved: ResolvedLayer, context: Context) -> Floats:
    """The box of what is really painted, in content pixels (1 | n, 4); the layer's own box where nothing is."""
    pen = BoundsPen()
    resolved.layer.content.draw(pen, resolved.inner, context.around(resolved.layer, resolved.frames))
    return resolved.box if pen.box is None else pen.box


def _holds_image(parts: Iterable[Operation]) -> bool:
    return any(isinstance(part, Image) or (isinstance(part, Group) and _holds_image(part.parts)) for part in parts)


def _askew(resolved: ResolvedLayer, size: tuple[int, int]) -> Floats:
    """A picture's matrix, off by 1e-7 from parallel to the pixels at frames where an edge of it is in the scene.

    Rasterisers have short cuts for pictures that are only moved and scaled. Inside them the two painters agree to
    the byte, but along their edges they round differently; on the general way they agree there too. Nothing moves
    by a thousandth of a pixel.
    """
    m, box = resolved.matrix, resolved.box
    corners = [box[:, :2] + box[:, 2:] * np.array(at) for at in ((0, 0), (1, 1))]
    ends = np.stack([apply(m, np.broadcast_to(at, (len(m), 2))) for at in corners])
    covers = ((ends.min(axis=0) <= 0) & (ends.max(axis=0) >= np.array(size))).all(axis=1)
    out = np.array(m)
    out[~covers & (m[:, 1] == 0) & (m[:, 2] == 0), 1] = 1e-7
    out[~covers & (m[:, 0] == 0) & (m[:, 3] == 0), 0] = 1e-7
    return out
