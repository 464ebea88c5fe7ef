"""How far from a point everything of a layer is painted: the largest disc that its shapes fill and its masks leave."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np

from ..document.items_as_layers import MASKS
from ..draw.bounds import cubics
from ..draw.inks import Ink, MaskInk, StrokeInk
from ..draw.operations import Rule
from ..draw.pen import Recorder
from ..geometry.bezier import Floats
from ..geometry.transform import apply, multiply
from ..resolve.items import items_resolved
from ..resolve.layers import ResolvedLayer
from ..shapes import Item, ShapeItem

FLAT = np.linspace(0, 1, 17)
"""The shares at which curves are made straight pieces."""


def filled_radius(one: ResolvedLayer, point: Floats) -> float:
    """The radius, in the scene, of a disc about a point of the scene (2,) that is painted at each frame of a layer: one
    shape, or what has pixels, fills it, and all masks, the crop and effects leave it. 0 where there is none.

    A shape that is not filled at the point, such as the rays of a sunburst, counts with its box."""
    filled = np.zeros(len(one.frames))
    for outlines, box in _filled(one):
        inside = _radius(outlines, point, len(one.frames)) if outlines else filled * 0
        filled = np.maximum(filled, np.where(inside > 0, inside, _radius([box], point, len(one.frames))))
    return float(max((np.minimum(filled, _left(one, point)) - _softened(one)).min(), 0.0))


def _softened(one: ResolvedLayer) -> Floats:
    """By how much effects may make what is painted see-through from its edges inwards, in the scene (1 | n,)."""
    found = np.zeros(1)
    for ink in one.effects:
        longest = np.linalg.norm(one.matrix[:, :4].reshape(-1, 2, 2), axis=(1, 2))
        found = found + ink.softened.max(axis=1) * longest
    return found


def _left(one: ResolvedLayer, point: Floats) -> Floats:
    """How far from a point (2,) masks and crop leave everything at each frame (n,); below 0 where they do not."""
    count = len(one.frames)
    left: Floats | None = None
    for mask in one.masks:
        within = _inside(mask, multiply(one.matrix, mask.matrix), point, count)
        soft = np.broadcast_to(3.0 * mask.blur[:, 0], (count,))
        weak = np.broadcast_to(mask.strength[:, 0] < 255, (count,))
        if mask.mode == "subtract":
            left = np.minimum(np.full(count, np.inf) if left is None else left, -within - soft)
            continue
        within = np.where(weak, -np.inf, within - soft)
        join = np.maximum if mask.mode == "add" else np.minimum
        left = within if left is None else join(left, within)
    return np.full(count, np.inf) if left is None else left


def _inside(mask: MaskInk, matrix: Floats, point: Floats, count: int) -> Floats:
    """How far a point (2,) lies within a mask, or without it where that is inverted, by its outlines that are filled;
    where a stroke might reach to it, it lies in neither."""
    drawn = _Outlines(matrix)
    mask.draw(drawn)
    within = _radius(drawn.filled, point, count, signed=True) if drawn.filled else np.full(count, -np.inf)
    if mask.inverted != (mask.mode == "subtract"):
        for outline, reach in drawn.stroked:
            within = np.maximum(within, reach - np.abs(_radius(outline, point, count, signed=True)))
    return -within if mask.inverted else within


class _Outlines(Recorder):
    """What is drawn as polygons under a matrix: what is filled, and of each stroke how far it reaches at most."""

    def __init__(self, matrix: Floats) -> None:
        super().__init__()
        self._under = matrix
        self.filled: list[Floats] = []
        self.stroked: list[tuple[list[Floats], Floats]] = []

    def path(
        self, verbs: str, points: Floats, fill: Ink | None, stroke: StrokeInk | None = None, rule: Rule = "nonzero"
    ) -> None:
        outline = _flat(verbs, points, self._under)
        if fill is not None:
            self.filled += outline
        if stroke is not None:
            corner = stroke.mitre[:, 0] if stroke.join == "miter" else 2**0.5
            longest = np.linalg.norm(self._under[:, :4].reshape(-1, 2, 2), axis=(1, 2))
            self.stroked.append((outline, stroke.width[:, 0] / 2 * corner * longest))


def _filled(one: ResolvedLayer) -> Iterator[tuple[list[Floats], Floats]]:
    """The closed outlines (n, k, 2) of what a layer fills, and its box (n, 4, 2), each in the scene; of shapes that
    have no fill where none has."""
    leaves = [leaf for place, leaf in items_resolved(one).items() if MASKS not in place.split("/") and _is_shape(leaf)]
    filled = [leaf for leaf in leaves if leaf.layer.content.items[0].fill is not None]
    for leaf in filled or leaves:
        shape: Any = leaf.layer.content.items[0]
        values = {path.removeprefix("content.items.0."): array for path, array in leaf.values.items()}
        verbs, points = shape.outline(values)
        yield _flat(verbs, points, leaf.matrix), _quad(leaf.box, leaf.matrix, len(one.frames))
    if not leaves:
        yield [], _quad(one.content_box, one.content_matrix, len(one.frames))


def _is_shape(leaf: ResolvedLayer) -> bool:
    items: tuple[Item, ...] = getattr(leaf.layer.content, "items", ())
    alone = len(items) == 1 and isinstance(items[0], ShapeItem) and items[0].transform is None
    return alone and leaf.layer.visible


def _quad(box: Floats, matrix: Floats, count: int) -> Floats:
    box = np.broadcast_to(box, (count, 4))
    corners = np.stack([box[:, :2] + box[:, 2:] * np.array(at) for at in ((0, 0), (1, 0), (1, 1), (0, 1))], axis=1)
    return apply(np.broadcast_to(matrix, (count, 6))[:, None], corners)


def _flat(verbs: str, points: Floats, matrix: Floats) -> list[Floats]:
    """The closed parts of an outline as polygons (n, k, 2) under a matrix."""
    found = []
    t = FLAT[:-1, None]
    for pieces, _ in cubics(verbs, points):
        a, b, c, d = (pieces[:, :, None, i] for i in range(4))
        curve = (1 - t) ** 3 * a + 3 * (1 - t) ** 2 * t * b + 3 * (1 - t) * t**2 * c + t**3 * d
        flat = curve.reshape(len(curve), -1, 2)
        count = max(len(flat), len(matrix))
        found.append(
            apply(np.broadcast_to(matrix, (count, 6))[:, None], np.broadcast_to(flat, (count, *flat.shape[1:])))
        )
    return found


def _radius(outlines: list[Floats], point: Floats, count: int, *, signed: bool = False) -> Floats:
    """How far a point (2,) is from the nearest edge of polygons (n, k, 2) that it lies in together, by the non-zero
    rule; 0 where it lies outside, or as much below 0 as it is away from them if `signed`."""
    winding, near = np.zeros(count), np.full(count, np.inf)
    for polygon in outlines:
        start = np.broadcast_to(polygon, (count, *polygon.shape[1:])) - point
        end = np.roll(start, -1, axis=1)
        along = end - start
        size = np.maximum((along**2).sum(axis=2), 1e-300)
        share = np.clip(-(start * along).sum(axis=2) / size, 0, 1)
        away = start + along * share[:, :, None]
        near = np.minimum(near, np.sqrt((away**2).sum(axis=2)).min(axis=1))
        crosses = start[:, :, 0] * end[:, :, 1] - start[:, :, 1] * end[:, :, 0]
        up = (start[:, :, 1] <= 0) & (end[:, :, 1] > 0) & (crosses > 0)
        down = (start[:, :, 1] > 0) & (end[:, :, 1] <= 0) & (crosses < 0)
        winding += up.sum(axis=1) - down.sum(axis=1)
    return np.where(winding != 0, near, -near if signed else 0.0)
