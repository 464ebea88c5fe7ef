"""What a scene shows within another."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from ..draw.bounds import BoundsPen
from ..draw.inks import Layering
from ..draw.pen import Pen
from ..geometry.bezier import Floats
from ..geometry.transform import apply
from ..shapes.several import Laid
from .corners import corners
from .drawing import draw_layer
from .layers import ResolvedLayer

if TYPE_CHECKING:
    from .context import Context

NEAR = 1e-6
"""Pixels by which what lies within a frame may miss it: what multiplying floats may lose."""


class InnerScene:
    """The layers of a scene, resolved at some of its frames; `context` is what they were resolved in."""

    def __init__(self, layers: Sequence[ResolvedLayer], context: Context) -> None:
        self._units = [layer for layer in layers if layer.layer.content.shows and layer.layer.visible]
        self._layers = [layer for layer in layers if layer.visible.any()]
        self._context = context

    @cached_property
    def apart(self) -> NDArray[np.bool_]:
        """The frames (1 | n,) at which it looks other unless it is cropped by its frame and laid in as one: something
        reaches beyond that, or blends with what lies below in another way than lying over it."""
        found = np.zeros(1, dtype=bool)
        for one in self._layers:
            alone = one.layer.blend != "normal" or one.layer.content.filters
            found = found | (one.visible & (True if alone else self._beyond(one)))
        return found

    @cached_property
    def beyond(self) -> str | None:
        """The name of the first layer that reaches beyond the frame; None where none does."""
        names = (one.layer.name for one in self._layers if (one.visible & self._beyond(one)).any())
        return next(names, None)

    def _beyond(self, layer: ResolvedLayer) -> NDArray[np.bool_]:
        """The frames (1 | n,) at which a layer, were it visible, would reach beyond the frame."""
        pen = BoundsPen()
        if layer.layer.content.scenes:
            # What it shows is cropped by its own frame, or lies within it.
            framed = Layering() if layer.framed is None else Layering(layer.framed)
            with pen.group(Layering(layer.matrix, effects=layer.effects)), pen.group(framed):
                pen.image("", layer.content_box)
        else:
            draw_layer(pen, layer, self._context)
        if pen.box is None:
            return np.zeros(1, dtype=bool)
        scene = self._context.scene
        low, high = pen.box[:, :2], pen.box[:, :2] + pen.box[:, 2:]
        return np.asarray((low < -NEAR).any(axis=1) | (high > np.array([scene.width, scene.height]) + NEAR).any(axis=1))

    @cached_property
    def way(self) -> float:
        """How far anything in it goes over its frames, in its own pixels."""
        return max((way_of(one, self._context) for one in self._layers), default=0.0)

    @cached_property
    def boxes(self) -> Floats:
        """The boxes (1 | n, u, 4) of its layers that show anything, in its own pixels, there or not."""
        found = []
        for one in self._units:
            left, top, width, height = np.moveaxis(one.box, 1, 0)
            corners = np.stack([left, top, left + width, top, left + width, top + height, left, top + height], axis=1)
            at = apply(one.matrix[:, None], corners.reshape(len(corners), 4, 2))
            low = at.min(axis=1)
            found.append(np.concatenate([low, at.max(axis=1) - low], axis=1))
        return np.stack(np.broadcast_arrays(*found), axis=1) if found else np.zeros((1, 0, 4))

    def draw(self, pen: Pen, laid: Sequence[Laid] = ()) -> None:
        """Draw its layers on a pen, in its own pixels, as if its frame had no edge; `laid` is how each of those lies
        that have a box."""
        how = dict(zip((one.layer.id for one in self._units), laid, strict=False)) if laid else {}
        for layer in self._layers:
            if layer.layer.id not in how:
                draw_layer(pen, layer, self._context)
                continue
            with how[layer.layer.id](pen) as on:
                draw_layer(on, layer, self._context)


def way_of(one: ResolvedLayer, context: Context) -> float:
    """How far a layer goes over its frames, in pixels of the scene: its corners, and what moves within it."""
    places = corners(one)
    far = 0.0
    if len(places) > 1:
        steps = np.diff(places, axis=0)
        far = float(np.hypot(steps[..., 0], steps[..., 1]).sum(axis=0).max())
    within: float = one.layer.content.way(one.inner, context.around(one.layer, one.frames))
    scale = float(np.linalg.norm(one.matrix[:, :4].reshape(-1, 2, 2), 2, axis=(1, 2)).max())
    return far + within * scale
