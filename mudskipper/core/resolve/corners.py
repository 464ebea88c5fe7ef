"""Where the corners of a layer lie in the scene."""

from __future__ import annotations

import numpy as np

from ..geometry.bezier import Floats
from ..geometry.transform import apply
from .layers import ResolvedLayer


def corners(resolved: ResolvedLayer, content: Floats | None = None) -> Floats:
    """A box's corners in the scene, clockwise from top left (n, 4, 2): the layer's own, or `content` (1 | n, 4)."""
    return _corners(resolved.box if content is None else content, resolved.matrix, len(resolved.frames))


def _corners(boxes: Floats, matrices: Floats, count: int) -> Floats:
    box, matrix = np.broadcast_to(boxes, (count, 4)), np.broadcast_to(matrices, (count, 6))
    ends = [box[:, :2] + box[:, 2:] * np.array(at, dtype=np.float64) for at in ((0, 0), (1, 0), (1, 1), (0, 1))]
    return np.stack([apply(matrix, end) for end in ends], axis=1)


def content_corners(resolved: ResolvedLayer) -> Floats:
    """The corners in the scene of what a layer shows, where it lies behind its window (n, 4, 2)."""
    return _corners(resolved.content_box, resolved.content_matrix, len(resolved.frames))
