"""Across the frame: in from one edge, a rest, and out by the other."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from ..document.scene import Layer, Scene
from ..ground.base_model import Whole
from ..ground.shown import Shown
from ..resolve.context import Context
from .base import Length, Recipe, RecipeEase, Side, anchored, keyed, on_one_path, value_now


class Wipe(Recipe):
    """Across the frame: in from one edge, a rest, and out by the other."""

    lasts: ClassVar[tuple[str, ...]] = ("length", "rest", "length")

    of_scene: ClassVar[bool] = True

    phase: ClassVar[Literal["in", "emphasis", "out"]] = "out"
    recipe: Literal["wipe across the frame"] = "wipe across the frame"
    side: Side = "left"
    length: Length = 14
    rest: Annotated[Whole, Field(ge=1, le=100_000), Shown("Rest", "f")] = 20
    ease: RecipeEase = "ease-in-out"

    def write(self, layer: Layer, at: float, scene: Scene, context: Context) -> Layer:
        layer = on_one_path(layer, scene)
        landed, leaving = at + self.length, at + self.length + self.rest
        other = {"left": "right", "right": "left", "top": "bottom", "bottom": "top"}[self.side]
        ways = []
        for station in (self.side, other):
            here = anchored(layer, landed, (at, leaving + self.length), scene, context, station)
            ways.append((value_now(here, "anchor", landed, scene), value_now(here, "position", landed, scene)))
        (first, from_), (last, to) = ways
        layer = keyed(layer, "anchor", scene, (at, first, "hold"), (leaving, last, "hold"))
        layer = keyed(layer, "position", scene, (at, from_, "hold"), (leaving, to, "hold"))
        x, y = value_now(layer, "scale", landed, scene)
        flat = (0.0, y) if self.side in ("left", "right") else (x, 0.0)
        return keyed(
            layer, "scale", scene, (at, flat, self.ease), (landed, (x, y), "linear"), (leaving, (x, y), self.ease),
            (leaving + self.length, flat, "linear"),
        )  # fmt: skip
