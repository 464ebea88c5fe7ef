"""What contents share whose source runs in a time of its own: clips, and scenes."""

from __future__ import annotations

from abc import abstractmethod
from fractions import Fraction
from typing import ClassVar, Self

import numpy as np

from ..geometry.bezier import Floats
from ..geometry.values import within
from ..tracks.source_time import SAME_MOMENT, SourceTime, Wholes, source_frames
from .base import Around, Content, Values


class TimedContent(Content):
    """A content that shows a frame of a source."""

    runs: ClassVar[bool] = True

    time: SourceTime = SourceTime()

    @property
    def source_time(self) -> SourceTime:
        return self.time

    @abstractmethod
    def times(self, around: Around) -> tuple[Floats, float]:
        """When the frames of the source begin (m,), and when the last one ends, in seconds of the source."""

    def seconds(self, values: Values, around: Around) -> Floats:
        """The source's time (n,) at the frames around, in seconds."""
        keyed = within(values, "time.").get("keyed") if self.time.keyed is not None else None
        return self.time.seconds(around.local, around.fps, keyed)

    def source_frames(self, values: Values, around: Around) -> Wholes:
        """The frames of the source that are shown (n,), −1 where none is."""
        times, length = self.times(around)
        return source_frames(self.seconds(values, around), times, length, self.time.before, self.time.after)

    def shown_frames(self, values: Values, around: Around) -> Floats:
        found = self.source_frames(values, around)[:, None].astype(np.float64)
        return found[:1] if found.size and (found == found[0]).all() else found

    def ends(self, values: Values, around: Around) -> list[int]:
        """Of frames in order, those at which the source begins or ends: it is there, and was not the frame before, or
        the other way round."""
        _, length = self.times(around)
        seconds = self.seconds(values, around)
        inside = (seconds > -SAME_MOMENT) & (seconds < length - SAME_MOMENT)
        return [int(at) for at in around.frames[1:][inside[1:] != inside[:-1]]]

    def shifted(self, by: float, fps: float) -> Self:
        return self.model_copy(update={"time": self.time.shifted(by, fps)})

    def at_rate(self, old_start: int, start: int, old: Fraction, rate: Fraction) -> Self:
        return self.model_copy(update={"time": self.time.at_rate(old_start, start, old, rate)})
