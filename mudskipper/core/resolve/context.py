"""What answers for any value of a scene: layers resolved after those that they read."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import replace
from graphlib import CycleError, TopologicalSorter
from typing import Any

import numpy as np

from ..contents.assets import Assets, ClipInfo, PictureInfo
from ..contents.base import UnitOf
from ..contents.filled import Filled
from ..document.nesting import MOST_NESTED, in_a_circle
from ..document.scene import Layer, Scene
from ..geometry.bezier import Floats
from ..ground.errors import Refused
from ..slots.filling import filled
from ..tracks.base import Track
from ..tracks.evaluate import evaluate
from .cache import Read
from .formulas.evaluation import Formulas
from .inner_scene import InnerScene
from .layers import ResolvedLayer, in_span, placed

MISSING = "Missing scene"
Key = tuple[tuple[str, object], ...]
"""Slots and what fills them."""


class Context:
    """A scene's answers for any layer at any frames. One belongs to a scene as it stands, and to one thread.

    A layer that reads others is resolved after them; which it may read stands in its `needs`. Scenes that lie in it
    are read once, so that all of it is of one moment, also while others are changed.
    """

    def __init__(
        self,
        scene: Scene,
        assets: Assets,
        memo: TrackMemo | None = None,
        above: tuple[Context, ...] = (),
        opened: float | None = None,
    ) -> None:
        self.scene = scene
        self.assets = assets
        self._memo = memo
        self._above = above
        self._opened = opened
        """The frame for which a shutter is open, where layers are looked at while it is."""
        self._read: dict[tuple[str, bytes], ResolvedLayer] = {}
        self._scenes: dict[tuple[str, Key], Context] = above[0]._scenes if above else {}
        self._inner: dict[tuple[str, Key, bytes, float | None], InnerScene] = above[0]._inner if above else {}
        self.formulas = Formulas(self)
        self._around: Context | None = None

    def shown_by(self, layer: Layer) -> Context | None:
        """What answers for the scene that a layer shows; None where it shows none."""
        content = layer.content
        return self.within(content.scenes[0], content.filled) if content.scenes else None

    def within(self, scene_id: str, fills: tuple[Filled, ...] = ()) -> Context:
        """What answers for a scene that lies in this one, its slots filled; Refused in words where it lies too deep, or
        in itself."""
        line = (*self._above, self)
        names = [one.scene.name for one in line]
        for place, one in enumerate(line):
            if one.scene.id == scene_id:
                raise Refused(f"{in_a_circle(names[place:])}.", mend="Delete the layer that shows one of them.")
        if len(line) > MOST_NESTED:
            raise Refused(
                f"Scenes lie in each other at most {MOST_NESTED} deep, and '{names[-1]}' lies deeper.",
                mend="Take one of the scenes apart.",
            )
        key = scene_id, tuple((one.slot, one.value) for one in fills)
        kept = self._scenes.get(key)
        if kept is None or len(kept._above) < len(line):
            scene = self.assets.scenes.get(scene_id) if kept is None else kept.scene
            if fills and kept is None and scene is not None:
                scene = filled(scene, fills, self.assets)
            # A scene that is gone shows nothing; all that lies around it goes on.
            scene = scene or self.scene.model_copy(
                update={"id": scene_id, "name": MISSING, "layers": (), "beats": (), "length": 1}
            )
            kept = self._scenes[key] = Context(scene, self.assets, above=line)
        return kept

    def inner(
        self, scene_id: str, frames: Floats, opened: float | None = None, fills: tuple[Filled, ...] = ()
    ) -> InnerScene:
        """What a scene that lies in this one, its slots filled, shows at its own frames (n,), or at moments of that one
        frame of it for which a shutter is open."""
        key = scene_id, tuple((one.slot, one.value) for one in fills), frames.tobytes(), opened
        if key not in self._inner:
            context = self.within(scene_id, fills)
            if opened is None:
                layers = context.resolve(context.scene.layers, frames)
            else:
                context = Context(context.scene, self.assets, above=context._above, opened=opened)
                there = [one for one in context.scene.layers if one.span.start <= opened < one.span.end]
                layers = [context.while_open(one, frames) for one in there]
            self._inner[key] = InnerScene(layers, context)
        return self._inner[key]

    def while_open(self, layer: Layer, moments: Floats) -> ResolvedLayer:
        """A layer at moments (n,) of the frame for which a shutter is open: those outside of its span are taken as its
        ends, and it is there at all of them. One that is not blurred is as it is at that frame."""
        if not layer.motion_blur:
            assert self._opened is not None
            plain = Context(self.scene, self.assets, above=self._above)
            return plain.one(layer, self._opened)
        within = np.clip(moments, layer.span.start, layer.span.end - 1e-3)
        (one,) = self.resolve([layer], within)
        return replace(one, visible=np.full(len(within), layer.visible))

    def opened(self, layer: Layer) -> tuple[ResolvedLayer, LayerContext] | None:
        """A layer, and what it may ask for, at the frame for which a shutter is open; None where none is."""
        if self._opened is None:
            return None
        plain = Context(self.scene, self.assets, above=self._above)
        return plain.one(layer, self._opened), plain.around(layer, np.array([self._opened]))

    def resolve(self, layers: Sequence[Layer], frames: Any) -> list[ResolvedLayer]:
        """Layers at scene frames, any array-like of numbers; all their tracks are eased in one batch.

        They need not be those of the scene: an edit tries what a layer would be. What they read is the scene's.
        """
        at = np.asarray(frames, dtype=np.float64).reshape(-1)
        self.formulas.foresee((layer for layer in layers if layer.formulas), at)
        if not any(layer.needs for layer in layers):
            return self._placed(layers, at, {})
        window = at.tobytes()
        own = {layer.id: layer for layer in layers if self.is_own(layer)}
        tried = [layer for layer in layers if not self.is_own(layer)]
        read = {name for layer in tried for name in layer.needs if name in self.scene.places}
        found: dict[str, ResolvedLayer] = {}
        for wave in waves(own | {name: self.scene.layer(name) for name in read}, self.scene):
            known = {name: self._read[name, window] for name in wave if (name, window) in self._read}
            fresh = [self.scene.layer(name) for name in wave if name not in known]
            for one in self._placed(fresh, at, found):
                known[one.layer.id] = self._read[one.layer.id, window] = one
            found |= known
        others = iter(self._placed(tried, at, found))
        return [found[layer.id] if self.is_own(layer) else next(others) for layer in layers]

    def is_own(self, layer: Layer) -> bool:
        """Whether a layer is one of the scene as it stands."""
        place = self.scene.places.get(layer.id)
        return place is not None and self.scene.layers[place] is layer

    @property
    def around_items(self) -> tuple[Context, str] | None:
        """Of the inner scene of a layer's items: what answers for the scene around them, and the address of what they
        lie in; their formulas read that scene."""
        if self.scene.lies_in is None:
            return None
        outer, parent = self.scene.lies_in
        if self._around is None:
            self._around = Context(outer, self.assets)
        return self._around, parent

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

    def _placed(
        self, layers: Sequence[Layer], frames: Floats, known: Mapping[str, ResolvedLayer]
    ) -> list[ResolvedLayer]:
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
        bases = [{path: found[path] for path in layer.formulas} for layer, found in zip(layers, each, strict=True)]
        for layer, found in zip(layers, each, strict=True):
            for path in layer.formulas:
                found[path] = self.formulas.value(layer, path, frames, found[path])
        carriers = [known[name].matrix if (name := layer.carrier) and name in known else None for layer in layers]
        resolved = placed(layers, frames, each, [self.around(layer, frames) for layer in layers], carriers)
        return [self._told(one, base) if base else one for one, base in zip(resolved, bases, strict=True)]

    def _told(self, one: ResolvedLayer, bases: dict[str, Floats]) -> ResolvedLayer:
        """A layer with what is wrong with its formulas, and what its properties are without them."""
        known = self.formulas.problems
        wrong = {path: known[one.layer.id, path] for path in one.layer.formulas if (one.layer.id, path) in known}
        return replace(one, problems=wrong, bases=bases)


class LayerContext:
    """What a layer's content may ask for beyond its own values."""

    def __init__(self, context: Context, layer: Layer, frames: Floats) -> None:
        self.frames = frames
        self.local = frames - layer.span.start
        self.there = in_span(layer, frames)
        self.fps = context.scene.fps
        self.size = context.scene.width, context.scene.height
        self.fonts = context.assets.fonts
        self.kept: dict[str, tuple[object, ...]] = {}
        self._context = context
        self._layer = layer

    def picture(self, picture_id: str) -> PictureInfo:
        """A picture of the project; Refused in words where it is gone."""
        return self._context.assets.picture(picture_id)

    def clip(self, clip_id: str) -> ClipInfo:
        """A clip of the project; Refused in words where it is gone."""
        return self._context.assets.clip(clip_id)

    def scene(self, scene_id: str, fills: tuple[Filled, ...] = ()) -> Scene:
        """A scene of the project, its slots filled; an empty one where it is gone."""
        return self._context.within(scene_id, fills).scene

    def inner(
        self, scene_id: str, frames: Floats, opened: float | None = None, fills: tuple[Filled, ...] = ()
    ) -> InnerScene:
        """What another scene, its slots filled, shows at its own frames (n,), or at moments of one of them; Refused in
        words where scenes lie in each other in a circle."""
        return self._context.inner(scene_id, frames, opened, fills)

    @property
    def opened(self) -> tuple[Mapping[str, Floats], LayerContext] | None:
        """The content's values and what it may ask for at the frame for which a shutter is open."""
        found = self._context.opened(self._layer)
        return None if found is None else (found[0].inner, found[1])

    def outline(self, layer_id: str) -> tuple[str, Floats] | None:
        """The outline of another layer that is a single shape, at the same frames; None where it is gone, or none."""
        if layer_id not in self._layer.needs:
            raise LookupError(f"{self._layer.id} reads {layer_id}, which is not among its needs")
        found = self._context.layer(layer_id, self.frames)
        return None if found is None else found.layer.content.outline(found.inner)

    def of_units(self, path: str, units: Sequence[UnitOf]) -> Floats | None:
        """A value of a cascade for each of its units, by the path that it has in the content."""
        return self._context.formulas.of_units(self._layer, f"content.{path}", self.frames, units)

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


def reads(layers: Iterable[Layer], scene: Scene, assets: Assets) -> dict[str, Read]:
    """Of each of some layers of a scene: the layer itself, and then every layer and scene that it reads, of itself or
    by way of others. All are found in one pass."""
    wanted = {layer.id: layer for layer in layers}
    alone: dict[str, Read] = {name: _self(layer, assets) for name, layer in wanted.items() if _alone(layer)}
    rest = {name: layer for name, layer in wanted.items() if not _alone(layer)}
    if not rest:
        return alone
    found: dict[str, dict[str, Any]] = {}
    for wave in waves(rest, scene):
        for name in wave:
            layer = scene.layer(name)
            found[name] = {name: layer, **scenes_in(layer.content.scenes, assets)}
            if assets.fonts.own:
                # Also what lies in other scenes is set in them.
                found[name][""] = assets.fonts
            if layer.formulas and layer.looks_around:
                found[name] |= {scene.id: scene, **scenes_in(scene.scenes, assets)}
            for other in layer.needs:
                found[name] |= found.get(other, {})
    return alone | {name: tuple(found[name].values()) for name in rest}


def _self(layer: Layer, assets: Assets) -> Read:
    """A layer that reads nothing but the fonts of its words."""
    return (layer, assets.fonts) if layer.content.words is not None and assets.fonts.own else (layer,)


def _alone(layer: Layer) -> bool:
    return not layer.needs and not layer.content.scenes and not (layer.formulas and layer.looks_around)


def scenes_in(ids: Iterable[str], assets: Assets) -> dict[str, Layer | Scene]:
    """Scenes by their ids, and every scene that lies in one of them; of those that there are."""
    found: dict[str, Layer | Scene] = {}
    open_ids = list(ids)
    while open_ids:
        name = open_ids.pop()
        scene = assets.scenes.get(name) if name not in found else None
        if scene is not None:
            found[name] = scene
            open_ids += scene.scenes
    return found


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
