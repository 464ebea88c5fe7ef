"""Turning forever at a steady speed, large enough to cover the scene at every angle."""

from __future__ import annotations

import math
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..document.properties import NO_FORMULA, remade, with_track
from ..document.scene import Layer, Scene
from ..ground.errors import Refused
from ..ground.shown import Shown
from ..moves.anchor_moves import anchor_value, moment, station_point
from ..moves.covered import filled_radius
from ..moves.under_formula import with_shown
from ..resolve.context import Context
from ..tracks.kinds import NumberTrack, PairTrack, PathTrack
from .base import Recipe, value_now

SPARE = 1e-6
"""What is added to the scale at which a layer just covers, for what floats lose."""


class EndlessSpin(Recipe):
    """Turning forever at a steady speed, large enough to cover the scene at every angle."""

    lasts: ClassVar[tuple[str, ...]] = ()

    of_scene: ClassVar[bool] = True

    phase: ClassVar[Literal["in", "emphasis", "out"]] = "emphasis"
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
        still = {"keys": (), "cadence": None, **NO_FORMULA}
        layer = layer.model_copy(update={"position": PathTrack(rest=centre)})
        layer = with_track(layer, "anchor", remade(layer.anchor, "anchor", rest=middle, **still))
        layer = self._grown(layer, at, scene, context)
        rest = value_now(layer, "rotation", at, scene)
        turn = scene.fps * 360 / abs(self.speed)
        keys = ({"frame": at, "value": rest}, {"frame": at + turn, "value": rest + 360 * np.sign(self.speed)})
        spun = remade(layer.rotation, "rotation", keys=keys, before="repeat", after="repeat", cadence=None)
        return with_track(layer, "rotation", spun)

    @staticmethod
    def _grown(layer: Layer, at: float, scene: Scene, context: Context) -> Layer:
        """The layer as large as it takes: what is painted of it about its anchor reaches the scene's corners."""
        far = math.hypot(scene.width, scene.height) / 2
        frames = np.arange(layer.span.start, layer.span.end, dtype=np.float64)
        centre = np.array([scene.width / 2, scene.height / 2])
        still = {"keys": (), "cadence": None, "before": "hold", "after": "hold"}
        upright = {"rotation": NumberTrack(rest=0.0), "scale": PairTrack(rest=(100.0, 100.0))}
        (one,) = context.resolve([layer.model_copy(update=upright)], frames)
        radius = filled_radius(one, centre)
        if radius <= 0:
            raise Refused(
                f"Nothing of '{layer.name}' is painted about the middle of its box, so it cannot cover the scene as it "
                "turns.",
                where="layer", mend="Take its masks and its crop off, or give it a fill.",
            )  # fmt: skip
        need = 100 * far / radius * (1 + SPARE)
        # A mirrored layer stays mirrored.
        grown = tuple(math.copysign(max(abs(n), need), n) for n in value_now(layer, "scale", at, scene))
        rested = with_track(layer, "scale", remade(layer.scale, "scale", rest=grown, **still))
        if layer.scale.formula is None:
            return rested
        for goal in (need, need * 2, need * 4):
            tried = with_shown(rested, "scale", at + layer.span.start, (goal, goal), context)
            (seen,) = context.resolve([tried], frames)
            if np.abs(seen.values["scale"]).min() >= need * (1 - SPARE):
                return tried
        raise Refused(
            f"The formula of the scale of '{layer.name}' does not let it grow to {need:.0f} %, at which it covers.",
            where="layer", mend="Take the formula off, or write it as base + ….",
        )  # fmt: skip
