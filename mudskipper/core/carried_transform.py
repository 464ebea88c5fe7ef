"""The motion of one thing with the transform of what it lay in put into it."""

from __future__ import annotations

from typing import Any

import numpy as np

from .position_keys import join
from .properties import remade
from .scene import Layer, Scene
from .shapes import ItemTransform
from .transform import apply


def carried(layer: Layer, scene: Scene, matrix: Any, linear: Any, turn: float, grow: float) -> ItemTransform:
    """The motion of a layer, or of an item as one, after another transform, as a transform of its own.

    That is `matrix` (6,), of which `linear` (6,) is the part without a shift: it turns by `turn` degrees and grows by
    `grow` on both axes.
    """
    path: Any = join(layer, scene.fps).position if not hasattr(layer.position, "rest") else layer.position

    def moved(at: Any, by: Any) -> tuple[float, float]:
        x, y = apply(by, np.array(at, dtype=np.float64))
        return float(x), float(y)

    keys = tuple(
        key.model_copy(
            update={"value": moved(key.value, matrix)}
            | {n: moved(getattr(key, n), linear) for n in ("leave", "arrive") if getattr(key, n) is not None}
        )
        for key in path.keys
    )
    position = remade(path, "position", rest=moved(path.rest, matrix), keys=keys)

    def each(track: Any, change: Any) -> Any:
        keys = tuple(key.model_copy(update={"value": change(key.value)}) for key in track.keys)
        return remade(track, "transform", rest=change(track.rest), keys=keys)

    return ItemTransform(
        anchor=layer.anchor, position=position, scale=each(layer.scale, lambda pair: (pair[0] * grow, pair[1] * grow)),
        rotation=each(layer.rotation, lambda angle: angle + turn), opacity=layer.opacity,
    )  # fmt: skip
