"""From just outside the scene by a side, falling to its place and bouncing."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from ..document.scene import Layer, Scene
from ..easings import Bounce, BounceNumbers
from ..easings.batch import Ease
from ..ground.base_model import Whole
from ..ground.shown import Shown
from ..resolve.bounds import bounds_at, way_out
from ..resolve.context import Context
from ..tracks.kinds import PathTrack
from .base import Length, Recipe, Side, keyed, on_one_path, value_now


class DropIn(Recipe):
    """From just outside the scene by a side, falling to its place and bouncing."""

    of_scene: ClassVar[bool] = True

    recipe: Literal["drop in"] = "drop in"
    side: Side = "top"
    length: Length = 24
    bounces: Annotated[Whole, Field(ge=0, le=12), Shown("Bounces")] = 2

    def write(self, layer: Layer, at: float, scene: Scene, context: Context) -> Layer:
        layer = on_one_path(layer, scene)
        end = at + self.length
        x, y = value_now(layer, "position", end, scene)
        # What falls is the box as it is where the move starts, turned and scaled as it is then.
        landed = layer.model_copy(update={"position": PathTrack(rest=(x, y))})
        box = bounds_at(landed, at + layer.span.start, context)
        step = way_out(box, self.side, (scene.width, scene.height))
        dx, dy = context.one(landed, at + layer.span.start).own_step(step)
        ease: Ease = Bounce(bounce=BounceNumbers(count=self.bounces, damping=0.65)) if self.bounces else "ease-in"
        return keyed(layer, "position", scene, (at, (x + float(dx), y + float(dy)), ease), (end, (x, y), "linear"))
