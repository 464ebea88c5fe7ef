"""What shapes are painted with: a colour, or a gradient in the shape's own box."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Discriminator, Field, Tag

from ..draw.inks import GradientInk, Ink
from ..geometry.bezier import Floats
from ..geometry.transform import matrices
from ..geometry.values import Values, within
from ..ground.base_model import Model
from ..ground.shown import Shown
from ..tracks.colour import ColourTrack
from ..tracks.kinds import NumberTrack, PairTrack
from ..tracks.stops import MOST_STOPS, Stop

SMALLEST = 0.001
"""Pixels: a gradient without a length or a radius is taken to be that long, and so ends at once (SVG 2, 14.2.2)."""


class Gradient(Model):
    """Colours that pass into one another, in sRGB and not premultiplied, as canvas and SVG mix them.

    Places are percent of the shape's box. `linear` goes from `start` to `end`; `radial` from `centre` to a `radius`
    that is percent of the box's width and of its height, turned by `angle`; `conic` round `centre`, clockwise from
    `angle`, where 0 is to the right. What a kind does not read it keeps.
    """

    gradient: Literal["linear", "radial", "conic"]
    stops: Annotated[tuple[Stop, ...], Field(min_length=2, max_length=MOST_STOPS)]
    start: Annotated[PairTrack, Shown("Starts at", "%", ("x", "y"))] = PairTrack(rest=(0.0, 50.0))
    end: Annotated[PairTrack, Shown("Ends at", "%", ("x", "y"))] = PairTrack(rest=(100.0, 50.0))
    centre: Annotated[PairTrack, Shown("Centre", "%", ("x", "y"))] = PairTrack(rest=(50.0, 50.0))
    radius: Annotated[PairTrack, Shown("Radius", "%", ("x", "y"), low=0, high=100_000, what="a radius in percent")] = (
        PairTrack(rest=(50.0, 50.0))
    )
    angle: Annotated[NumberTrack, Shown("Angle", "°")] = NumberTrack(rest=0.0)

    def ink(self, values: Values, box: Floats) -> GradientInk:
        """The gradient in pixels: `values` are those of its own tracks, `box` (1 | n, 4) the shape's."""
        count = len(self.stops)
        ats = np.concatenate(np.broadcast_arrays(*(values[f"stops.{i}.at"] for i in range(count))), axis=1) / 100.0
        colours = np.concatenate(np.broadcast_arrays(*(values[f"stops.{i}.colour"] for i in range(count))), axis=1)
        # A stop before the one that it follows is taken to stand with it (SVG 2, 14.2.4).
        offsets = np.maximum.accumulate(np.clip(ats, 0, 1), axis=1)
        if self.gradient == "linear":
            start, end = (in_box(values[name], box) for name in ("start", "end"))
            start, end = np.broadcast_arrays(start, end)
            short = np.hypot(*(end - start).T)[:, None] < SMALLEST
            return GradientInk(
                "linear", _joined(start, np.where(short, start + np.array([SMALLEST, 0]), end)), offsets, colours
            )
        centre = in_box(values["centre"], box)
        if self.gradient == "conic":
            return GradientInk("conic", _joined(centre, values["angle"]), offsets, colours)
        radius = np.maximum(values["radius"] / 100.0 * box[:, 2:], SMALLEST)
        if np.abs(radius[:, 0] - radius[:, 1]).max() < SMALLEST:
            return GradientInk("radial", _joined(centre, radius[:, :1]), offsets, colours)
        unit = np.array([[0.0, 0.0, 1.0]])
        matrix = matrices(np.zeros((1, 2)), centre, radius * 100.0, values["angle"][:, 0])
        return GradientInk("radial", unit, offsets, colours, matrix)


def in_box(share: Floats, box: Floats) -> Floats:
    """A point given as percent of a box, in the pixels of the box (1 | n, 2)."""
    return np.asarray(box[:, :2] + share / 100.0 * box[:, 2:])


def _joined(*parts: Floats) -> Floats:
    count = max(map(len, parts))
    return np.concatenate([np.broadcast_to(part, (count, part.shape[1])) for part in parts], axis=1)


def _which(value: Any) -> str:
    given = isinstance(value, Gradient) or (isinstance(value, dict) and ("gradient" in value or "stops" in value))
    return "@gradient" if given else "@colour"


Paint = Annotated[Annotated[ColourTrack, Tag("@colour")] | Annotated[Gradient, Tag("@gradient")], Discriminator(_which)]
"""A colour or a gradient."""


def ink_of(paint: ColourTrack | Gradient, values: Values, name: str, box: Callable[[], Floats]) -> Ink:
    """What a paint draws with, from the values of a model that has it as the field `name`; `box` gives that of the
    shape, which only gradients ask for."""
    if isinstance(paint, Gradient):
        return paint.ink(within(values, f"{name}."), box())
    return values[name]
