"""How fast the properties of layers change."""

from __future__ import annotations

from collections.abc import Collection

import numpy as np

from ..geometry.bezier import Floats
from .context import Context
from .formulas.scope import WRITTEN
from .resolved import Resolved


def speeds(resolved: Resolved, only: Collection[str] | None = None) -> dict[str, dict[str, Floats]]:
    """How fast each property that changes does, by layer and name: (n, d), in its own unit a second, never below 0.
    Of all layers, or of those in `only`.

    At a frame it is the way from the frame before, |v(f) − v(f − 1)| times the frame rate. The frames must follow each
    other without a gap.
    """
    layers = [moving for moving in resolved.layers.values() if only is None or moving.layer.id in only]
    if not layers or not len(resolved.frames):
        return {}
    # A context of its own, so that what the other remembers of these tracks stays.
    earlier = Context(resolved.scene, resolved.context.assets).resolve(
        [moving.layer for moving in layers], [resolved.frames[0] - 1.0]
    )
    alone = len(resolved.frames) == 1
    return {
        one.layer.id: {
            name: np.abs(np.diff(np.concatenate([before.values[name], values]), axis=0)) * resolved.scene.fps
            for name, values in one.values.items()
            if name != WRITTEN and (alone or len(values) > 1)
        }
        for one, before in zip(layers, earlier, strict=True)
    }
