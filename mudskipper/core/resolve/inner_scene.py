"""What a scene shows within another."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property
from typing import TYPE_CHECKING

from ..draw.bounds import BoundsPen
from ..draw.inks import Layering
from ..draw.pen import Pen
from .drawing import draw_layer
from .layers import ResolvedLayer

if TYPE_CHECKING:
    from .context import Context

NEAR = 1e-6
"""Pixels by which what lies within a frame may miss it: what multiplying floats may lose."""


class InnerScene:
    """The layers of a scene, resolved at some of its frames; `context` is what they were resolved in."""

    def __init__(self, layers: Sequence[ResolvedLayer], context: Context) -> None:
        self._layers = [layer for layer in layers if layer.visible.any()]
        self._context = context

    @cached_property
    def alone(self) -> bool:
        """Whether it looks the same wherever it is laid in: nothing reaches beyond its frame, and nothing blends with
        what lies below in another way than lying over it."""
        return all(one.layer.blend == "normal" for one in self._layers) and self.beyond is None

    @cached_property
    def beyond(self) -> str | None:
        """The name of the first layer that reaches beyond the frame; None where none does."""
        scene = self._context.scene
        names = (one.layer.name for one in self._layers if not self._within(one, scene.width, scene.height))
        return next(names, None)

    def _within(self, layer: ResolvedLayer, width: int, height: int) -> bool:
        pen = BoundsPen()
        if layer.layer.content.scenes:
            # What it shows is cropped by its own frame, or lies within it.
            framed = Layering() if layer.framed is None else Layering(layer.framed)
            with pen.group(Layering(layer.matrix, effects=layer.effects)), pen.group(framed):
                pen.image("", layer.content_box)
        else:
            draw_layer(pen, layer, self._context)
        if pen.box is None:
            return True
        box = pen.box if len(pen.box) == 1 else pen.box[layer.visible]
        low, high = box[:, :2], box[:, :2] + box[:, 2:]
        return bool((low >= -NEAR).all() and (high[:, 0] <= width + NEAR).all() and (high[:, 1] <= height + NEAR).all())

    def draw(self, pen: Pen) -> None:
        """Draw its layers on a pen, in its own pixels, as if its frame had no edge."""
        for layer in self._layers:
            draw_layer(pen, layer, self._context)
