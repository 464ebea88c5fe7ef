"""What lies before an open shutter: a frame of a scene at fractions of it."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..contents.assets import Assets
from ..document.scene import Layer, Scene
from ..draw.operations import DrawList, Group, columns_in
from ..geometry.bezier import Floats
from .bounds import corners
from .context import Context
from .drawing import draw_list, layer_group
from .layers import ResolvedLayer
from .resolved import resolve

STEP = 1.5
"""Pixels that anything moves from one sample to the next at most, where there may be as many samples."""
LEAST = 8
"""Samples of what changes without moving, such as an opacity."""
LOOKED = 9


def exposed(scene: Scene, frame: float, assets: Assets) -> DrawList:
    """What painters draw of a frame, a row for each moment at which the shutter is open; one where nothing moves then.

    Layers that are not blurred are as they are at the frame itself; no layer is looked at outside of its span.
    """
    blur = scene.motion_blur
    plain = draw_list(resolve(scene, [frame], assets))
    blurred = [layer for layer in scene.layers if layer.motion_blur and layer.visible]
    if blur is None or not blurred:
        return plain
    begin, long = frame + blur.phase / 360.0, blur.shutter / 360.0
    context = Context(scene, assets)
    looked = begin + long * np.linspace(0.0, 1.0, LOOKED)
    far = max((_way(_at(layer, looked, context)) for layer in blurred), default=0.0)
    count = int(np.clip(np.ceil(far / STEP), LEAST, blur.samples)) if blur.samples > LEAST else blur.samples
    times = begin + long * (np.arange(count) + 0.5) / count
    size = scene.width, scene.height
    moving: dict[str, Group] = {}
    for layer in blurred:
        if not layer.span.start <= frame < layer.span.end:
            continue
        made = layer_group(_at(layer, times, context), context, size)
        if any(len(column) > 1 for column in columns_in(made)):
            moving[layer.id] = made
    if not moving:
        return plain
    drawn = resolve(scene, [frame], assets)
    groups = tuple(
        moving[name] if name in moving else layer_group(one, drawn.context, size)
        for name, one in drawn.layers.items()
        if one.visible.any()
    )
    return replace(plain, frames=times, groups=groups)


def _at(layer: Layer, times: Floats, context: Context) -> ResolvedLayer:
    """A layer at some times, those outside of its span taken as its ends, there at all of them."""
    within = np.clip(times, layer.span.start, layer.span.end - 1e-3)
    (one,) = context.resolve([layer], within)
    return replace(one, visible=np.ones(len(within), dtype=bool))


def _way(one: ResolvedLayer) -> float:
    """How far the corners of a layer go over its frames, in pixels of the scene."""
    places = corners(one)
    if len(places) < 2:
        return 0.0
    steps = np.diff(places, axis=0)
    return float(np.hypot(steps[..., 0], steps[..., 1]).sum(axis=0).max())
