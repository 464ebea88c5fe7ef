"""Two parts of one shot that nearly meet at the cut between them."""

from __future__ import annotations

from typing import ClassVar

import numpy as np

from ..document.scene import Layer, Scene
from ..ground.time import timecode
from ..resolve.context import Context
from ..resolve.corners import content_corners, corners
from .base import Check, Finding, points, rescaled
from .split_shots import parts_of_one_shot

MEETS = 0.5
"""Pixels within which two parts meet."""
NEARLY = 0.08
"""Of the scene's diagonal: parts that are further apart were meant to differ, as where a shot is cut closer."""


class CutStep(Check):
    """A layer that goes on a little beside where the part of its shot before it ends, as a mend of one part leaves it.
    Where only their sizes differ the smaller one is brought to the larger."""

    name: ClassVar[str] = "cut step"

    def over(self, scene: Scene, context: Context) -> list[Finding]:
        ending: dict[int, list[Layer]] = {}
        for layer in scene.layers:
            if layer.visible and layer.content.shows:
                ending.setdefault(layer.span.end, []).append(layer)
        found = []
        for layer in scene.layers:
            others = ending.get(layer.span.start, []) if 0 < layer.span.start < scene.length and layer.visible else []
            before = next((one for one in others if one is not layer and parts_of_one_shot(one, layer)), None)
            if before is not None and (step := self._step(scene, before, layer, context)) is not None:
                found.append(step)
        return found

    def _step(self, scene: Scene, before: Layer, layer: Layer, context: Context) -> Finding | None:
        cut = layer.span.start
        ends, begins = _at(before, cut, context), _at(layer, cut, context)
        apart = float(np.hypot(*(begins - ends).T).max())
        if not MEETS < apart < NEARLY * np.hypot(scene.width, scene.height):
            return None
        sizes = [float(np.hypot(*(four[2] - four[0]))) for four in (ends, begins)]
        smaller = (before, layer)[int(np.argmin(sizes))]
        factor = max(sizes) / min(sizes) if min(sizes) > 0 else 1.0
        return Finding(
            check=self.name, layer=layer.id, frame=cut, figure=apart,
            sentence=f"'{layer.name}' steps by {apart:.1f} px at {timecode(cut, scene.frame_rate)}, where "
            f"'{before.name}' was cut off it.",
            edits=rescaled(smaller, factor, cut) if abs(factor - 1) > 1e-6 and not smaller.locked else (),
            lines=tuple(points(np.concatenate([four, four[:1]])) for four in (ends, begins)),
        )  # fmt: skip


def _at(layer: Layer, cut: int, context: Context) -> np.ndarray:
    """The corners (4, 2) that a layer has, or would have, at a frame."""
    one = context.one(layer, float(cut))
    return np.asarray((corners(one) if one.framed is None else content_corners(one))[0])
