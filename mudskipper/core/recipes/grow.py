"""From nothing to its size, from an edge, a corner or the centre; an edge grows along its own axis alone."""

from __future__ import annotations

from typing import Annotated, Any, Literal

import numpy as np

from ..document.scene import Layer, Scene
from ..ground.errors import Refused
from ..ground.shown import Shown
from ..ground.stations import STATIONS
from ..moves.anchor_moves import converted, moment
from ..resolve.context import Context
from .base import LANDING, Length, Recipe, RecipeEase, anchored, keyed, value_now

HERE = "side at the anchor"


class GrowFromEdge(Recipe):
    """From nothing to its size, from an edge, a corner or the centre; an edge grows along its own axis alone."""

    recipe: Literal["grow from an edge"] = "grow from an edge"
    station: Annotated[
        Literal["side at the anchor", "top left", "top", "top right", "left", "centre", "right", "bottom left",
                "bottom", "bottom right"],
        Shown("Station"),
    ] = "side at the anchor"  # fmt: skip
    length: Length = 14
    ease: RecipeEase = LANDING
    by: Annotated[Literal["scale", "size"], Shown("Grow by")] = "scale"
    """What grows: the scale of the layer, or the sizes of its shapes, whose corners stay as round as they are."""

    def write(self, layer: Layer, at: float, scene: Scene, context: Context) -> Layer:
        end = at + self.length
        station = nearest_station(layer, end + layer.span.start, context) if self.station == HERE else self.station
        layer = anchored(layer, end, (at, end), scene, context, station)
        if self.by == "scale":
            full = value_now(layer, "scale", end, scene)
            return keyed(layer, "scale", scene, (at, _flat(station, full), self.ease), (end, full, "linear"))
        if not layer.content.grown:
            raise Refused(
                f"'{layer.name}' has no size of its own that could grow.", where="by", mend="Let its scale grow."
            )
        # A pinned anchor goes along with the box, so that the size grows from it.
        layer = converted(layer, True, context)
        for path in layer.content.grown:
            name = f"content.{path}"
            full = value_now(layer, name, end, scene)
            layer = keyed(layer, name, scene, (at, _flat(station, full), self.ease), (end, full, "linear"))
        return layer


def nearest_station(layer: Layer, frame: float, context: Context) -> str:
    """The station of the box that is nearest to a layer's anchor at a scene frame."""
    now = moment(layer, frame, context)
    size = np.where(now.box[2:] == 0, 1.0, now.box[2:])
    share = (now.anchor - now.box[:2]) / size
    return min(STATIONS, key=lambda name: float(np.hypot(*(share - np.array(STATIONS[name])))))


def _flat(station: str, full: Any) -> tuple[float, float]:
    """A pair that has nothing along the axis on which it grows."""
    x, y = full
    return {"left": (0.0, y), "right": (0.0, y), "top": (x, 0.0), "bottom": (x, 0.0)}.get(station, (0.0, 0.0))
