"""A scene's layers as parts that browsers move by themselves: what each shows in its own pixels, and its motion."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from ...core.contents.assets import Assets
from ...core.document.scene import Layer, Scene
from ...core.draw.operations import Group, columns_in
from ...core.resolve.drawing import layer_group
from ...core.resolve.layers import ResolvedLayer
from ...core.resolve.resolved import resolve
from .channels import Channel, Motion, motion_of

UNMOVED = np.array([[1.0, 0.0, 0.0, 1.0, 0.0, 0.0]])
SEEN = np.ones((1, 1))


@dataclass(frozen=True)
class Part:
    """A layer over frames first…stop: `own` is what it shows in its own pixels, `placed` the same where it stands in
    the scene, both over all frames."""

    layer: Layer
    resolved: ResolvedLayer
    own: Group
    placed: Group
    motion: Motion

    @property
    def plain(self) -> bool:
        """Whether its own pixels are all that is moved: nothing of it depends on where it stands."""
        layer = self.layer
        told = layer.masks or layer.matte or layer.effects or layer.crop or layer.framing or layer.content.filters
        return not told

    @property
    def shown(self) -> int:
        """The frame, counted from the first, at which it stands for all of them."""
        count = len(self.resolved.frames)
        return _middle(self.resolved, count)

    @property
    def box(self) -> tuple[float, float, float, float]:
        """left, top, width, height of what it shows then, in its own pixels."""
        left, top, width, height = np.broadcast_to(self.resolved.content_box, (len(self.resolved.frames), 4))[
            self.shown
        ]
        return float(left), float(top), float(width), float(height)

    @property
    def changes(self) -> bool:
        """Whether what it shows changes in itself, while it is there."""
        told = (self.own.parts, self.own.masks, self.own.matte, self.own.effects)
        return any(len(column) > 1 and (column != column[0]).any() for column in columns_in(told))


def parts_of(scene: Scene, assets: Assets, first: int, stop: int, boxed: bool = False) -> Iterator[Part]:
    """The layers that are seen in frames first…stop (not included), back to front. `boxed`, each is a box of its own
    that is placed where it has landed."""
    found = resolve(scene, np.arange(first, stop, dtype=np.float64), assets)
    size = scene.width, scene.height
    for layer in scene.layers:
        one = found.layers[layer.id]
        if not one.visible.any():
            continue
        still = replace(one, matrix=UNMOVED, opacity=SEEN)
        own, placed = layer_group(still, found.context, size), layer_group(one, found.context, size)
        corner = None
        if boxed:
            box = np.broadcast_to(one.content_box, (stop - first, 4))[_middle(one, stop - first)]
            corner = float(box[0]), float(box[1])
        yield Part(layer, one, own, placed, motion_of(layer, one, scene, first, stop, corner))


def _middle(one: ResolvedLayer, count: int) -> int:
    """The middle of the frames in which a layer is seen: by then it has come in, and is not yet on its way out."""
    seen = np.flatnonzero(np.broadcast_to(one.visible, (count,)))
    return int(seen[len(seen) // 2])


def css_of(channels: tuple[Channel, ...], name: str, seconds: float, plays: int) -> tuple[list[str], str]:
    """Channels as @keyframes, a rule for each that moves, and as the declarations of what they move."""
    rules, running, still = [], [], []
    for channel in channels:
        if channel.rests:
            if channel.keys[0].value not in PLAIN.get(channel.name, ()):
                still.append(f"{channel.name}:{channel.keys[0].value}")
            continue
        keys = "".join(
            f"{key.offset * 100:.8g}%{{{channel.name}:{key.value}"
            + ("" if key.easing == "linear" else f";animation-timing-function:{key.easing}")
            + "}"
            for key in channel.keys
        )
        rules.append(f"@keyframes {name}-{channel.name}{{{keys}}}")
        running.append(f"{name}-{channel.name} {seconds:.9g}s linear {plays or 'infinite'} both")
    if running:
        still.append(f"animation:{','.join(running)}")
    return rules, ";".join(still)


PLAIN = {
    "visibility": ("visible",), "opacity": ("1",), "rotate": ("0deg",), "scale": ("1 1",), "translate": ("0px 0px",),
}  # fmt: skip
"""Values that need not be said."""
