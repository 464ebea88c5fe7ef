"""A ground that covers the scene at most frames but not at all."""

from __future__ import annotations

from typing import ClassVar

import numpy as np

from ..coverage import shortfall
from ..geometry import bounds, corners
from ..resolve import ResolvedLayer
from ..scene import Scene
from ..time import timecode
from .base import Check, Finding, rescaled

COVERS_AT_REST = 0.98


class Coverage(Check):
    """A ground that covers the scene at most frames but not at all: the first bare frame, and the scale that mends it.

    A layer counts as a ground when it covers at its largest, or holds at least 98 % of the scene's width and height."""

    name: ClassVar[str] = "coverage"

    def find(self, scene: Scene, one: ResolvedLayer) -> Finding | None:
        size = (scene.width, scene.height)
        if not one.layer.content.can_cover:
            return None
        count = len(one.frames)
        grow = shortfall(corners(one), np.broadcast_to(one.values["position"], (count, 2)), size)
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
        told = f"'{name}' does not cover the scene at {timecode(bare, scene.frame_rate)}"
        if not np.isfinite(need):
            sentence = f"{told}; its anchor lies at or beyond the bare edge, so no scale alone mends it."
            return Finding(check=self.name, layer=one.layer.id, frame=bare, figure=0.0, sentence=sentence)
        factor = np.ceil(need * 10_000) / 10_000
        sentence = f"{told}; scaled by {factor * 100:.2f} % it covers at every frame."
        return Finding(
            check=self.name, layer=one.layer.id, frame=bare, figure=float(factor), sentence=sentence,
            edits=rescaled(one, float(factor), bare),
        )  # fmt: skip
