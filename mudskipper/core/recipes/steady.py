"""Moves that go on by a formula, on top of whatever a layer does: swaying, breathing, shaking."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from ..document.properties import label_of, remade, track_of, with_track
from ..document.scene import Layer, Scene
from ..ground.errors import Refused
from ..ground.shown import Shown
from ..resolve.context import Context
from .base import Angle, Length, Percent, Recipe, on_one_path

Period = Annotated[float, Field(strict=True, ge=0.05, le=3_600), Shown("Each takes", "s", step=0.1)]


class Sway(Recipe):
    """To and fro about its anchor, as a sign in the wind, for as long as it is there."""

    lasts: ClassVar[tuple[str, ...]] = ()
    phase: ClassVar[Literal["in", "emphasis", "out"]] = "emphasis"
    recipe: Literal["sway"] = "sway"
    angle: Angle = 6.0
    period: Period = 2.0

    def write(self, layer: Layer, at: float, scene: Scene, context: Context) -> Layer:
        wave = f"sin(tau * (frame - {at:g}) / {self.period * scene.fps:g})"
        return _on_top(layer, "rotation", f"base + {self.angle:g} * {wave} * step({at:g}, frame)")


class Breathe(Recipe):
    """A little larger and back, calmly, for as long as it is there."""

    lasts: ClassVar[tuple[str, ...]] = ()
    phase: ClassVar[Literal["in", "emphasis", "out"]] = "emphasis"
    recipe: Literal["breathe"] = "breathe"
    grow: Annotated[Percent, Shown("Grow", "%")] = 5.0
    period: Period = 3.0

    def write(self, layer: Layer, at: float, scene: Scene, context: Context) -> Layer:
        wave = f"(1 - cos(tau * (frame - {at:g}) / {self.period * scene.fps:g})) / 2"
        return _on_top(layer, "scale", f"base * (1 + {self.grow / 100:g} * {wave} * step({at:g}, frame))")


class Shake(Recipe):
    """Shaken about, harder at first, until it rests again."""

    phase: ClassVar[Literal["in", "emphasis", "out"]] = "emphasis"
    recipe: Literal["shake"] = "shake"
    reach: Annotated[float, Field(strict=True, ge=0, le=10_000), Shown("Reach", "px")] = 16.0
    angle: Angle = 2.0
    rate: Annotated[float, Field(strict=True, ge=0.1, le=60), Shown("How often", "1/s")] = 9.0
    length: Length = 30

    def write(self, layer: Layer, at: float, scene: Scene, context: Context) -> Layer:
        dies = f"clamp(1 - (frame - {at:g}) / {self.length}, 0, 1) * step({at:g}, frame)"
        layer = on_one_path(layer, scene)
        if self.reach:
            layer = _on_top(layer, "position", f"base + wander({self.rate:g}, {self.reach:g}) * {dies}")
        if self.angle:
            layer = _on_top(layer, "rotation", f"base + wander({self.rate:g}, {self.angle:g}) * {dies}")
        return layer


def _on_top(layer: Layer, name: str, formula: str) -> Layer:
    """The layer with a formula on a property that has none, its keys kept as its base."""
    track = track_of(layer, name)
    if track.formula is not None:
        raise Refused(
            f"The {label_of(name).lower()} of '{layer.name}' has a formula already.", where="layer",
            mend="Take it off first, or write both into one.",
        )  # fmt: skip
    return with_track(layer, name, remade(track, name, formula=formula, formula_from=0))
