"""Where a layer stands, from the values of its tracks: one way for what is painted and for what formulas read."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from ..contents.base import Around
from ..document.scene import Layer
from ..geometry.bezier import Floats
from ..geometry.transform import matrices
from ..tracks.motion import anchor_points, position_values
from .window import Window, window_on

PLACED_BY = ("anchor", "position", "scale", "rotation", "content.", "masks.", "crop.", "framing.")
"""How the paths of the tracks begin that a place needs."""
NOWHERE = np.zeros((1, 4))
NO_BASELINES = np.zeros((1, 0))


@dataclass(frozen=True)
class Place:
    """A layer in its own space, before what carries it: its values within their bounds, its box, and where its anchor
    is, in content pixels and as fractions of the box; `baselines` as `ResolvedLayer` has them."""

    values: dict[str, Floats]
    content_box: Floats
    window: Window
    anchor: Floats
    fraction: Floats
    baselines: Floats

    @property
    def operands(self) -> tuple[Floats, Floats, Floats, Floats]:
        """What its matrix is made of: anchor (px), position, scale, rotation."""
        return self.anchor, self.values["position"], self.values["scale"], self.values["rotation"]

    @property
    def matrix(self) -> Floats:
        """The matrix (1 | n, 6) from its pixels to what its position is in."""
        anchor, position, scale, rotation = self.operands
        return matrices(anchor, position, scale, rotation[:, 0])


def content_values(values: Mapping[str, Floats]) -> dict[str, Floats]:
    """The values of a content's own tracks, by the path that they have in it."""
    return {name.removeprefix("content."): array for name, array in values.items() if name.startswith("content.")}


def windowed(layer: Layer, values: Mapping[str, Floats], around: Around) -> tuple[Floats, Window, Floats]:
    """The box of a layer's content (1 | n, 4), what is left of it, and its baselines, from values (1 | n, d) within
    their bounds."""
    inner = content_values(values)
    box = layer.content.box(inner, around)
    return box, window_on(layer, values, box), layer.content.baselines(inner, around)


def place(layer: Layer, values: dict[str, Floats], around: Around | None) -> Place:
    """A layer's place from the values (1 | n, d) of its tracks, which are brought within their bounds. Without what is
    around it no box is asked for: all is as if it had none."""
    for name, (low, high) in layer.limits.items():
        if name in values:
            values[name] = np.minimum(np.maximum(values[name], low), high)
    values["position"] = position_values(values)
    nothing = NOWHERE, Window(NOWHERE), NO_BASELINES
    box, window, baselines = nothing if around is None else windowed(layer, values, around)
    anchor, fraction = anchor_points(layer.anchor.pinned, values["anchor"], window.box)
    return Place(values, box, window, anchor, fraction, baselines)
