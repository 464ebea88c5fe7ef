"""From nothing to a little more than its size, and back to it."""

from __future__ import annotations

from typing import Annotated, Literal

from ..document.scene import Layer, Scene
from ..ground.shown import Shown
from ..resolve.context import Context
from .base import Length, Percent, Recipe, keyed, value_now


class Pop(Recipe):
    """From nothing to a little more than its size, and back to it."""

    recipe: Literal["pop"] = "pop"
    over: Annotated[Percent, Shown("Over", "%")] = 14.0
    length: Length = 14

    def write(self, layer: Layer, at: float, scene: Scene, context: Context) -> Layer:
        end, top = at + self.length, at + max(round(self.length * 0.6), 1)
        x, y = value_now(layer, "scale", end, scene)
        more = 1 + self.over / 100
        if top >= end:
            return keyed(layer, "scale", scene, (at, (0.0, 0.0), "ease-out"), (end, (x, y), "linear"))
        return keyed(
            layer, "scale", scene, (at, (0.0, 0.0), "ease-out"), (top, (x * more, y * more), "ease-in-out"),
            (end, (x, y), "linear"),
        )  # fmt: skip
