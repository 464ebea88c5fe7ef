"""Recipes: ready-made moves that land as ordinary keys.

Each is a model with its few numbers and a function that writes keys on one layer, `at` being the frame, counted from
the layer's start, at which the move begins.
"""

from __future__ import annotations

import math
from abc import abstractmethod
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from . import position as position_of
from .anchor import anchor_value, moment, point_of_scene, reanchored, station_point
from .assets import Assets
from .coverage import turning_scale
from .easing import Bezier, Bounce, BounceNumbers, Ease, Spring, SpringNumbers
from .errors import Refused
from .geometry import bounds_at, way_out
from .inserting import inserted
from .keys import straight, with_key
from .model import Model, Pair, Whole
from .properties import remade, track_of, with_track
from .resolve import resolve_layers
from .scene import Layer, Scene
from .tracks import SAME, PathTrack, key_at, value_at

Length = Annotated[Whole, Field(ge=1, le=100_000)]
Angle = Annotated[float, Field(strict=True, ge=-3600, le=3600)]
Percent = Annotated[float, Field(strict=True, ge=0, le=10_000)]
Station = Literal[
    "top left", "top", "top right", "left", "centre", "right", "bottom left", "bottom", "bottom right",
]  # fmt: skip
LANDING: Ease = Bezier(bezier=(0.1, 0.8, 0.3, 1.0))


class Recipe(Model):
    """A ready-made move."""

    @abstractmethod
    def write(self, layer: Layer, at: float, scene: Scene, assets: Assets) -> Layer:
        """The layer with the move's keys."""

    @property
    @abstractmethod
    def frames(self) -> int:
        """The move's length in frames."""


def _keys(layer: Layer, name: str, scene: Scene, *keys: tuple[float, Any, Ease]) -> Layer:
    """The layer with keys (frame, value, easing) written on a property; keys that lay between the ends go.

    An end at which the property keeps the value that it has leaves the motion beyond it as it is.
    """
    track = track_of(layer, name)
    low, high = keys[0][0], keys[-1][0]
    before = {frame: value_at(track, frame, scene.fps) for frame in (low, high)}
    same = {frame: _alike(value, before[frame]) for frame, value in ((low, keys[0][1]), (high, keys[-1][1]))}
    for frame in (low, high):
        if track.keys and same[frame]:
            track = inserted(track, name, frame, scene.fps)
    left = tuple(key for key in track.keys if not low + SAME < key.frame < high - SAME)
    track = remade(track, name, keys=left)
    for frame, value, ease in keys:
        there = key_at(track, frame)
        lands = frame == high and same[high] and there is not None
        track = with_key(track, name, frame, value, there.ease if lands else ease)
    if isinstance(track, PathTrack):
        track = straight(track, low, high)
    return with_track(layer, name, track)


def _alike(a: Any, b: Any) -> bool:
    return bool(np.allclose(np.atleast_1d(a), np.atleast_1d(b), rtol=0, atol=1e-9))


def _anchored(layer: Layer, at: float, window: tuple[float, float], scene: Scene, assets: Assets, place: Any) -> Layer:
    """The layer with its anchor at a station, or at a content point that `place` works out, at a moment; the picture is
    unmoved then, and at every frame outside the window in which the recipe writes its keys."""
    start = layer.span.start
    now = moment(layer, at + start, assets, scene.fps)
    point = station_point(now, place) if isinstance(place, str) else place(now)
    return reanchored(layer, at + start, point, (window[0] + start, window[1] + start), assets, scene.fps)


def _now(layer: Layer, name: str, at: float, scene: Scene) -> Any:
    return value_at(track_of(layer, name), at, scene.fps)


def _one_path(layer: Layer, scene: Scene) -> Layer:
    return position_of.join(layer, scene.fps) if "position" not in position_of.parts_of(layer) else layer


class GrowFromEdge(Recipe):
    """From nothing to its size, from an edge, a corner or the centre; an edge grows along its own axis alone."""

    recipe: Literal["grow from an edge"] = "grow from an edge"
    station: Station = "bottom"
    length: Length = 14
    ease: Ease = LANDING

    @property
    def frames(self) -> int:
        return self.length

    def write(self, layer: Layer, at: float, scene: Scene, assets: Assets) -> Layer:
        layer = _anchored(layer, at + self.length, (at, at + self.length), scene, assets, self.station)
        x, y = _now(layer, "scale", at + self.length, scene)
        flat = {"left": (0.0, y), "right": (0.0, y), "top": (x, 0.0), "bottom": (x, 0.0)}.get(self.station, (0.0, 0.0))
        return _keys(layer, "scale", scene, (at, flat, self.ease), (at + self.length, (x, y), "linear"))


class SwingIn(Recipe):
    """Turned in about a corner, swinging to rest."""

    recipe: Literal["swing in on a corner"] = "swing in on a corner"
    station: Station = "top left"
    angle: Angle = -90.0
    length: Length = 30
    damping: Annotated[float, Field(strict=True, ge=0.05, le=3)] = 0.35

    @property
    def frames(self) -> int:
        return self.length

    def write(self, layer: Layer, at: float, scene: Scene, assets: Assets) -> Layer:
        layer = _anchored(layer, at + self.length, (at, at + self.length), scene, assets, self.station)
        rest = _now(layer, "rotation", at + self.length, scene)
        ease = Spring(spring=SpringNumbers(response=0.4, damping=self.damping))
        return _keys(layer, "rotation", scene, (at, rest + self.angle, ease), (at + self.length, rest, "linear"))


class DropIn(Recipe):
    """From just outside the scene by a side, falling to its place and bouncing."""

    recipe: Literal["drop in"] = "drop in"
    side: Literal["left", "right", "top", "bottom"] = "top"
    length: Length = 24
    bounces: Annotated[Whole, Field(ge=0, le=12)] = 2

    @property
    def frames(self) -> int:
        return self.length

    def write(self, layer: Layer, at: float, scene: Scene, assets: Assets) -> Layer:
        layer = _one_path(layer, scene)
        end = at + self.length
        x, y = _now(layer, "position", end, scene)
        # What falls is the box as it is where the move starts, turned and scaled as it is then.
        landed = layer.model_copy(update={"position": PathTrack(rest=(x, y))})
        box = bounds_at(landed, at + layer.span.start, assets, scene.fps)
        dx, dy = way_out(box, self.side, (scene.width, scene.height))
        ease: Ease = Bounce(bounce=BounceNumbers(count=self.bounces, damping=0.65)) if self.bounces else "ease-in"
        return _keys(layer, "position", scene, (at, (x + dx, y + dy), ease), (end, (x, y), "linear"))


class SlideByAnchor(Recipe):
    """Slid past its place by moving the anchor from one station to another; position needs no keys."""

    recipe: Literal["slide through by anchor"] = "slide through by anchor"
    start: Station = "right"
    end: Station = "left"
    length: Length = 40
    ease: Ease = "ease-in-out"

    @property
    def frames(self) -> int:
        return self.length

    def write(self, layer: Layer, at: float, scene: Scene, assets: Assets) -> Layer:
        now = moment(layer, at + layer.span.start, assets, scene.fps)
        first, last = (anchor_value(now, station_point(now, station)) for station in (self.start, self.end))
        return _keys(layer, "anchor", scene, (at, first, self.ease), (at + self.length, last, "linear"))


class Orbit(Recipe):
    """Round a point of the scene, the scene's centre unless given, by an anchor that lies there."""

    recipe: Literal["orbit"] = "orbit"
    centre: Pair | None = None
    turns: Annotated[float, Field(strict=True, ge=-100, le=100)] = 1.0
    length: Length = 90
    ease: Ease = "linear"

    @property
    def frames(self) -> int:
        return self.length

    def write(self, layer: Layer, at: float, scene: Scene, assets: Assets) -> Layer:
        centre = np.array(self.centre or (scene.width / 2, scene.height / 2))
        end = at + self.length
        layer = _anchored(layer, at, (at, end), scene, assets, lambda now: point_of_scene(now, centre)[0])
        first, last = (_now(layer, "rotation", frame, scene) for frame in (at, end))
        layer = _keys(layer, "rotation", scene, (at, first, self.ease), (end, last, "linear"))
        # What comes later goes on from the turns that were made.
        track = layer.rotation
        keys = tuple(
            key.model_copy(update={"value": key.value + 360 * self.turns}) if key.frame >= end - SAME else key
            for key in track.keys
        )
        return with_track(layer, "rotation", remade(track, "rotation", keys=keys))


class PushIn(Recipe):
    """Enlarged about a point of its own, given as fractions of the box."""

    recipe: Literal["push in on a point"] = "push in on a point"
    point: tuple[Annotated[float, Field(strict=True)], Annotated[float, Field(strict=True)]] = (0.5, 0.5)
    zoom: Annotated[Percent, Field(gt=0)] = 140.0
    length: Length = 60
    ease: Ease = "ease-in-out"

    @property
    def frames(self) -> int:
        return self.length

    def write(self, layer: Layer, at: float, scene: Scene, assets: Assets) -> Layer:
        window = (at, at + self.length)
        layer = _anchored(
            layer, at, window, scene, assets, lambda now: now.box[:2] + np.array(self.point) * now.box[2:]
        )
        x, y = _now(layer, "scale", at, scene)
        grown = (x * self.zoom / 100, y * self.zoom / 100)
        return _keys(layer, "scale", scene, (at, (x, y), self.ease), (at + self.length, grown, "linear"))


class Impact(Recipe):
    """A blow on a cut: a small counter-turn, a strong turn with enlargement, a weaker rebound, rest."""

    recipe: Literal["impact"] = "impact"
    angle: Angle = 8.0
    enlarge: Percent = 12.0
    length: Annotated[Whole, Field(ge=4, le=1_000)] = 10

    @property
    def frames(self) -> int:
        return self.length

    def write(self, layer: Layer, at: float, scene: Scene, assets: Assets) -> Layer:
        moments = [at + round(self.length * share) for share in (0, 0.2, 0.5, 0.75, 1)]
        turns = (0.0, -0.25, 1.0, -0.4, 0.0)
        sizes = (0.0, -0.1, 1.0, 0.25, 0.0)
        eases: tuple[Ease, ...] = ("ease-in", "ease-out", "ease-in-out", "ease-out", "linear")
        rotation = [
            (t, _now(layer, "rotation", t, scene) + self.angle * k, e)
            for t, k, e in zip(moments, turns, eases, strict=True)
        ]
        scale = []
        for t, k, e in zip(moments, sizes, eases, strict=True):
            x, y = _now(layer, "scale", t, scene)
            factor = 1 + self.enlarge / 100 * k
            scale.append((t, (x * factor, y * factor), e))
        return _keys(_keys(layer, "rotation", scene, *rotation), "scale", scene, *scale)


class EndlessSpin(Recipe):
    """Turning for ever at a steady speed, large enough to cover the scene at every angle."""

    recipe: Literal["endless spin that always covers"] = "endless spin that always covers"
    speed: Annotated[float, Field(strict=True, ge=-3600, le=3600)] = 30.0

    @property
    def frames(self) -> int:
        return 1

    def write(self, layer: Layer, at: float, scene: Scene, assets: Assets) -> Layer:
        if self.speed == 0:
            raise Refused("An endless spin needs a speed other than 0 degrees a second.", where="speed")
        centre = (scene.width / 2, scene.height / 2)
        middle = anchor_value(
            now := moment(layer, at + layer.span.start, assets, scene.fps), station_point(now, "centre")
        )
        still = {"keys": (), "cadence": None}
        layer = layer.model_copy(update={"position": PathTrack(rest=centre)})
        layer = with_track(layer, "anchor", remade(layer.anchor, "anchor", rest=middle, **still))
        frames = np.arange(layer.span.start, layer.span.end, dtype=np.float64)
        (one,) = resolve_layers([layer], frames, assets, scene.fps)
        boxes = zip(*np.broadcast_arrays(one.box[:, :2], one.box[:, 2:], one.anchor), strict=True)
        size = (scene.width, scene.height)
        need = max(turning_scale(np.concatenate([at, wide]), held, np.array(centre), size) for at, wide, held in boxes)
        if not np.isfinite(need):
            raise Refused(f"The box of '{layer.name}' has no extent, so nothing of it can cover the scene.")
        # A mirrored layer stays mirrored.
        grown = tuple(math.copysign(max(abs(n), need), n) for n in _now(layer, "scale", at, scene))
        layer = with_track(layer, "scale", remade(layer.scale, "scale", rest=grown, **still))
        rest = _now(layer, "rotation", at, scene)
        turn = scene.fps * 360 / abs(self.speed)
        keys = ({"frame": at, "value": rest}, {"frame": at + turn, "value": rest + 360 * np.sign(self.speed)})
        spun = remade(layer.rotation, "rotation", keys=keys, before="repeat", after="repeat", cadence=None)
        return with_track(layer, "rotation", spun)


class Wipe(Recipe):
    """Across the frame: in from one edge, a rest, and out by the other."""

    recipe: Literal["wipe across the frame"] = "wipe across the frame"
    side: Literal["left", "right", "top", "bottom"] = "left"
    length: Length = 14
    rest: Annotated[Whole, Field(ge=1, le=100_000)] = 20
    ease: Ease = "ease-in-out"

    @property
    def frames(self) -> int:
        return 2 * self.length + self.rest

    def write(self, layer: Layer, at: float, scene: Scene, assets: Assets) -> Layer:
        layer = _one_path(layer, scene)
        landed, leaving = at + self.length, at + self.length + self.rest
        other = {"left": "right", "right": "left", "top": "bottom", "bottom": "top"}[self.side]
        ways = []
        for station in (self.side, other):
            here = _anchored(layer, landed, (at, leaving + self.length), scene, assets, station)
            ways.append((_now(here, "anchor", landed, scene), _now(here, "position", landed, scene)))
        (first, from_), (last, to) = ways
        layer = _keys(layer, "anchor", scene, (at, first, "hold"), (leaving, last, "hold"))
        layer = _keys(layer, "position", scene, (at, from_, "hold"), (leaving, to, "hold"))
        x, y = _now(layer, "scale", landed, scene)
        flat = (0.0, y) if self.side in ("left", "right") else (x, 0.0)
        return _keys(
            layer, "scale", scene, (at, flat, self.ease), (landed, (x, y), "linear"), (leaving, (x, y), self.ease),
            (leaving + self.length, flat, "linear"),
        )  # fmt: skip


class Settle(Recipe):
    """From another size to its own, springing to rest."""

    recipe: Literal["settle with bounce"] = "settle with bounce"
    size: Percent = 60.0
    length: Length = 24
    damping: Annotated[float, Field(strict=True, ge=0.05, le=3)] = 0.4

    @property
    def frames(self) -> int:
        return self.length

    def write(self, layer: Layer, at: float, scene: Scene, assets: Assets) -> Layer:
        x, y = _now(layer, "scale", at + self.length, scene)
        small = (x * self.size / 100, y * self.size / 100)
        ease = Spring(spring=SpringNumbers(response=0.45, damping=self.damping))
        return _keys(layer, "scale", scene, (at, small, ease), (at + self.length, (x, y), "linear"))


AnyRecipe = Annotated[
    GrowFromEdge | SwingIn | DropIn | SlideByAnchor | Orbit | PushIn | Impact | EndlessSpin | Wipe | Settle,
    Field(discriminator="recipe"),
]
