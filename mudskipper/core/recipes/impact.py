"""A blow on a cut: a small counter-turn, a strong turn with enlargement, a weaker rebound, rest."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..document.properties import remade, with_track
from ..document.scene import Layer, Scene
from ..easings.batch import Ease
from ..geometry.coverage import shortfall
from ..ground.base_model import Whole
from ..ground.shown import Shown
from ..resolve.bounds import inner_corners
from ..resolve.context import Context
from ..resolve.corners import corners
from ..resolve.layers import ResolvedLayer
from ..tracks.kinds import NumberTrack
from .base import Angle, Percent, Recipe, keyed, on_one_path, value_now

Apart = Annotated[Whole, Field(ge=1, le=1_000)]
SPARE = 1.0005
"""By how much more than it takes a picture is enlarged that has to cover."""


class Impact(Recipe):
    """A blow on a cut: a small counter-turn, a strong turn with enlargement, a weaker rebound, rest; its moments are so
    many frames apart."""

    phase: ClassVar[Literal["in", "emphasis", "out"]] = "emphasis"
    lasts: ClassVar[tuple[str, ...]] = ("draw_back", "strike", "rebound", "rest")
    recipe: Literal["impact"] = "impact"
    draw_back: Annotated[Apart, Shown("Draws back", "f")] = 2
    strike: Annotated[Apart, Shown("Strikes after", "f")] = 3
    rebound: Annotated[Apart, Shown("Rebounds after", "f")] = 3
    rest: Annotated[Apart, Shown("Rests after", "f")] = 2
    angle: Angle = 8.0
    enlarge: Annotated[Percent, Shown("Enlarge", "%")] = 12.0
    slide: Annotated[float, Field(strict=True, ge=-10_000, le=10_000), Shown("Slide", "px")] = 0.0
    covers: Annotated[Literal["as it is", "while it turns"], Shown("Covers")] = "as it is"
    """Whether it is enlarged while it turns by what it takes to cover the scene, and no more before and after."""

    def write(self, layer: Layer, at: float, scene: Scene, context: Context) -> Layer:
        moments = [at]
        for apart in (self.draw_back, self.strike, self.rebound, self.rest):
            moments.append(moments[-1] + apart)
        shares = (0.0, -0.25, 1.0, -0.4, 0.0)
        sizes = (0.0, -0.1, 1.0, 0.25, 0.0)
        eases: tuple[Ease, ...] = ("ease-in", "ease-out", "ease-in-out", "ease-out", "linear")
        rotation, scale, position = [], [], []
        layer = on_one_path(layer, scene) if self.slide else layer
        for moment, share, size, ease in zip(moments, shares, sizes, eases, strict=True):
            turned = value_now(layer, "rotation", moment, scene) + self.angle * share
            x, y = value_now(layer, "scale", moment, scene)
            factor = 1 + self.enlarge / 100 * size
            if self.covers != "as it is" and share:
                factor = max(factor, self._needed(layer, moment, turned, scene, context))
            rotation.append((moment, turned, ease))
            scale.append((moment, (x * factor, y * factor), ease))
            if self.slide:
                across, down = value_now(layer, "position", moment, scene)
                position.append((moment, (across + self.slide * share, down), ease))
        layer = keyed(keyed(layer, "rotation", scene, *rotation), "scale", scene, *scale)
        return keyed(layer, "position", scene, *position) if position else layer

    def _needed(self, layer: Layer, at: float, turned: float, scene: Scene, context: Context) -> float:
        """By which factor a layer must be larger to cover the scene at an angle; 1 where it could not at its own."""
        own = context.one(layer, at + layer.span.start)
        if _shortfall(own, scene) > 1.0:
            return 1.0
        # Where the turn goes on, it goes a little further than its keys between them: they are its furthest.
        still = NumberTrack(rest=turned)
        tried = with_track(layer, "rotation", remade(still, "rotation"))
        found = _shortfall(context.resolve([tried], [at + layer.span.start])[0], scene)
        return found * SPARE if np.isfinite(found) and found > 1.0 else 1.0


def _shortfall(one: ResolvedLayer, scene: Scene) -> float:
    """By which factor a layer must grow about its anchor to cover the scene."""
    return float(shortfall(inner_corners(one, corners(one)), one.place, (scene.width, scene.height))[0])
