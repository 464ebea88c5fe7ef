"""What clips and sounds share: a source of the project that may be heard."""

from __future__ import annotations

from typing import Self

from ..geometry.bezier import Floats
from ..ground.base_model import MediaName
from .assets import Assets
from .audible import Sound
from .base import Around
from .timed import TimedContent


class HeardContent(TimedContent):
    """A content whose source is a clip or a sound of the project, its `asset`."""

    asset: MediaName
    sound: Sound = Sound()

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

    def cut(self) -> tuple[Self, Self]:
        head = self.sound.model_copy(update={"fade_out": 0.0})
        tail = self.sound.model_copy(update={"fade_in": 0.0})
        return self.model_copy(update={"sound": head}), self.model_copy(update={"sound": tail})
