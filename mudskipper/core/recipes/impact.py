"""A blow on a cut: a small counter-turn, a strong turn with enlargement, a weaker rebound, rest."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from ..document.scene import Layer, Scene
from ..easings.batch import Ease
from ..ground.base_model import Whole
from ..ground.shown import Shown
from ..resolve.context import Context
from .base import Angle, Percent, Recipe, keyed, value_now


class Impact(Recipe):
    """A blow on a cut: a small counter-turn, a strong turn with enlargement, a weaker rebound, rest."""

    phase: ClassVar[Literal["in", "emphasis", "out"]] = "emphasis"
    recipe: Literal["impact"] = "impact"
    angle: Angle = 8.0
    enlarge: Annotated[Percent, Shown("Enlarge", "%")] = 12.0
    length: Annotated[Whole, Field(ge=4, le=1_000), Shown("Length", "f")] = 10

    def write(self, layer: Layer, at: float, scene: Scene, context: Context) -> Layer:
        moments = [at + round(self.length * share) for share in (0, 0.2, 0.5, 0.75, 1)]
        turns = (0.0, -0.25, 1.0, -0.4, 0.0)
        sizes = (0.0, -0.1, 1.0, 0.25, 0.0)
        eases: tuple[Ease, ...] = ("ease-in", "ease-out", "ease-in-out", "ease-out", "linear")
        rotation = [
            (t, value_now(layer, "rotation", t, scene) + self.angle * k, e)
            for t, k, e in zip(moments, turns, eases, strict=True)
        ]
        scale = []
        for t, k, e in zip(moments, sizes, eases, strict=True):
            x, y = value_now(layer, "scale", t, scene)
            factor = 1 + self.enlarge / 100 * k
            scale.append((t, (x * factor, y * factor), e))
        return keyed(keyed(layer, "rotation", scene, *rotation), "scale", scene, *scale)
