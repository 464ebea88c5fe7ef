"""Slid past its place by moving the anchor from one station to another; position needs no keys."""

from __future__ import annotations

from typing import Literal

from ..anchor import anchor_value, moment, station_point
from ..assets import Assets
from ..easing import Ease
from ..scene import Layer, Scene
from .base import Length, Recipe, Station, keyed


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
        return keyed(layer, "anchor", scene, (at, first, self.ease), (at + self.length, last, "linear"))
