"""What is told of a layer along the ruler: where it does not cover the scene, and how fast it goes."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..document.scene import Layer
from ..geometry.bezier import Floats
from ..resolve.context import Context
from .coverage import can_cover, shortfall_of

AT_ONCE = 4_096
"""Frames that are resolved at once."""
MOST = 2_000
"""Speeds that are told; of a longer scene each is the fastest of as many frames as it takes."""


@dataclass(frozen=True)
class Strips:
    """Of a layer over the whole scene."""

    bare: list[tuple[int, int]] | None
    """Runs of frames, first and last, at which it is there and does not cover; None where it cannot cover, as a layer
    that is masked cannot."""
    step: int
    """How many frames each speed is of."""
    speeds: list[float]
    """How far its anchor goes from frame to frame, in scene pixels a second."""


def strips(layer: Layer, context: Context) -> Strips:
    """Where a layer does not cover its scene, and how fast its anchor goes, frame by frame."""
    scene = context.scene
    step = max(-(-scene.length // MOST), 1)
    bare: list[NDArray[np.bool_]] = []
    fast: list[Floats] = []
    able = True
    for first in range(0, scene.length, AT_ONCE):
        # With the frame before, from which the first way is measured.
        frames = np.arange(first - 1, min(first + AT_ONCE, scene.length), dtype=np.float64)
        (one,) = context.resolve([layer], frames)
        able = able and can_cover(one)
        if able:
            bare.append((one.visible & (shortfall_of(scene, one) > 1))[1:])
        steps = np.diff(np.broadcast_to(one.place, (len(frames), 2)), axis=0)
        # What comes in at a cut does not go there.
        goes = one.visible[1:] & one.visible[:-1]
        fast.append(np.where(goes, np.hypot(steps[:, 0], steps[:, 1]), 0.0) * scene.fps)
    speeds = np.concatenate(fast)
    padded = np.concatenate([speeds, np.zeros(-len(speeds) % step)]).reshape(-1, step).max(axis=1)
    return Strips(_runs(np.concatenate(bare)) if able else None, step, padded.round(3).tolist())


def _runs(marked: NDArray[np.bool_]) -> list[tuple[int, int]]:
    """The first and last places of each run of what is marked (n,)."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], marked, [False]]).astype(np.int8)))
    return [(int(first), int(after) - 1) for first, after in edges.reshape(-1, 2)]
