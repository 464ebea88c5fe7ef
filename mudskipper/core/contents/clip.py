"""A clip of the project."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from ..assets import Assets
from ..base_model import Id
from ..bezier import Floats
from ..draw.pen import Pen
from ..shown import Shown
from ..sound import Sound
from .base import Around, Values
from .timed import TimedContent


class ClipContent(TimedContent):
    """A clip of the project. The origin is its top left corner."""

    can_cover: ClassVar[bool] = True
    has_pixels: ClassVar[bool] = True

    kind: Literal["clip"] = "clip"
    asset: Annotated[Id, Shown("Clip")]
    sound: Sound = Sound()

    @property
    def default_name(self) -> str:
        return "Clip"

    @property
    def clips(self) -> tuple[str, ...]:
        return (self.asset,)

    def sound_of(self, assets: Assets) -> Sound | None:
        return self.sound if assets.clip(self.asset).sound else None

    def lasts(self, assets: Assets, fps: float) -> int:
        return self.time.lasts(assets.clip(self.asset).length, fps)

    def times(self, around: Around) -> tuple[Floats, float]:
        info = around.clip(self.asset)
        return info.times, info.length

    def box(self, values: Values, around: Around) -> Floats:
        info = around.clip(self.asset)
        return np.array([[0.0, 0.0, info.width, info.height]])

    def draw(self, pen: Pen, values: Values, around: Around) -> None:
        frames = self.source_frames(values, around)[:, None].astype(np.float64)
        pen.image(self.asset, self.box(values, around), frames[:1] if (frames == frames[:1]).all() else frames)
