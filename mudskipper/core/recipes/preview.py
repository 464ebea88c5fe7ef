"""What a recipe would make of a layer, seen alone."""

from __future__ import annotations

import numpy as np

from ..contents.assets import Assets
from ..document.scene import Scene
from ..resolve.context import Context
from ..resolve.resolved import Resolved, resolve
from .base import Recipe

LEAST = 48
MOST = 120
REST = 12
"""Frames for which it is seen after the move has landed."""


def preview(scene: Scene, layer_id: str, recipe: Recipe, frame: float, assets: Assets) -> Resolved:
    """A layer with a recipe's move from a scene frame on, resolved over the move and a short rest.

    It is seen whole also where the span is too short for it, or where the playhead stands outside of the span; without
    the cascades that the layer has, by which nothing of it might be there.
    """
    layer = scene.layer(layer_id)
    first = min(max(int(frame), layer.span.start), layer.span.end - 1)
    count = min(max(recipe.frames + REST, LEAST), MOST)
    length = max(layer.span.end, first + max(recipe.frames + REST, count)) - layer.span.start
    span = layer.span.model_copy(update={"length": length})
    long = layer.model_copy(update={"span": span, "visible": True, "content": layer.content.at_rest})
    scene = scene.with_layer(long)
    moved = recipe.write(long, first - layer.span.start, scene, Context(scene, assets))
    return resolve(scene.with_layer(moved), np.arange(first, first + count), assets, ids=[layer_id])
