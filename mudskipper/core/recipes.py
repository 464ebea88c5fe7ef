"""Recipes: ready-made moves that land as ordinary keys.

Each is a model with its few numbers and a function that writes keys on one layer, `at` being the frame, counted from
the layer's start, at which the move begins.
"""

from __future__ import annotations

from abc import abstractmethod
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from . import position as position_of
from .anchor import anchor_value, moment, point_of_scene, station_point, with_anchor
from .box import Assets
from .coverage import turning_scale
from .easing import Bezier, Bounce, BounceNumbers, Ease, Spring, SpringNumbers
from .errors import Refused
from .geometry import bounds_at, way_out
from .keys import with_key
from .model import Model, Pair, Whole
from .properties import remade, track_of, with_track
from .scene import Layer, Scene
from .tracks import value_at

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


def _keys(layer: Layer, name: str, *keys: tuple[float, Any, Ease]) -> Layer:
    """The layer with keys (frame, value, easing) written on a property; keys that lay between the ends go."""
    track = track_of(layer, name)
    low, high = keys[0][0], keys[-1][0]
    track = remade(track, name, keys=tuple(key for key in track.keys if not low < key.frame < high))
    for frame, value, ease in keys:
        track = with_key(track, name, frame, value, ease)
    return with_track(layer, name, track)


def _anchored(layer: Layer, at: float, scene: Scene, assets: Assets, place: Any) -> Layer:
    """The layer with its anchor at a station, or at a content point that `place` works out, the picture unmoved."""
    now = moment(layer, at + layer.span.start, assets, scene.fps)
    point = station_point(now, place) if isinstance(place, str) else place(now)
    return with_anchor(
        now, anchor_value(now, point), keep="picture", scope="frame", assets=assets, fps=scene.fps
    )  # fmt: skip


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
        layer = _anchored(layer, at + self.length, scene, assets, self.station)
        x, y = _now(layer, "scale", at + self.length, scene)
        flat = {"left": (0.0, y), "right": (0.0, y), "top": (x, 0.0), "bottom": (x, 0.0)}.get(self.station, (0.0, 0.0))
        return _keys(layer, "scale", (at, flat, self.ease), (at + self.length, (x, y), "linear"))


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
        layer = _anchored(layer, at + self.length, scene, assets, self.station)
        rest = _now(layer, "rotation", at + self.length, scene)
        ease = Spring(spring=SpringNumbers(response=0.4, damping=self.damping))
        return _keys(layer, "rotation", (at, rest + self.angle, ease), (at + self.length, rest, "linear"))


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
        box = bounds_at(layer, end + layer.span.start, assets, scene.fps)
        x, y = _now(layer, "position", end, scene)
        dx, dy = way_out(box, self.side, (scene.width, scene.height))
        ease: Ease = Bounce(bounce=BounceNumbers(count=self.bounces, damping=0.65)) if self.bounces else "ease-in"
        return _keys(layer, "position", (at, (x + dx, y + dy), ease), (end, (x, y), "linear"))


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
        return _keys(layer, "anchor", (at, first, self.ease), (at + self.length, last, "linear"))


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
        layer = _anchored(layer, at, scene, assets, lambda now: point_of_scene(now, centre)[0])
        rest = _now(layer, "rotation", at, scene)
        end = rest + 360 * self.turns
        return _keys(layer, "rotation", (at, rest, self.ease), (at + self.length, end, "linear"))


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
        layer = _anchored(layer, at, scene, assets, lambda now: now.box[:2] + np.array(self.point) * now.box[2:])
        x, y = _now(layer, "scale", at, scene)
        grown = (x * self.zoom / 100, y * self.zoom / 100)
        return _keys(layer, "scale", (at, (x, y), self.ease), (at + self.length, grown, "linear"))


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
        rest = _now(layer, "rotation", at, scene)
        x, y = _now(layer, "scale", at, scene)
        moments = [at + round(self.length * share) for share in (0, 0.2, 0.5, 0.75, 1)]
        turns = (0.0, -0.25, 1.0, -0.4, 0.0)
        sizes = (0.0, -0.1, 1.0, 0.25, 0.0)
        eases: tuple[Ease, ...] = ("ease-in", "ease-out", "ease-in-out", "ease-out", "linear")
        rotation = [(t, rest + self.angle * k, e) for t, k, e in zip(moments, turns, eases, strict=True)]
        factors = [1 + self.enlarge / 100 * k for k in sizes]
        scale = [(t, (x * f, y * f), e) for t, f, e in zip(moments, factors, eases, strict=True)]
        return _keys(_keys(layer, "rotation", *rotation), "scale", *scale)


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
        layer = _one_path(_anchored(layer, at, scene, assets, "centre"), scene)
        centre = (scene.width / 2, scene.height / 2)
        layer = with_track(layer, "position", remade(track_of(layer, "position"), "position", rest=centre, keys=()))
        now = moment(layer, at + layer.span.start, assets, scene.fps)
        need = turning_scale(now.box, now.anchor, now.position, (scene.width, scene.height))
        if not np.isfinite(need):
            raise Refused(f"The box of '{layer.name}' has no extent, so nothing of it can cover the scene.")
        x, y = _now(layer, "scale", at, scene)
        size = (max(x, need), max(y, need))
        layer = with_track(layer, "scale", remade(layer.scale, "scale", rest=size, keys=()))
        rest = _now(layer, "rotation", at, scene)
        turn = scene.fps * 360 / abs(self.speed)
        keys = ({"frame": at, "value": rest}, {"frame": at + turn, "value": rest + 360 * np.sign(self.speed)})
        spun = remade(layer.rotation, "rotation", keys=keys, before="repeat", after="repeat")
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
            here = _anchored(layer, landed, scene, assets, station)
            ways.append((_now(here, "anchor", landed, scene), _now(here, "position", landed, scene)))
        (first, from_), (last, to) = ways
        layer = _keys(layer, "anchor", (at, first, "hold"), (leaving, last, "hold"))
        layer = _keys(layer, "position", (at, from_, "hold"), (leaving, to, "hold"))
        x, y = _now(layer, "scale", landed, scene)
        flat = (0.0, y) if self.side in ("left", "right") else (x, 0.0)
        return _keys(
            layer, "scale", (at, flat, self.ease), (landed, (x, y), "linear"), (leaving, (x, y), self.ease),
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
        return _keys(layer, "scale", (at, small, ease), (at + self.length, (x, y), "linear"))


AnyRecipe = Annotated[
    GrowFromEdge | SwingIn | DropIn | SlideByAnchor | Orbit | PushIn | Impact | EndlessSpin | Wipe | Settle,
    Field(discriminator="recipe"),
]
