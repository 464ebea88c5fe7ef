"""What every check is, and what checks share."""

from __future__ import annotations

from abc import ABC
from typing import ClassVar

import numpy as np

from ..document.scene import Layer, Scene
from ..edits import Edit
from ..edits.many_keys import EditValues
from ..edits.values_and_keys import KeyRef, SetProperty
from ..ground.base_model import Model
from ..resolve.context import Context
from ..resolve.corners import corners
from ..resolve.layers import ResolvedLayer

Pair = tuple[float, float]
Points = tuple[Pair, ...]


class Finding(Model):
    """Something that a check found: `figure` in the unit of the sentence, and what is drawn of it in the scene at
    `frame`: polygons that are shaded, and lines. `left` says that the layer leaves it as it is. `parts` mends it
    together with the parts of the same shot that stand beside it in time, so that the picture does not jump from one to
    the next."""

    check: str
    layer: str
    frame: int
    figure: float
    sentence: str
    edits: tuple[Edit, ...] = ()
    parts: tuple[Edit, ...] = ()
    areas: tuple[Points, ...] = ()
    lines: tuple[Points, ...] = ()
    left: bool = False


class Check(ABC):
    """An automatic look at a layer."""

    name: ClassVar[str]

    def find(self, scene: Scene, one: ResolvedLayer) -> Finding | None:
        """What it finds in a layer that is there at some frame, resolved over the scene; None where all is well."""
        return None

    def look(self, scene: Scene, one: ResolvedLayer, context: Context) -> Finding | None:
        """The same, for a check that asks more of the scene than the layer itself tells."""
        return self.find(scene, one)

    def over(self, scene: Scene, context: Context) -> list[Finding]:
        """What it finds in layers beside others, which no layer tells by itself."""
        return []

    def spoilt(self, scene: Scene, before: ResolvedLayer, after: ResolvedLayer) -> bool:
        """Whether a mend of another check would spoil a layer in this one's eyes, though it finds nothing then."""
        return False


def or_left(finding: Finding, layer: Layer) -> Finding:
    """A finding, marked as one that its layer leaves as it is where it does."""
    return finding.model_copy(update={"left": True, "edits": ()}) if finding.check in layer.unchecked else finding


def points(places: np.ndarray) -> Points:
    """Points (n, 2) as they are drawn."""
    return tuple((round(float(x), 3), round(float(y), 3)) for x, y in places)


def box_at(one: ResolvedLayer, frame: int) -> Points:
    """The line around a layer's box at a frame."""
    four = corners(one)[frame]
    return points(np.concatenate([four, four[:1]]))


def opacity_of(one: ResolvedLayer) -> np.ndarray:
    return np.broadcast_to(one.opacity, (len(one.frames), 1))[:, 0]


def rescaled(layer: Layer, factor: float, frame: int) -> tuple[Edit, ...]:
    """The layer's scale multiplied: all its keys, or its rest."""
    if layer.scale.keys:
        keys = tuple(
            KeyRef(layer=layer.id, property="scale", frame=k.frame + layer.span.start) for k in layer.scale.keys
        )
        return (EditValues(keys=keys, way="multiply", value=factor),)
    x, y = layer.scale.rest
    return (SetProperty(layer=layer.id, property="scale", value=(x * factor, y * factor), frame=float(frame)),)
