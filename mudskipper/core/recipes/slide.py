"""Slid past its place by moving the anchor from one station to another; position needs no keys."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from ..document.scene import Layer, Scene
from ..ground.shown import Shown
from ..moves.anchor_moves import anchor_value, moment, station_point
from ..resolve.context import Context
from .base import Length, Recipe, RecipeEase, Station, keyed


class SlideByAnchor(Recipe):
    """Slid past its place by moving the anchor from one station to another; position needs no keys."""

    of_scene: ClassVar[bool] = True

    phase: ClassVar[Literal["in", "emphasis", "out"]] = "out"
    recipe: Literal["slide through by anchor"] = "slide through by anchor"
    start: Annotated[Station, Shown("From station")] = "right"
    end: Annotated[Station, Shown("To station")] = "left"
    length: Length = 40
    ease: RecipeEase = "ease-in-out"

    def write(self, layer: Layer, at: float, scene: Scene, context: Context) -> Layer:
        now = moment(layer, at + layer.span.start, context)
        first, last = (anchor_value(now, station_point(now, station)) for station in (self.start, self.end))
        return keyed(layer, "anchor", scene, (at, first, self.ease), (at + self.length, last, "linear"))
