"""Which moment of a source that moves by itself a layer shows: one function from scene frames to source frames."""

from __future__ import annotations

import math
from fractions import Fraction
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, field_validator

from ..geometry.bezier import Floats
from ..ground.base_model import Model
from ..ground.shown import Shown
from .base import KeyFrame, tidy_frame
from .kinds import NumberTrack

SAME_MOMENT = 1e-7
"""Source frames by which a moment may fall short of a frame that it shows: what adding floats may lose."""
SLOWEST, FASTEST = 10.0, 1_000.0

Outside = Literal["hold", "nothing", "loop"]
Wholes = NDArray[np.int64]


class SourceTime(Model):
    """How a source runs in its layer.

    At the layer's first frame it stands at `start` (seconds of the source) and goes on at `speed` (percent; below 0 it
    runs backwards) until the layer frame `freeze`, from which it stands still. Where `keyed` is there, that is the
    source's time instead. Before its beginning and after its end it holds, shows nothing or loops.
    """

    start: Annotated[float, Field(strict=True, ge=-1e6, le=1e6), Shown("Source start", "s")] = 0.0
    speed: Annotated[float, Field(strict=True, ge=-FASTEST, le=FASTEST), Shown("Speed", "%")] = 100.0
    freeze: Annotated[KeyFrame | None, Shown("Freeze")] = None
    before: Annotated[Outside, Shown("Before its beginning")] = "hold"
    after: Annotated[Outside, Shown("After its end")] = "hold"
    keyed: Annotated[NumberTrack | None, Shown("Source time", "s", role="size", step=0.04)] = None

    @field_validator("speed")
    @classmethod
    def _moves(cls, speed: float) -> float:
        if abs(speed) < SLOWEST:
            raise ValueError(
                f"a speed must lie between {SLOWEST:g} % and {FASTEST:g} %, forwards or backwards; freeze a source "
                "that is to stand still"
            )
        return speed

    def seconds(self, local: Floats, fps: float, keyed: Floats | None = None) -> Floats:
        """The source's time (n,) in seconds at frames (n,) counted from the layer's start; `keyed` (1 | n, 1) are the
        values of the track of that name.

        >>> SourceTime(start=2.0, speed=-50.0, freeze=25.0).seconds(np.array([0.0, 25.0, 50.0]), 25.0).tolist()
        [2.0, 1.5, 1.5]
        """
        if keyed is not None:
            return np.broadcast_to(keyed[:, 0], local.shape)
        runs = local if self.freeze is None else np.minimum(local, self.freeze)
        return np.asarray(self.start + runs * (self.speed / 100.0) / fps)

    def lasts(self, length: float, fps: float) -> int:
        """For how many frames a source of `length` seconds goes on from its start, at its speed."""
        left = length - self.start if self.speed > 0 else self.start
        return max(math.ceil(left * 100.0 / abs(self.speed) * fps - SAME_MOMENT), 1)

    def shifted(self, by: float, fps: float) -> SourceTime:
        """As it runs in a layer whose frames are counted from `by` frames earlier: what is shown when stays."""
        freeze = self.freeze
        return self.model_copy(
            update={
                "start": self.start - by * (self.speed / 100.0) / fps,
                "freeze": freeze if freeze is None else tidy_frame(freeze + by),
            }
        )

    def at_rate(self, old_start: int, start: int, old: Fraction, rate: Fraction) -> SourceTime:
        """As it runs in a scene of another rate, in which the layer starts at another frame: it keeps its seconds."""
        moved = Fraction(start) / rate - Fraction(old_start) / old
        freeze = self.freeze
        if freeze is not None:
            freeze = tidy_frame(float((Fraction(freeze) + old_start) * rate / old - start))
        return self.model_copy(update={"start": self.start + float(moved) * self.speed / 100.0, "freeze": freeze})

    def backwards(self, length: int, fps: float) -> SourceTime:
        """The other way round: what a layer of `length` frames showed last it shows first."""
        last = float(self.model_copy(update={"freeze": None}).seconds(np.array([length - 1.0]), fps)[0])
        return self.model_copy(update={"start": last, "speed": -self.speed})


def source_frames(
    seconds: Floats, times: Floats, length: float, before: Outside = "hold", after: Outside = "hold"
) -> Wholes:
    """The frames (n,) that a source shows at its seconds (n,), −1 where it shows nothing: that which began last.

    `times` (m,) are when its frames begin, from 0 on, in seconds; `length` is when the last one ends.

    >>> source_frames(np.array([-1.0, 0.04, 0.5]), np.array([0.0, 0.04, 0.08]), 0.12, "nothing", "loop").tolist()
    [-1, 1, 0]
    """
    step = length / len(times)
    slack = SAME_MOMENT * step
    early, late = seconds < -slack, seconds >= length - slack
    turns = (early & (before == "loop")) | (late & (after == "loop"))
    at = np.where(turns, np.mod(seconds + slack, length), seconds) if turns.any() else seconds
    found = np.searchsorted(times, at + slack, side="right") - 1
    found = np.clip(found, 0, len(times) - 1)
    if before == "nothing":
        found = np.where(early, -1, found)
    if after == "nothing":
        found = np.where(late, -1, found)
    return np.asarray(found, dtype=np.int64)
