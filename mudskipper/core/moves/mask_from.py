"""The shapes of a layer that lies over another as masks of that one."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..document.items_as_layers import MASKS
from ..document.scene import Layer
from ..geometry.bezier import Floats
from ..geometry.transform import apply, inverse, multiply
from ..ground.errors import Refused
from ..resolve.context import Context
from ..resolve.items import items_resolved
from ..resolve.layers import ResolvedLayer
from ..shapes import Item, ItemTransform, ShapeItem
from ..shapes.masks import Mask, MaskTransform, unpainted
from ..shapes.several import all_items
from ..tracks.base import Track
from ..tracks.kinds import NumberTrack, PairTrack, PathTrack
from ..tracks.outline import PER_POINT, OutlineTrack
from ..tracks.walk import replaced, tracks_in
from .as_path import as_path, plain_values
from .moved_motion import moved_by
from .position_keys import parts_of

PLAIN = {"id": "", "name": "", "visible": True, "transform": None, "repeat": None}
UNSHEARED = 1e-6


def masks_of(source: Layer, target: Layer, frame: float, context: Context) -> tuple[list[Mask], bool]:
    """Each shape of a source layer as a mask of a target, back to front, where it lies at a scene frame; and whether
    all of its motion was kept. The source's keys count from the target's start. A stroke masks as it is drawn.

    A layer of one shape over a target that rests keeps its motion. Refused in words where there is no shape with an
    area or a stroke, or where the target has no size.
    """
    now, over = context.resolve([target, source], [frame])
    back = inverse(now.matrix)
    if back is None:
        raise Refused(f"'{target.name}' has scale 0 here.", where="frame", mend="Go to a frame where it has a size.")
    found = items_resolved(over, context.around(source, over.frames))
    leaves = {
        address: leaf
        for address, leaf in found.items()
        if MASKS not in address.split("/") and _shape(leaf) is not None and leaf.layer.visible
    }
    if not leaves:
        raise Refused(
            f"'{source.name}' has no shape with an area or a stroke.", where="by",
            mend="Choose a rectangle, a line with a stroke or another shape that is seen.",
        )  # fmt: skip
    items: tuple[Item, ...] = getattr(source.content, "items", ())
    if any(item.repeat for item in all_items(items)):
        raise Refused(f"'{source.name}' is repeated.", where="by", mend="Turn its pattern off, then mask with it.")
    scale = now.values["scale"][0]
    free = target.carrier is None and source.carrier is None
    rests = free and not any(track.moves for track in _motion(target)) and scale[0] == scale[1] > 0
    rests = rests and (not target.anchor.pinned or _box_rests(target, context))
    as_it_moves = not any(track.formula for track in _motion(source))
    if (
        rests
        and as_it_moves
        and source.framing is None
        and len(items) == 1
        and items[0].transform is None
        and len(leaves) == 1
    ):
        own = moved_by(source, back[0], context.scene.fps)
        transform = MaskTransform(**{part: getattr(own, part) for part in ItemTransform.model_fields})
        shape = _shape(next(iter(leaves.values())))
        return [Mask(name=source.name, shape=shape, transform=transform)], True
    found[source.id] = over
    whole = []
    for address, leaf in leaves.items():
        outer = [address.rsplit("/", up)[0] for up in range(address.count("/") + 1)]
        strength = 100.0 * float(np.prod([found[one].opacity[0, 0] for one in outer]))
        whole.append(_at_frame(leaf, multiply(back, leaf.matrix)[0], strength, context))
    kept = not any(track.moves for track in source.tracks.values())
    return whole, kept


def _box_rests(layer: Layer, context: Context) -> bool:
    (one,) = context.resolve([layer], np.arange(layer.span.start, layer.span.end, dtype=np.float64))
    return len(one.anchor) == 1


def _motion(layer: Layer) -> list[Track]:
    return [layer.anchor, *parts_of(layer).values(), layer.scale, layer.rotation]


def _shape(leaf: ResolvedLayer) -> ShapeItem | None:
    """The shape that an item is, without its colours; None for a group, or where there is nothing to cover."""
    items: tuple[Item, ...] = getattr(leaf.layer.content, "items", ())
    if len(items) != 1 or not isinstance(items[0], ShapeItem) or items[0].transform:
        return None
    if not items[0].has_area and items[0].stroke is None:
        return None
    return unpainted(items[0].model_copy(update=PLAIN))


def _at_frame(leaf: ResolvedLayer, matrix: Floats, percent: float, context: Context) -> Mask:
    """A shape as a mask that stands where a matrix (6,) brings it; a sheared one as a path, as it is at the frame."""
    shape = _shape(leaf)
    assert shape is not None
    a, b, c, d = (float(n) for n in matrix[:4])
    strength = NumberTrack(rest=percent)
    size = np.hypot(a, b) * np.hypot(c, d)
    if size > 0 and abs(a * c + b * d) <= UNSHEARED * size:
        mirrored = a * d - b * c < 0
        middle = leaf.box[0, :2] + leaf.box[0, 2:] / 2
        x, y = apply(matrix, middle)
        transform = MaskTransform(
            position=PathTrack(rest=(float(x), float(y))),
            rotation=NumberTrack(rest=float(np.degrees(np.arctan2(b, a)))),
            scale=PairTrack(rest=(float(np.hypot(a, b)) * 100, float(np.hypot(c, d)) * (-100 if mirrored else 100))),
            opacity=strength,
        )  # fmt: skip
        return Mask(name=leaf.layer.name, shape=shape, transform=transform)
    if shape.stroke is not None:
        raise Refused(
            f"'{leaf.layer.name}' has a stroke, and would be sheared as a mask here.", where="by",
            mend="Turn it or the layer so that their sides are parallel, or turn its stroke off.",
        )  # fmt: skip
    still = _still(shape, leaf)
    path: Any = as_path(still, leaf.layer.span.length, plain_values(still, context.scene.fps))
    points = np.array(path.points.rest).reshape(-1, PER_POINT // 2, 2)
    points[:, 0] = apply(matrix, points[:, 0] + np.array(path.at.rest))
    points[:, 1:] = apply(np.array([a, b, c, d, 0.0, 0.0]), points[:, 1:])
    moved = OutlineTrack(rest=tuple(tuple(point) for point in points.reshape(-1, PER_POINT).tolist()))
    drawn = path.model_copy(update={"points": moved, "at": PairTrack(rest=(0.0, 0.0))})
    faded = strength.rest != 100.0
    own = MaskTransform(**{**_resting(drawn), "opacity": strength}) if faded else None
    return Mask(name=leaf.layer.name, shape=drawn, transform=own)


def _still(shape: ShapeItem, leaf: ResolvedLayer) -> ShapeItem:
    """A shape with every number as it is at the frame."""
    for path, track in tracks_in(shape):
        if track.moves:
            value = track.from_array(leaf.values[f"content.items.0.{path}"][0])
            shape = replaced(shape, path.split("."), type(track).model_validate({"rest": value}))
    return shape


def _resting(shape: ShapeItem) -> dict[str, Any]:
    return {name: getattr(shape.at_rest, name) for name in ItemTransform.model_fields}
