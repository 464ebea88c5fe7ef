"""Moves of several layers as one: two that swap places, many that go round."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..document.properties import remade, with_track
from ..document.scene import Layer, Scene
from ..ground.base_model import Pair
from ..ground.errors import Refused
from ..ground.shown import Shown
from ..resolve.context import Context
from .base import Length, Percent, Phase, Recipe, keyed, on_one_path, value_now


class Together(Recipe):
    """A move of several layers as one."""

    together: ClassVar[int] = 2
    of_scene: ClassVar[bool] = True
    phase: ClassVar[Phase] = "several"

    def write(self, layer: Layer, at: float, scene: Scene, context: Context) -> Layer:
        raise Refused(
            f"'{self.recipe}' moves {self.together} layers and more as one, and one was given.", where="layers",
            mend="Select the others, too.",
        )  # fmt: skip


class SwapPlaces(Together):
    """Two layers that go to each other's place, past one another."""

    recipe: Literal["swap places"] = "swap places"
    arc: Annotated[float, Field(strict=True, ge=-500, le=500), Shown("Arc", "%")] = 30.0
    length: Length = 30

    def write_together(self, layers: Sequence[Layer], frame: float, scene: Scene, context: Context) -> Scene:
        if len(layers) != 2:
            raise Refused(f"Two layers swap places, and {len(layers)} were given.", where="layers", mend="Select two.")
        now = [context.one(layer, frame) for layer in layers]
        places = [one.place[0] for one in now]
        across = places[1] - places[0]
        aside = np.array([-across[1], across[0]]) * self.arc / 100
        for index, layer in enumerate(layers):
            layer = on_one_path(layer, scene)
            at = frame - layer.span.start
            whole, side = (across, aside) if index == 0 else (-across, -aside)
            x, y = value_now(layer, "position", at, scene)
            half, end = (now[index].own_step(step) for step in (whole / 2 + side, whole))
            middle = at + self.length / 2
            layer = keyed(
                layer, "position", scene, (at, (x, y), "ease-in"),
                (round(middle), (float(x + half[0]), float(y + half[1])), "ease-out"),
                (at + self.length, (float(x + end[0]), float(y + end[1])), "linear"),
            )  # fmt: skip
            scene = scene.with_layer(layer)
        return scene


class Carousel(Together):
    """Many layers that go round a point one behind another, the nearest the largest, for as long as they are there."""

    lasts: ClassVar[tuple[str, ...]] = ()
    recipe: Literal["carousel"] = "carousel"
    centre: Annotated[Pair | None, Shown("About", "px", ("x", "y"))] = None
    wide: Annotated[Percent, Shown("Width", "%")] = 60.0
    high: Annotated[Percent, Shown("Height", "%")] = 14.0
    far: Annotated[Percent, Field(gt=0, le=100), Shown("Farthest", "%")] = 55.0
    period: Annotated[float, Field(strict=True, ge=0.05, le=3_600), Shown("Round takes", "s", step=0.5)] = 8.0

    def write_together(self, layers: Sequence[Layer], frame: float, scene: Scene, context: Context) -> Scene:
        x, y = self.centre or (scene.width / 2, scene.height / 2)
        across, down = scene.width * self.wide / 200, scene.height * self.high / 200
        for index, layer in enumerate(layers):
            if layer.carrier is not None:
                raise Refused(f"'{layer.name}' is carried, and so goes round no point of the scene.", where="layers",
                              mend="Release it first.")  # fmt: skip
            layer = on_one_path(layer, scene)
            for name in ("position", "scale"):
                if layer.tracks[name].formula is not None:
                    raise Refused(f"The {name} of '{layer.name}' has a formula already.", where="layers",
                                  mend="Take it off first.")  # fmt: skip
            at = frame - layer.span.start
            begin = math.tau * index / len(layers)
            angle = f"a = {begin:.6g} + tau * (frame - {at:g}) / {self.period * scene.fps:g}"
            place = f"{angle}\n({x:g} + {across:g} * sin(a), {y:g} + {down:g} * cos(a))"
            near = f"{angle}\nbase * mix({self.far / 100:g}, 1, (1 + cos(a)) / 2)"
            for name, formula in (("position", place), ("scale", near)):
                track = layer.tracks[name]
                layer = with_track(layer, name, remade(track, name, formula=formula, formula_from=0))
            scene = scene.with_layer(layer)
        return scene
