"""What answers for any value of a scene: layers resolved after those that they read."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from graphlib import CycleError, TopologicalSorter
from typing import Any

import numpy as np

from .assets import Assets, ClipInfo, PictureInfo
from .bezier import Floats
from .errors import Refused
from .resolved_layer import ResolvedLayer, placed
from .scene import Layer, Scene
from .tracks import Track, evaluate


class Context:
    """A scene's answers for any layer at any frames. One belongs to a scene as it stands, and to one thread.

    A layer that reads others is resolved after them; which it may read stands in its `needs`.
    """

    def __init__(self, scene: Scene, assets: Assets, memo: TrackMemo | None = None) -> None:
        self.scene = scene
        self.assets = assets
        self._memo = memo
        self._read: dict[tuple[str, bytes], ResolvedLayer] = {}

    def resolve(self, layers: Sequence[Layer], frames: Any) -> list[ResolvedLayer]:
        """Layers at scene frames, any array-like of numbers; all their tracks are eased in one batch.

        They need not be those of the scene: an edit tries what a layer would be. What they read is the scene's.
        """
        at = np.asarray(frames, dtype=np.float64).reshape(-1)
        if not any(layer.needs for layer in layers):
            return self._placed(layers, at)
        window = at.tobytes()
        here = {layer.id: layer for layer in layers}
        found: dict[str, ResolvedLayer] = {}
        for wave in waves(here, self.scene):
            for one in self._placed([here.get(name) or self.scene.layer(name) for name in wave], at):
                found[one.layer.id] = one
                place = self.scene.places.get(one.layer.id)
                if place is not None and self.scene.layers[place] is one.layer:
                    self._read[one.layer.id, window] = one
        return [found[layer.id] for layer in layers]

    def one(self, layer: Layer, frame: float) -> ResolvedLayer:
        """A layer at a single scene frame."""
        return self.resolve([layer], [frame])[0]

    def value(self, layer_id: str, path: str, frames: Floats) -> Floats | None:
        """A property of a layer of the scene at scene frames (n,): (1 | n, d), or None where that layer, or a property
        of that path, is gone."""
        found = self.layer(layer_id, frames)
        return None if found is None else found.values.get(path)

    def layer(self, layer_id: str, frames: Floats) -> ResolvedLayer | None:
        """A layer of the scene at scene frames (n,), or None where it is gone."""
        if layer_id not in self.scene.places:
            return None
        key = layer_id, frames.tobytes()
        if key not in self._read:
            self._read[key] = self.resolve([self.scene.layer(layer_id)], frames)[0]
        return self._read[key]

    def around(self, layer: Layer, frames: Floats) -> LayerContext:
        """What a layer's content may ask for at the frames at which it is resolved."""
        return LayerContext(self, layer, frames)

    def _placed(self, layers: Sequence[Layer], frames: Floats) -> list[ResolvedLayer]:
        tracks: list[Track] = []
        times: list[Floats] = []
        names: list[list[str]] = []
        for layer in layers:
            local = frames - layer.span.start
            mine = layer.tracks
            names.append(list(mine))
            tracks.extend(mine.values())
            times.extend([local] * len(mine))
        values = iter((self._memo.evaluate if self._memo else evaluate)(tracks, times, self.scene.fps))
        each = [{name: next(values) for name in mine} for mine in names]
        return placed(layers, frames, each, [self.around(layer, frames) for layer in layers])


class LayerContext:
    """What a layer's content may ask for beyond its own values."""

    def __init__(self, context: Context, layer: Layer, frames: Floats) -> None:
        self.frames = frames
        self.local = frames - layer.span.start
        self.fps = context.scene.fps
        self._context = context
        self._layer = layer

    def picture(self, picture_id: str) -> PictureInfo:
        """A picture of the project; Refused in words where it is gone."""
        return self._context.assets.picture(picture_id)

    def clip(self, clip_id: str) -> ClipInfo:
        """A clip of the project; Refused in words where it is gone."""
        return self._context.assets.clip(clip_id)

    def value(self, layer_id: str, path: str) -> Floats | None:
        """A property of another layer at the same frames; None where it is gone. `needs` must name that layer."""
        if layer_id not in self._layer.needs:
            raise LookupError(f"{self._layer.id} reads {layer_id}, which is not among its needs")
        return self._context.value(layer_id, path, self.frames)


def waves(layers: Mapping[str, Layer], scene: Scene) -> Iterator[tuple[str, ...]]:
    """The ids of layers and of all that they read, in groups: nothing in a group reads another of it or of a later one.

    Refused in words where layers read each other in a circle.
    """
    graph: dict[str, set[str]] = {}
    open_ids = list(layers)
    while open_ids:
        name = open_ids.pop()
        if name not in graph:
            layer = layers.get(name) or scene.layer(name)
            graph[name] = {other for other in layer.needs if other in scene.places}
            open_ids += graph[name]
    order = TopologicalSorter(graph)
    try:
        order.prepare()
    except CycleError as error:
        names = [(layers.get(name) or scene.layer(name)).name for name in error.args[1]]
        raise Refused(
            f"These layers would read each other in a circle: {' needs '.join(repr(name) for name in names[::-1])}.",
            mend="Let one of them stand on its own.",
        ) from None
    while order.is_active():
        ready = order.get_ready()
        yield ready
        order.done(*ready)


def reads(layers: Iterable[Layer], scene: Scene) -> dict[str, tuple[Layer, ...]]:
    """Of each of some layers of a scene: the layer itself, and then every one that it reads, of itself or by way of
    others. All are found in one pass."""
    wanted = {layer.id: layer for layer in layers}
    alone: dict[str, tuple[Layer, ...]] = {name: (layer,) for name, layer in wanted.items() if not layer.needs}
    rest = {name: layer for name, layer in wanted.items() if layer.needs}
    if not rest:
        return alone
    found: dict[str, dict[str, Layer]] = {}
    for wave in waves(rest, scene):
        for name in wave:
            layer = scene.layer(name)
            found[name] = {name: layer}
            for other in layer.needs:
                found[name] |= found.get(other, {})
    return alone | {name: tuple(found[name].values()) for name in rest}


def refuse_circles(scene: Scene) -> None:
    """Refuse a scene in which layers read each other in a circle, in words."""
    for _ in waves({layer.id: layer for layer in scene.layers}, scene):
        pass


class TrackMemo:
    """Values of tracks from the last call: while a hand changes one track of a layer, the others are not evaluated.

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
