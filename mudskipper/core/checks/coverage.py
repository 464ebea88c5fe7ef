"""A ground that covers the scene at most frames but not at all."""

from __future__ import annotations

from typing import ClassVar

import numpy as np

from ..document.items_as_layers import MASKS
from ..document.scene import Scene
from ..geometry.bezier import Floats
from ..geometry.coverage import bare_parts, shortfall
from ..ground.time import timecode
from ..resolve.bounds import bounds, inner_corners
from ..resolve.corners import content_corners, corners
from ..resolve.items import items_resolved
from ..resolve.layers import ResolvedLayer
from ..shapes import Item, ShapeItem
from .base import Check, Finding, points, rescaled

COVERS_AT_REST = 0.98


class Coverage(Check):
    """A ground that covers the scene at most frames but not at all: the first bare frame, and the scale that mends it.

    A layer counts as a ground when it covers at its largest, or holds at least 98 % of the scene's width and height."""

    name: ClassVar[str] = "coverage"

    def find(self, scene: Scene, one: ResolvedLayer) -> Finding | None:
        size = (scene.width, scene.height)
        if not can_cover(one):
            return None
        grow = shortfall_of(scene, one)
        shown = one.visible
        covered = shown & (grow <= 1)
        ends = bounds(one)
        nearly = ((ends[:, 2:] - ends[:, :2]) >= COVERS_AT_REST * np.array(size)).all(axis=1) & shown
        if (not covered.any() and not nearly.any()) or covered[shown].all():
            return None
        if covered.sum() < 0.5 * shown.sum() and not nearly[shown].all():
            return None
        bare = int(np.flatnonzero(shown & ~covered)[0])
        need = float(grow[shown].max())
        name = one.layer.name
        areas = tuple(points(part) for part in bare_parts(_ground(one)[bare], size))
        opening = f"'{name}' does not cover the scene at {timecode(bare, scene.frame_rate)}"
        if not np.isfinite(need):
            sentence = f"{opening}; its anchor lies at or beyond the bare edge, so no scale alone makes it cover."
            return Finding(
                check=self.name, layer=one.layer.id, frame=bare, figure=0.0, sentence=sentence, areas=areas
            )  # fmt: skip
        factor = np.ceil(need * 10_000) / 10_000
        sentence = f"{opening}; scaled by {factor * 100:.2f} % it covers at every frame."
        return Finding(
            check=self.name, layer=one.layer.id, frame=bare, figure=float(factor), sentence=sentence,
            edits=rescaled(one.layer, float(factor), bare), areas=areas,
        )  # fmt: skip

    def spoilt(self, scene: Scene, before: ResolvedLayer, after: ResolvedLayer) -> bool:
        """A ground that covered at every frame, and does no longer."""
        return can_cover(before) and _covers(scene, before) and not _covers(scene, after)


def can_cover(one: ResolvedLayer) -> bool:
    """Whether a layer may be meant to fill the scene: not one that is masked, or shown in another."""
    layer = one.layer
    return layer.content.can_cover and layer.matte is None and not any(mask.acts for mask in layer.masks)


def shortfall_of(scene: Scene, one: ResolvedLayer) -> Floats:
    """By which factor a layer must grow about its anchor at each frame to cover the scene (n,)."""
    anchors = np.broadcast_to(one.place, (len(one.frames), 2))
    size = scene.width, scene.height
    needed = shortfall(_ground(one), anchors, size)
    # Behind its window the content must cover, too.
    return (
        needed if one.framed is None else np.maximum(needed, shortfall(inner_corners(one, corners(one)), anchors, size))
    )


def _ground(one: ResolvedLayer) -> Floats:
    """The corners in the scene of what a layer covers (n, 4, 2): of its content, which of a shape alone that is turned
    within its layer is less than the layer's box; without what its effects leave see-through at the edges."""
    return inner_corners(one, _box(one))


def _box(one: ResolvedLayer) -> Floats:
    leaves = (
        []
        if one.framed is not None
        else [leaf for place, leaf in items_resolved(one).items() if MASKS not in place and _is_leaf(leaf)]
    )
    if len(leaves) == 1:
        return corners(leaves[0])
    return corners(one) if one.framed is None else content_corners(one)


def _is_leaf(leaf: ResolvedLayer) -> bool:
    items: tuple[Item, ...] = getattr(leaf.layer.content, "items", ())
    return len(items) == 1 and isinstance(items[0], ShapeItem) and items[0].transform is None and leaf.layer.visible


def _covers(scene: Scene, one: ResolvedLayer) -> bool:
    return bool((shortfall_of(scene, one)[one.visible] <= 1).all())
