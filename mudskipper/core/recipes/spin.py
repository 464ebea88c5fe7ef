"""Turning forever at a steady speed, large enough to cover the scene at every angle."""

from __future__ import annotations

import math
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..anchor_moves import anchor_value, moment, station_point
from ..context import Context
from ..coverage import turning_scale
from ..errors import Refused
from ..properties import remade, with_track
from ..scene import Layer, Scene
from ..shown import Shown
from ..tracks import PathTrack
from .base import Recipe, value_now


class EndlessSpin(Recipe):
    """Turning forever at a steady speed, large enough to cover the scene at every angle."""

    lasts: ClassVar[tuple[str, ...]] = ()

    of_scene: ClassVar[bool] = True

    recipe: Literal["endless spin that always covers"] = "endless spin that always covers"
    speed: Annotated[float, Field(strict=True, ge=-3600, le=3600), Shown("Speed", "°/s")] = 30.0

    def write(self, layer: Layer, at: float, scene: Scene, context: Context) -> Layer:
        if self.speed == 0:
            raise Refused("An endless spin needs a speed other than 0 degrees a second.", where="speed")
        if layer.carrier is not None:
            raise Refused(
                f"'{layer.name}' is carried, and so cannot cover the scene by its own numbers.", where="layer",
                mend="Release it first, or spin its carrier.",
            )  # fmt: skip
        centre = (scene.width / 2, scene.height / 2)
        middle = anchor_value(now := moment(layer, at + layer.span.start, context), station_point(now, "centre"))
        still = {"keys": (), "cadence": None}
        layer = layer.model_copy(update={"position": PathTrack(rest=centre)})
        layer = with_track(layer, "anchor", remade(layer.anchor, "anchor", rest=middle, **still))
        frames = np.arange(layer.span.start, layer.span.end, dtype=np.float64)
        (one,) = context.resolve([layer], frames)
        boxes = zip(*np.broadcast_arrays(one.box[:, :2], one.box[:, 2:], one.anchor), strict=True)
        size = (scene.width, scene.height)
        need = max(turning_scale(np.concatenate([at, wide]), held, np.array(centre), size) for at, wide, held in boxes)
        if not np.isfinite(need):
            raise Refused(f"The box of '{layer.name}' has no extent, so nothing of it can cover the scene.")
        # A mirrored layer stays mirrored.
        grown = tuple(math.copysign(max(abs(n), need), n) for n in value_now(layer, "scale", at, scene))
        layer = with_track(layer, "scale", remade(layer.scale, "scale", rest=grown, **still))
        rest = value_now(layer, "rotation", at, scene)
        turn = scene.fps * 360 / abs(self.speed)
        keys = ({"frame": at, "value": rest}, {"frame": at + turn, "value": rest + 360 * np.sign(self.speed)})
        spun = remade(layer.rotation, "rotation", keys=keys, before="repeat", after="repeat", cadence=None)
        return with_track(layer, "rotation", spun)
