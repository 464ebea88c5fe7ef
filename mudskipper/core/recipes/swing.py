"""Turned in about a corner, swinging to rest."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..assets import Assets
from ..easings import Spring, SpringNumbers
from ..scene import Layer, Scene
from .base import Angle, Length, Recipe, Station, anchored, keyed, value_now


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
        layer = anchored(layer, at + self.length, (at, at + self.length), scene, assets, self.station)
        rest = value_now(layer, "rotation", at + self.length, scene)
        ease = Spring(spring=SpringNumbers(response=0.4, damping=self.damping))
        return keyed(layer, "rotation", scene, (at, rest + self.angle, ease), (at + self.length, rest, "linear"))
