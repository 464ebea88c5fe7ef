"""What is seen and heard of a scene, frame by frame and block by block, for those that write it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

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
from .choices import PLAIN, Choices
from .film import Film, Sound
from .media_loader import MediaLoader

WINDOW = 48
BLOCK = RATE
"""Samples that are mixed at once."""


def film_of(scene: Scene, first: int, stop: int = 0, choices: Choices = PLAIN, even: bool = False) -> Film:
    """What is written of frames first…stop (not included) of a scene."""
    rate = choices.frames_a_second(scene.frame_rate)
    alpha = choices.behind is None and scene.background[7:] != "ff"
    count = choices.count(first, stop, scene.frame_rate) if stop > first else 0
    return Film(choices.size(scene.width, scene.height, even), rate, alpha, first, count, choices)


def on_colour(scene: Scene, behind: str | None) -> Scene:
    """A scene with a colour (#rrggbbff) behind its background."""
    if behind is None:
        return scene
    over, under = (np.array(list(bytes.fromhex(colour[1:])), dtype=np.float64) for colour in (scene.background, behind))
    alpha = over[3] / 255.0
    mixed = np.rint(over[:3] * alpha + under[:3] * (1.0 - alpha)).astype(int)
    return scene.model_copy(update={"background": "#" + bytes([*mixed, 255]).hex()})


def frames_of(
    scene: Scene, assets: Assets, files: MediaFiles, moments: Sequence[float], scale: float = 1.0
) -> Iterator[Painter]:
    """Paint moments of a scene, frames of it or between them, one after another, in pixels of the scene times `scale`;
    the painter is handed over with each on its surface."""
    painter = Painter(scene.width, scene.height, MediaLoader(files), scale)
    if scene.motion_blur is not None:
        for moment in moments:
            paint_exposed(painter, exposed(scene, moment, assets))
            yield painter
        return
    for start in range(0, len(moments), WINDOW):
        window = np.asarray(moments[start : start + WINDOW], dtype=np.float64)
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
