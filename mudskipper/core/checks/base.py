"""What every check is, and what checks share."""

from __future__ import annotations

from abc import ABC, abstractmethod
from typing import ClassVar

import numpy as np

from ..edits import Edit
from ..edits.bulk import EditValues
from ..edits.motion import KeyRef, SetProperty
from ..model import Model
from ..resolve import ResolvedLayer
from ..scene import Scene


class Finding(Model):
    """Something that a check found: `figure` in the unit that the sentence tells."""

    check: str
    layer: str
    frame: int
    figure: float
    sentence: str
    edits: tuple[Edit, ...] = ()


class Check(ABC):
    """An automatic look at a layer."""

    name: ClassVar[str]

    @abstractmethod
    def find(self, scene: Scene, one: ResolvedLayer) -> Finding | None:
        """What it finds in a layer that is there at some frame, resolved over the scene; None where all is well."""


def opacity_of(one: ResolvedLayer) -> np.ndarray:
    return np.broadcast_to(one.opacity, (len(one.frames), 1))[:, 0]


def rescaled(one: ResolvedLayer, factor: float, frame: int) -> tuple[Edit, ...]:
    """The layer's scale multiplied: all its keys, or its rest."""
    layer = one.layer
    if layer.scale.keys:
        keys = tuple(
            KeyRef(layer=layer.id, property="scale", frame=k.frame + layer.span.start) for k in layer.scale.keys
        )
        return (EditValues(keys=keys, way="multiply", value=factor),)
    x, y = layer.scale.rest
    return (SetProperty(layer=layer.id, property="scale", value=(x * factor, y * factor), frame=float(frame)),)
