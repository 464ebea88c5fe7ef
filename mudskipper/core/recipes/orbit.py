"""Round a point of the scene, the scene's centre unless given, by an anchor that lies there."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..document.properties import remade, with_track
from ..document.scene import Layer, Scene
from ..ground.base_model import Pair
from ..ground.shown import Shown
from ..moves.anchor_moves import point_of_scene
from ..resolve.context import Context
from ..tracks.base import SAME
from .base import Length, Recipe, RecipeEase, anchored, keyed, value_now


class Orbit(Recipe):
    """Round a point of the scene, the scene's centre unless given, by an anchor that lies there."""

    of_scene: ClassVar[bool] = True

    phase: ClassVar[Literal["in", "emphasis", "out"]] = "emphasis"
    recipe: Literal["orbit"] = "orbit"
    centre: Annotated[Pair | None, Shown("About", "px", ("x", "y"))] = None
    turns: Annotated[float, Field(strict=True, ge=-100, le=100), Shown("Turns", step=0.25)] = 1.0
    length: Length = 90
    ease: RecipeEase = "linear"

    def write(self, layer: Layer, at: float, scene: Scene, context: Context) -> Layer:
        centre = np.array(self.centre or (scene.width / 2, scene.height / 2))
        end = at + self.length
        layer = anchored(layer, at, (at, end), scene, context, lambda now: point_of_scene(now, centre)[0])
        first, last = (value_now(layer, "rotation", frame, scene) for frame in (at, end))
        layer = keyed(layer, "rotation", scene, (at, first, self.ease), (end, last, "linear"))
        # What comes later goes on from the turns that were made.
        track = layer.rotation
        keys = tuple(
            key.model_copy(update={"value": key.value + 360 * self.turns}) if key.frame >= end - SAME else key
            for key in track.keys
        )
        return with_track(layer, "rotation", remade(track, "rotation", keys=keys))
