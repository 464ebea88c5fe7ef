"""Another scene of the project."""

from __future__ import annotations

from fractions import Fraction
from typing import Annotated, ClassVar, Literal, Self

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, field_validator

from ..draw.inks import Layering, MaskInk
from ..draw.pen import Pen, filled
from ..geometry.bezier import Floats
from ..geometry.transform import UNMOVED
from ..ground.base_model import Flag, MediaName
from ..ground.shown import Shown
from ..tracks.source_time import SAME_MOMENT
from .assets import Assets
from .audible import Sound
from .base import Around, InnerPicture, Values
from .cascade import MOST_CASCADES, Cascade, in_time
from .cascade_units import UnitsOf
from .filled import MOST_FILLED, Filled, Fills
from .item_cascades import draw_units, set_out_items, units_moved
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
    asset: Annotated[MediaName, Shown("Scene")]
    background: Annotated[Flag, Shown("Background")] = False
    sound: Sound = Sound()
    cascades: Annotated[tuple[Cascade, ...], Field(max_length=MOST_CASCADES), Shown("Cascades")] = ()
    """Its layers moved one after another."""
    fills: Annotated[Fills, Field(max_length=MOST_FILLED), Shown("Slots")] = ()
    """What its slots hold here; the others are as in that scene."""

    @field_validator("fills")
    @classmethod
    def _slots_once(cls, fills: tuple[Filled, ...]) -> tuple[Filled, ...]:
        if len({one.slot for one in fills}) < len(fills):
            raise ValueError("a slot is filled once")
        return fills

    @property
    def default_name(self) -> str:
        return "Scene"

    @property
    def scenes(self) -> tuple[str, ...]:
        return (self.asset,)

    @property
    def filled(self) -> tuple[Filled, ...]:
        return self.fills

    @property
    def pictures(self) -> tuple[str, ...]:
        return tuple(str(one.value) for one in self.fills if one.medium == "picture")

    @property
    def clips(self) -> tuple[str, ...]:
        return tuple(str(one.value) for one in self.fills if one.medium in ("clip", "sound"))

    @property
    def families(self) -> tuple[str, ...]:
        return tuple(str(one.value) for one in self.fills if one.medium == "font")

    def sound_of(self, assets: Assets) -> Sound | None:
        scene = assets.scenes.get(self.asset)
        return self.sound if scene and any(layer.is_heard(assets) for layer in scene.layers) else None

    def lasts(self, assets: Assets, fps: float) -> int:
        scene = assets.scene(self.asset)
        return self.time.lasts(scene.length / scene.fps, fps)

    def times(self, around: Around) -> tuple[Floats, float]:
        scene = around.scene(self.asset, self.fills)
        return np.arange(scene.length) / scene.fps, scene.length / scene.fps

    def box(self, values: Values, around: Around) -> Floats:
        scene = around.scene(self.asset, self.fills)
        return np.array([[0.0, 0.0, float(scene.width), float(scene.height)]])

    def set_out(self, values: Values, around: Around) -> tuple[UnitsOf, tuple[Cascade, ...]] | None:
        if not self.cascades:
            return None
        boxes = self._inner(values, around)[0].boxes
        return set_out_items(boxes, self.cascades) if boxes.shape[1] else None

    def way(self, values: Values, around: Around) -> float:
        return self._inner(values, around)[0].way

    def _inner(self, values: Values, around: Around) -> tuple[InnerPicture, NDArray[np.bool_]]:
        """What it shows, as at its first frame where it shows nothing; and when it shows anything (n,)."""
        opened = around.opened
        if opened is None:
            frames, there = self._frames(values, around)
            return around.inner(self.asset, frames, fills=self.fills), there
        frame = int(self.source_frames(*opened)[0])
        there = around.there & (frame >= 0)
        moments = np.zeros(1) if frame < 0 else self._moments(values, around, *opened, frame)
        return around.inner(self.asset, moments, float(max(frame, 0)), self.fills), there

    def _moments(self, values: Values, around: Around, at: Values, then: Around, frame: int) -> Floats:
        """The moments of its own (1 | n,) of a frame for which a shutter is open; none where it is held at an end."""
        scene = around.scene(self.asset, self.fills)
        seconds, middle = self.seconds(values, around), float(self.seconds(at, then)[0])
        past = middle >= scene.length / scene.fps - SAME_MOMENT
        if (middle < -SAME_MOMENT and self.time.before == "hold") or (past and self.time.after == "hold"):
            return np.array([float(frame)])
        part = (middle * scene.fps) % 1.0
        part = 0.0 if part > 1.0 - 1e-6 else part
        found = np.clip(frame + part + (seconds - middle) * scene.fps, 0.0, scene.length - 1e-3)
        return found[:1] if (found == found[0]).all() else found

    def _frames(self, values: Values, around: Around) -> tuple[Floats, NDArray[np.bool_]]:
        """The frames of its own that it shows (1 | n,), the first where it shows none; and when it shows any (n,)."""
        frames = self.source_frames(values, around).astype(np.float64)
        there = around.there & (frames >= 0)
        # Where nothing of it is seen, nothing more of it is resolved.
        frames = np.where(there, frames, frames[there][0] if there.any() else 0.0)
        return frames[:1] if (frames == frames[0]).all() else frames, there

    def draw(self, pen: Pen, values: Values, around: Around) -> None:
        shown, there = self._inner(values, around)
        if not there.any():
            return
        scene = around.scene(self.asset, self.fills)
        letters = self.set_out(values, around)
        moved = None if letters is None else units_moved(letters, values, around)
        colour = np.array([list(bytes.fromhex(scene.background[1:]))], dtype=np.float64)
        size = float(scene.width), float(scene.height)
        # Whether it is cropped at a frame goes by that frame alone, whichever others are looked at.
        apart = shown.apart[:, None]
        if moved is not None:
            apart = apart | ~moved.rest.all(axis=1, keepdims=True)
        masks = (_frame_mask(*size, np.where(apart, 0.0, BEYOND)),) if apart.any() else ()
        seen = there[:1] if there.all() else there
        with pen.group(Layering(visible=seen[:, None].astype(np.float64), masks=masks)):
            if self.background and colour[0, 3] > 0:
                pen.path("MLLLZ", _rectangle(*size, np.where(apart, BEYOND, 0.0)), colour)
            if moved is None or letters is None:
                shown.draw(pen)
            else:
                deep = any(one.deep for one in self.cascades)
                draw_units(pen, moved, letters[0]("item"), deep, False, shown.draw)

    def shifted(self, by: float, fps: float) -> Self:
        return in_time(super().shifted(by, fps), lambda frame: frame + by, 1.0)

    def at_rate(self, old_start: int, start: int, old: Fraction, rate: Fraction) -> Self:
        ratio = float(rate / old)
        found = super().at_rate(old_start, start, old, rate)
        return in_time(found, lambda frame: (frame + old_start) * ratio - start, ratio)


def _rectangle(width: float, height: float, beyond: Floats) -> Floats:
    """The corners (1 | n, 8) of a frame grown by some pixels (1 | n, 1)."""
    left, right, bottom = -beyond, width + beyond, height + beyond
    return np.concatenate([left, left, right, left, right, bottom, left, bottom], axis=1)


def _frame_mask(width: float, height: float, beyond: Floats) -> MaskInk:
    """The frame of a scene, which crops what lies in it; grown by some pixels (1 | n, 1), beyond which nothing lies."""
    edge = filled("MLLLZ", _rectangle(width, height, beyond))
    return MaskInk(edge, np.array([[255.0]]), np.array([[0.0]]), UNMOVED, "add")
