"""What is seen and heard of a scene, frame by frame and block by block, for those that write it."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..core.contents.assets import Assets
from ..core.document.scene import Scene
from ..core.resolve.context import Context
from ..core.resolve.drawing import draw_list
from ..core.resolve.resolved import resolve
from ..core.resolve.shutter import exposed
from ..core.resolve.sound.mix import RATE, heard, mixed
from ..media.files import MediaFiles
from ..media.sounds import samples_in
from ..paint.exposure import paint_exposed
from ..paint.painter import Painter
from .film import Film, Sound
from .media_loader import MediaLoader

WINDOW = 48
BLOCK = RATE
"""Samples that are mixed at once."""


def film_of(scene: Scene, first: int) -> Film:
    """What is written of a scene from a frame on."""
    return Film((scene.width, scene.height), scene.frame_rate, scene.background[7:] != "ff", first)


def frames_of(scene: Scene, assets: Assets, files: MediaFiles, first: int, stop: int) -> Iterator[Painter]:
    """Paint frames one after another; the painter is handed over with each frame on its surface."""
    painter = Painter(scene.width, scene.height, MediaLoader(files))
    if scene.motion_blur is not None:
        for frame in range(first, stop):
            paint_exposed(painter, exposed(scene, frame, assets))
            yield painter
        return
    for start in range(first, stop, WINDOW):
        window = np.arange(start, min(start + WINDOW, stop))
        drawing = draw_list(resolve(scene, window, assets))
        for index in range(len(window)):
            painter.paint(drawing, index)
            yield painter


def sound_of(scene: Scene, assets: Assets, files: MediaFiles, first: int, stop: int) -> Sound | None:
    """What is heard of frames first…stop (not included); None where nothing is."""
    context = Context(scene, assets)
    if not heard(scene, context):
        return None
    read = samples_in(files)
    begin, end = (round(at * RATE / scene.fps) for at in (first, stop))

    def blocks() -> Iterator[np.ndarray]:
        for start in range(begin, end, BLOCK):
            yield mixed(scene, context, start, min(BLOCK, end - start), read)

    return Sound(RATE, end - begin, blocks())
