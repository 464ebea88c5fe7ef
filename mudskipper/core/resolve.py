"""(scene, frames, assets) → arrays for each layer, for all frames at once."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .assets import Assets
from .bezier import Floats
from .scene import Layer, Scene
from .tracks import Track, evaluate
from .transform import matrices


@dataclass(frozen=True)
class ResolvedLayer:
    """A layer at n frames. Arrays are (n, d), or (1, d) where nothing changes; `visible` is (n,).

    `values` holds every track's value by its path, in the track's own unit; `anchor` is in content pixels and
    `fraction` in fractions of the box; `matrix` (CSS order) takes content pixels to scene pixels; `opacity` is 0…1.
    """

    layer: Layer
    frames: Floats
    visible: NDArray[np.bool_]
    values: dict[str, Floats]
    box: Floats
    anchor: Floats
    fraction: Floats
    matrix: Floats
    opacity: Floats

    @property
    def inner(self) -> dict[str, Floats]:
        """The values of the content's own tracks, by the path that they have in it."""
        return content_values(self.values)


@dataclass(frozen=True)
class Resolved:
    """All layers of a scene at `frames` (n,), back to front."""

    scene: Scene
    frames: Floats
    layers: dict[str, ResolvedLayer]


class ResolveCache:
    """Keeps what was resolved for layers that did not change; one object a scene and window."""

    def __init__(self) -> None:
        self._kept: dict[str, tuple[Layer, bytes, ResolvedLayer]] = {}

    def get(self, layer: Layer, window: bytes) -> ResolvedLayer | None:
        """What this very layer object gave for this window."""
        kept = self._kept.get(layer.id)
        return kept[2] if kept and kept[0] is layer and kept[1] == window else None

    def put(self, layer: Layer, window: bytes, resolved: ResolvedLayer) -> None:
        """Keep a layer's arrays."""
        self._kept[layer.id] = (layer, window, resolved)

    def keep_only(self, ids: set[str]) -> None:
        """Forget layers that are gone."""
        for gone in set(self._kept) - ids:
            del self._kept[gone]


def resolve(scene: Scene, frames: Any, assets: Assets, cache: ResolveCache | None = None) -> Resolved:
    """Resolve every layer at the given scene frames, any array-like of numbers."""
    at = np.asarray(frames, dtype=np.float64).reshape(-1)
    window = at.tobytes()
    found: dict[str, ResolvedLayer] = {}
    missing = []
    for layer in scene.layers:
        kept = cache.get(layer, window) if cache else None
        if kept is None:
            missing.append(layer)
        else:
            found[layer.id] = kept
    for layer, resolved in zip(missing, resolve_layers(missing, at, assets, scene.fps), strict=True):
        found[layer.id] = resolved
        if cache:
            cache.put(layer, window, resolved)
    if cache:
        cache.keep_only(set(scene.places))
    return Resolved(scene, at, {layer.id: found[layer.id] for layer in scene.layers})


class TrackMemo:
    """What tracks gave when they were last asked for: while a hand changes one track of a layer, the others rest.

    Tracks are frozen, so that one which is the same object has the same values.
    """

    def __init__(self) -> None:
        self._kept: dict[tuple[int, bytes, float], tuple[Track, Floats]] = {}

    def evaluate(self, tracks: list[Track], times: list[Floats], rate: float) -> list[Floats]:
        """As `tracks.evaluate`; nobody may write into what it gives."""
        keys = [(id(track), at.tobytes(), rate) for track, at in zip(tracks, times, strict=True)]
        new = [n for n, key in enumerate(keys) if key not in self._kept]
        found = iter(evaluate([tracks[n] for n in new], [times[n] for n in new], rate))
        fresh = {keys[n]: (tracks[n], next(found)) for n in new}
        self._kept = {key: fresh.get(key) or self._kept[key] for key in keys}
        return [self._kept[key][1] for key in keys]


def resolve_layers(
    layers: list[Layer], frames: Floats, assets: Assets, rate: float, memo: TrackMemo | None = None
) -> list[ResolvedLayer]:
    """Resolve some layers at scene frames (n,), `rate` a second; all their tracks are eased in one batch."""
    tracks: list[Track] = []
    times: list[Floats] = []
    names: list[list[str]] = []
    for layer in layers:
        local = frames - layer.span.start
        mine = layer.tracks
        names.append(list(mine))
        tracks.extend(mine.values())
        times.extend([local] * len(mine))
    values = iter((memo.evaluate if memo else evaluate)(tracks, times, rate))
    placed = [
        _place(layer, {name: next(values) for name in mine}, assets) for layer, mine in zip(layers, names, strict=True)
    ]
    return [
        ResolvedLayer(
            layer=layer, frames=frames, visible=_inside(layer, frames), values=one.values, box=one.box,
            anchor=one.anchor, fraction=one.fraction, matrix=matrix, opacity=one.values["opacity"] / 100.0,
        )
        for layer, one, matrix in zip(layers, placed, _all_matrices(placed), strict=True)
    ]  # fmt: skip


def _inside(layer: Layer, frames: Floats) -> NDArray[np.bool_]:
    """The frames at which the layer is there and not hidden."""
    inside = (frames >= layer.span.start) & (frames < layer.span.end)
    return np.asarray(inside & layer.visible)


def _all_matrices(placed: list[_Placed]) -> list[Floats]:
    """The matrices of all layers, worked out at once."""
    if not placed:
        return []
    sizes = [max(map(len, one.operands)) for one in placed]
    columns = [
        np.concatenate([
            np.broadcast_to(one.operands[i], (size, one.operands[i].shape[1]))
            for one, size in zip(placed, sizes, strict=True)
        ])
        for i in range(4)
    ]  # fmt: skip
    whole = matrices(columns[0], columns[1], columns[2], columns[3][:, 0])
    return np.split(whole, np.cumsum(sizes)[:-1])


def content_values(values: Mapping[str, Floats]) -> dict[str, Floats]:
    """The values of a content's own tracks, by the path that they have in it."""
    return {name.removeprefix("content."): array for name, array in values.items() if name.startswith("content.")}


@dataclass(frozen=True)
class _Placed:
    """A layer before its matrix; `operands` are anchor (px), position, scale and rotation."""

    values: dict[str, Floats]
    box: Floats
    anchor: Floats
    fraction: Floats
    operands: tuple[Floats, Floats, Floats, Floats]


def _place(layer: Layer, values: dict[str, Floats], assets: Assets) -> _Placed:
    """Bring values within their bounds, and find box and anchor."""
    for name, (low, high) in layer.limits.items():
        values[name] = np.minimum(np.maximum(values[name], low), high)
    if "position" not in values:
        parts = np.broadcast_arrays(values["position.x"], values["position.y"])
        values["position"] = np.concatenate(parts, axis=1)
    box = layer.content.box(content_values(values), assets)
    anchor, fraction = anchor_points(layer.anchor.pinned, values["anchor"], box)
    return _Placed(values, box, anchor, fraction, (anchor, values["position"], values["scale"], values["rotation"]))


def anchor_points(pinned: bool, value: Floats, box: Floats) -> tuple[Floats, Floats]:
    """An anchor track's value as content pixels and as fractions of the box; 0 where the box has no extent.

    >>> box = np.array([[-100.0, -50.0, 200.0, 100.0]])
    >>> anchor_points(True, np.array([[0.25, 1.0]]), box)[0].tolist()
    [[-50.0, 50.0]]
    """
    origin, size = box[:, :2], box[:, 2:]
    if pinned:
        return origin + value * size, value
    with np.errstate(divide="ignore", invalid="ignore"):
        fraction = (value - origin) / size
    return value, np.where(np.isfinite(fraction), fraction, 0.0)


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
