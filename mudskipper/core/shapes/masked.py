"""What masks leave of what they lie on: as they are drawn, and as a box."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from typing import TYPE_CHECKING, Any

import numpy as np

from ..draw.bounds import BoundsPen
from ..draw.inks import MaskInk
from ..draw.pen import Pen, filled
from ..geometry.bezier import Floats
from ..geometry.transform import UNMOVED, apply, matrices
from ..geometry.values import Values, within
from ..tracks.motion import anchor_points, position_values
from .base import CORNERS

if TYPE_CHECKING:
    from .masks import Mask

FULL = np.array([[-np.inf, -np.inf, np.inf, np.inf]])
NOTHING = np.array([[np.inf, np.inf, -np.inf, -np.inf]])


def mask_matrix(mask: Mask, values: Values) -> Floats | None:
    """The matrix (1 | n, 6) from a mask's pixels to those of what it masks, from the values of its own tracks; None
    where it stands as it is drawn."""
    if mask.transform is None:
        return None
    own = within(values, "transform.")
    anchor, _ = anchor_points(mask.transform.anchor.pinned, own["anchor"], mask.shape.box(within(values, "shape.")))
    return matrices(anchor, position_values(own), own["scale"], own["rotation"][:, 0])


def mask_inks(masks: Sequence[Mask], values: Values) -> list[MaskInk]:
    """Masks as they are drawn; `values` are those of what they mask, their paths beginning with `masks.`."""
    found = []
    for index, mask in enumerate(masks):
        if not mask.acts:
            continue
        own = within(values, f"masks.{index}.")
        shape = within(own, "shape.")
        matrix = mask_matrix(mask, own)
        strength = own["transform.opacity"] if mask.transform else np.array([[100.0]])
        found.append(
            MaskInk(
                partial(_covered, mask, shape), np.rint(strength / 100.0 * 255.0), own["feather"],
                UNMOVED if matrix is None else matrix, mask.mode, mask.inverted,
            )
        )  # fmt: skip
    return found


def _covered(mask: Mask, values: Values, pen: Pen) -> None:
    """Draw what a mask covers of its shape."""
    if mask.covers == "inside":
        verbs, points = mask.shape.outline(values)
        filled(verbs, points, mask.shape.fill_rule)(pen)
    else:
        mask.shape.draw(pen, values)


def _reach(mask: Mask, values: Values) -> Floats:
    """left, top, width, height (1 | n, 4) of what a mask covers in its own pixels; a stroke as if drawn whole."""
    box: Floats = mask.shape.box(values)
    if mask.covers == "inside":
        return box
    pen = BoundsPen()
    _covered(mask, values, pen)
    return box if pen.box is None else pen.box


def masked_box(masks: Sequence[Mask], values: Values) -> Floats:
    """left, top, right, bottom (1 | n, 4) of what masks leave, infinite where it has no end; feathers not counted."""
    reach: Floats | None = None
    for index, mask in enumerate(masks):
        if not mask.acts:
            continue
        if reach is None:
            reach = NOTHING if mask.mode == "add" else FULL
        own = within(values, f"masks.{index}.")
        box, matrix = _reach(mask, within(own, "shape.")), mask_matrix(mask, own)
        corners = box[:, None, :2] + box[:, None, 2:] * np.array(CORNERS)
        at = corners if matrix is None else apply(matrix[:, None], corners)
        ends = FULL if mask.inverted else np.concatenate([at.min(axis=1), at.max(axis=1)], axis=1)
        if mask.mode == "add":
            reach = _joined(reach, ends, np.minimum, np.maximum)
        elif mask.mode == "intersect":
            reach = _joined(reach, ends, np.maximum, np.minimum)
    return FULL if reach is None else reach


def _joined(a: Floats, b: Floats, low: Any, high: Any) -> Floats:
    return np.concatenate([low(a[:, :2], b[:, :2]), high(a[:, 2:], b[:, 2:])], axis=1)


def common_box(box: Floats, ends: Floats) -> Floats:
    """left, top, width, height (1 | n, 4) of the part of a box within left, top, right, bottom; where they have nothing
    in common, without an extent."""
    low = np.maximum(box[:, :2], ends[:, :2])
    high = np.minimum(box[:, :2] + box[:, 2:], ends[:, 2:])
    low = np.minimum(low, box[:, :2] + box[:, 2:])
    return np.concatenate([low, np.maximum(high - low, 0.0)], axis=1)
