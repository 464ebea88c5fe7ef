"""What lies before an open shutter: a frame of a scene at fractions of it."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..contents.assets import Assets
from ..document.scene import Scene
from ..draw.operations import DrawList, Group, columns_in
from .context import Context
from .drawing import draw_list, layer_group
from .inner_scene import way_of
from .resolved import resolve

STEP = 1.5
"""Pixels that anything moves from one sample to the next at most, where there may be as many samples."""
LEAST = 8
"""Samples of what changes without moving, such as an opacity."""
LOOKED = 9


def exposed(scene: Scene, frame: float, assets: Assets) -> DrawList:
    """What painters draw of a frame, a row for each moment at which the shutter is open; one where nothing moves then.

    Layers that are not blurred are as they are at the frame itself; no layer, nor one of a scene within, is looked at
    outside of its span.
    """
    blur = scene.motion_blur
    plain = draw_list(resolve(scene, [frame], assets))
    blurred = [layer for layer in scene.layers if layer.motion_blur and layer.visible]
    if blur is None or not blurred:
        return plain
    begin, long = frame + blur.phase / 360.0, blur.shutter / 360.0
    context = Context(scene, assets, opened=frame)
    looked = begin + long * np.linspace(0.0, 1.0, LOOKED)
    far = max((way_of(context.while_open(layer, looked), context) for layer in blurred), default=0.0)
    count = int(np.clip(np.ceil(far / STEP), LEAST, blur.samples)) if blur.samples > LEAST else blur.samples
    times = begin + long * (np.arange(count) + 0.5) / count
    size = scene.width, scene.height
    moving: dict[str, Group] = {}
    for layer in blurred:
        if not layer.span.start <= frame < layer.span.end:
            continue
        made = layer_group(context.while_open(layer, times), context, size)
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
