"""A layer that is never seen, at no frame of its scene."""

from __future__ import annotations

from typing import ClassVar

import numpy as np

from ..document.scene import Scene
from ..resolve.bounds import painted_bounds
from ..resolve.context import Context
from ..resolve.layers import ResolvedLayer
from .base import Check, Finding, box_at, opacity_of
from .not_showing import why

LOOKED = 400
"""Frames at which where it stands is looked at, where there are more."""


class NeverShows(Check):
    """A layer that is not hidden, and of which nothing can show at any frame: it stays outside, transparent, or without
    a size. What other layers cover is not looked at."""

    name: ClassVar[str] = "never shows"

    def look(self, scene: Scene, one: ResolvedLayer, context: Context) -> Finding | None:
        layer = one.layer
        there = np.flatnonzero(one.visible & (opacity_of(one) * 255 >= 0.5))
        if not layer.visible:
            return None
        if there.size:
            some = there if len(there) <= LOOKED else there[np.linspace(0, len(there) - 1, LOOKED).astype(int)]
            (looked,) = context.resolve([layer], one.frames[some])
            left, top, right, bottom = painted_bounds(looked, context).T
            within = (right > 0) & (bottom > 0) & (left < scene.width) & (top < scene.height)
            flat = (looked.matrix[:, :4] == 0).all(axis=1)
            if (within & ~flat).any():
                return None
        frame = int(one.frames[there[0] if there.size else np.flatnonzero(one.visible)[0]])
        because = why(context, frame, context.one(layer, float(frame)))
        if because is None:
            return None
        reason = because.sentence.split(": ", 1)[-1]
        return Finding(
            check=self.name, layer=layer.id, frame=frame, figure=float(one.visible.sum()),
            sentence=f"'{layer.name}' never shows, at no frame at which it is there; at the first of them: {reason}",
            lines=(box_at(one, int(np.flatnonzero(one.frames == frame)[0])),),
        )  # fmt: skip
