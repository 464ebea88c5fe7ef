"""(scene, frames, assets) → arrays for each layer, for all frames at once."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..contents.assets import Assets
from ..document.scene import Scene
from ..geometry.bezier import Floats
from .cache import LayerCache
from .context import Context, TrackMemo, reads
from .layers import ResolvedLayer


@dataclass(frozen=True)
class Resolved:
    """Layers of a scene at `frames` (n,), back to front; `context` is what they were resolved in."""

    scene: Scene
    frames: Floats
    layers: dict[str, ResolvedLayer]
    context: Context


def resolve(
    scene: Scene,
    frames: Any,
    assets: Assets,
    cache: LayerCache[ResolvedLayer] | None = None,
    *,
    ids: Iterable[str] | None = None,
    memo: TrackMemo | None = None,
) -> Resolved:
    """Resolve layers, those named or all, at the given scene frames, any array-like of numbers."""
    at = np.asarray(frames, dtype=np.float64).reshape(-1)
    context = Context(scene, assets, memo)
    wanted = scene.layers if ids is None else tuple(scene.layer(name) for name in ids)
    if cache is None:
        return Resolved(scene, at, {one.layer.id: one for one in context.resolve(wanted, at)}, context)
    facts = window_facts(at, scene)
    read = reads(wanted, scene, assets)
    found: dict[str, ResolvedLayer] = {}
    missing = []
    for layer in wanted:
        kept = cache.get(read[layer.id], facts)
        if kept is None:
            missing.append(layer)
        else:
            found[layer.id] = kept
    for one in context.resolve(missing, at):
        found[one.layer.id] = one
        cache.put(read[one.layer.id], facts, one)
    cache.keep_only(set(scene.places))
    return Resolved(scene, at, {layer.id: found[layer.id] for layer in wanted}, context)


def window_facts(frames: Floats, scene: Scene) -> tuple[bytes, tuple[int, int]]:
    """What the arrays of a layer depend on besides what it reads: the frames (n,), and their rate."""
    return frames.tobytes(), scene.frame_rate


ResolveCache = LayerCache[ResolvedLayer]
"""Keeps the arrays of layers; one a scene and window."""


def as_document(resolved: Resolved) -> dict[str, Any]:
    """The arrays as plain lists, one entry a frame: what `mudskipper resolve` writes."""
    count = len(resolved.frames)

    def rows(array: Floats, width: int) -> Any:
        return np.broadcast_to(array, (count, width)).tolist()

    return {
        "frames": [int(frame) if frame == int(frame) else float(frame) for frame in resolved.frames],
        "layers": {
            name: {
                "matrix": rows(layer.matrix, 6),
                "opacity": [row[0] for row in rows(layer.opacity, 1)],
                "visible": layer.visible.tolist(),
                "box": rows(layer.box, 4),
            }
            for name, layer in resolved.layers.items()
        },
    }
