"""Whether a layer changes the painted picture at all."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..core.contents.assets import Assets
from ..core.document.scene import Scene
from ..core.resolve.drawing import draw_list
from ..core.resolve.resolved import resolve
from .painter import Media, Painter

WIDTH = 480
NEAR = 2


def shows(scene: Scene, layer: str, frame: int, assets: Assets, load: Media) -> Literal["shows", "same", "covered"]:
    """Paint a frame, small, with a layer and without: whether a pixel differs by more than 2 of 255.

    `same`: not even without the layers in front of it; `covered`: it would, were they not there.
    """
    scale = min(WIDTH / scene.width, 1.0)

    def painted(layers: tuple[int, ...]) -> np.ndarray:
        painter = Painter(scene.width, scene.height, load, scale)
        painter.paint(draw_list(resolve(scene, [frame], assets, ids=[scene.layers[index].id for index in layers])), 0)
        return painter.pixels(premultiplied=False).astype(int)

    def differs(layers: tuple[int, ...]) -> bool:
        return bool((np.abs(painted(layers) - painted(tuple(i for i in layers if i != place))) > NEAR).any())

    place = scene.places[layer]
    if differs(tuple(range(len(scene.layers)))):
        return "shows"
    return "covered" if differs(tuple(range(place + 1))) else "same"
