"""A sound of the project, heard and not seen."""

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


class SoundContent(TimedContent):
    """A sound of the project."""

    shows: ClassVar[bool] = False

    kind: Literal["sound"] = "sound"
    asset: Annotated[Id, Shown("Sound")]
    sound: Sound = Sound()

    @property
    def default_name(self) -> str:
        return "Sound"

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
        return np.zeros((1, 4))

    def draw(self, pen: Pen, values: Values, around: Around) -> None:
        """Nothing."""
