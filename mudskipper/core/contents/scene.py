"""Another scene of the project."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from ..draw.inks import Layering, MaskInk
from ..draw.pen import Pen, filled
from ..geometry.bezier import Floats
from ..geometry.transform import UNMOVED
from ..ground.base_model import Flag, Id
from ..ground.shown import Shown
from .assets import Assets
from .audible import Sound
from .base import Around, Values
from .timed import TimedContent

BEYOND = 8.0
"""Pixels by which a background goes beyond the frame that crops it, or a frame that crops nothing beyond what lies in
it, so that no edge is faded twice."""


class SceneContent(TimedContent):
    """Another scene of the project, cropped by its frame, whose top left corner is the origin.

    It is a source that shows its own frames at its own rate; with `background` on its own background, else through it.
    """

    can_cover: ClassVar[bool] = True

    kind: Literal["scene"] = "scene"
    asset: Annotated[Id, Shown("Scene")]
    background: Annotated[Flag, Shown("Background")] = False
    sound: Sound = Sound()

    @property
    def default_name(self) -> str:
        return "Scene"

    @property
    def scenes(self) -> tuple[str, ...]:
        return (self.asset,)

    def sound_of(self, assets: Assets) -> Sound | None:
        scene = assets.scenes.get(self.asset)
        return self.sound if scene and any(layer.is_heard(assets) for layer in scene.layers) else None

    def lasts(self, assets: Assets, fps: float) -> int:
        scene = assets.scene(self.asset)
        return self.time.lasts(scene.length / scene.fps, fps)

    def times(self, around: Around) -> tuple[Floats, float]:
        scene = around.scene(self.asset)
        return np.arange(scene.length) / scene.fps, scene.length / scene.fps

    def box(self, values: Values, around: Around) -> Floats:
        scene = around.scene(self.asset)
        return np.array([[0.0, 0.0, float(scene.width), float(scene.height)]])

    def draw(self, pen: Pen, values: Values, around: Around) -> None:
        frames = self.source_frames(values, around).astype(np.float64)
        there = around.there & (frames >= 0)
        if not there.any():
            return
        # Where nothing of it is seen, nothing more of it is resolved.
        frames = np.where(there, frames, frames[there][0])
        scene = around.scene(self.asset)
        shown = around.inner(self.asset, frames[:1] if (frames == frames[0]).all() else frames)
        colour = np.array([list(bytes.fromhex(scene.background[1:]))], dtype=np.float64)
        size = float(scene.width), float(scene.height)
        # Whether it is cropped at a frame goes by that frame alone, whichever others are looked at.
        apart = shown.apart[:, None]
        masks = (_frame_mask(*size, np.where(apart, 0.0, BEYOND)),) if apart.any() else ()
        seen = there[:1] if there.all() else there
        with pen.group(Layering(visible=seen[:, None].astype(np.float64), masks=masks)):
            if self.background and colour[0, 3] > 0:
                pen.path("MLLLZ", _rectangle(*size, np.where(apart, BEYOND, 0.0)), colour)
            shown.draw(pen)


def _rectangle(width: float, height: float, beyond: Floats) -> Floats:
    """The corners (1 | n, 8) of a frame grown by some pixels (1 | n, 1)."""
    left, right, bottom = -beyond, width + beyond, height + beyond
    return np.concatenate([left, left, right, left, right, bottom, left, bottom], axis=1)


def _frame_mask(width: float, height: float, beyond: Floats) -> MaskInk:
    """The frame of a scene, which crops what lies in it; grown by some pixels (1 | n, 1), beyond which nothing lies."""
    edge = filled("MLLLZ", _rectangle(width, height, beyond))
    return MaskInk(edge, np.array([[255.0]]), np.array([[0.0]]), UNMOVED, "add")
