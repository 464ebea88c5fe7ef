"""A picture enlarged beyond its own pixels."""

from __future__ import annotations

from typing import ClassVar

import numpy as np

from ..resolved_layer import ResolvedLayer
from ..scene import Scene
from ..time import timecode
from .base import Check, Finding, box_at, rescaled


class Sharpness(Check):
    """A picture enlarged beyond its own pixels: the largest enlargement, and the first frame beyond 100 %."""

    name: ClassVar[str] = "sharpness"

    def find(self, scene: Scene, one: ResolvedLayer) -> Finding | None:
        if not one.layer.content.pictures:
            return None
        matrix = np.broadcast_to(one.matrix, (len(one.frames), 6))
        sizes = np.maximum(np.hypot(matrix[:, 0], matrix[:, 1]), np.hypot(matrix[:, 2], matrix[:, 3]))
        soft = np.flatnonzero((sizes > 1.0001) & one.visible)
        if not soft.size:
            return None
        most, first = float(sizes[one.visible].max()), int(soft[0])
        return Finding(
            check=self.name, layer=one.layer.id, frame=first, figure=most, edits=rescaled(one, 1 / most, first),
            sentence=f"'{one.layer.name}' is enlarged to {most * 100:.0f} % of its pixels; it goes soft from "
            f"{timecode(first, scene.frame_rate)} on.", lines=(box_at(one, first),),
        )  # fmt: skip
