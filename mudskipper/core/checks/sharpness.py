"""A picture enlarged beyond its own pixels."""

from __future__ import annotations

from typing import ClassVar

import numpy as np

from ..document.scene import Scene
from ..edits import Edit
from ..edits.many_keys import EditValues
from ..edits.values_and_keys import KeyRef, SetProperty
from ..ground.time import timecode
from ..resolve.layers import ResolvedLayer
from .base import Check, Finding, box_at, rescaled

LEAST_ZOOM = 100.0
"""Percent: content that is made smaller than this behind its window may leave that bare."""


class Sharpness(Check):
    """A picture enlarged beyond its own pixels: the largest enlargement, and the first frame beyond 100 %."""

    name: ClassVar[str] = "sharpness"

    def find(self, scene: Scene, one: ResolvedLayer) -> Finding | None:
        if not one.layer.content.has_pixels:
            return None
        matrix = np.broadcast_to(one.content_matrix, (len(one.frames), 6))
        sizes = np.maximum(np.hypot(matrix[:, 0], matrix[:, 1]), np.hypot(matrix[:, 2], matrix[:, 3]))
        soft = np.flatnonzero((sizes > 1.0001) & one.visible)
        if not soft.size:
            return None
        most, first = float(sizes[one.visible].max()), int(soft[0])
        return Finding(
            check=self.name, layer=one.layer.id, frame=first, figure=most, edits=_smaller(one, 1 / most, first),
            sentence=f"'{one.layer.name}' is enlarged to {most * 100:.0f} % of its pixels; it goes soft from "
            f"{timecode(first, scene.frame_rate)} on.", lines=(box_at(one, first),),
        )  # fmt: skip


def _smaller(one: ResolvedLayer, factor: float, frame: int) -> tuple[Edit, ...]:
    """The content made smaller behind its window where that enlarges it, else the whole layer."""
    framing, layer = one.layer.framing, one.layer
    if framing is None or one.values["framing.zoom"].max() * factor < LEAST_ZOOM:
        return rescaled(one.layer, factor, frame)
    name = "framing.zoom"
    if framing.zoom.keys:
        keys = tuple(
            KeyRef(layer=layer.id, property=name, frame=key.frame + layer.span.start) for key in framing.zoom.keys
        )
        return (EditValues(keys=keys, way="multiply", value=factor),)
    return (SetProperty(layer=layer.id, property=name, value=framing.zoom.rest * factor, frame=float(frame)),)
