"""A property's own lower rate."""

from __future__ import annotations

from typing import Annotated

import numpy as np
from pydantic import Field, model_validator

from ..geometry.bezier import Floats
from ..ground.base_model import Model


class Cadence(Model):
    """A property's own lower rate: a new value every `on` frames, or `per_second` times a second, one of them at the
    frame `phase`."""

    on: Annotated[int, Field(strict=True, ge=1, le=1_000)] | None = None
    per_second: Annotated[float, Field(strict=True, gt=0, le=240)] | None = None
    phase: Annotated[float, Field(strict=True, ge=-1e6, le=1e6)] = 0.0

    @model_validator(mode="after")
    def _one(self) -> Cadence:
        if (self.on is None) == (self.per_second is None):
            raise ValueError("a cadence is either on a number of frames or a number of times a second")
        return self

    def hold(self, frames: Floats, rate: float) -> Floats:
        """Each frame's time held back to the last one on which the value is renewed."""
        step = self.step(rate)
        return np.asarray(self.phase + np.floor((frames - self.phase) / step + 1e-9) * step)

    def step(self, rate: float) -> float:
        """The frames from one renewal to the next."""
        return float(self.on) if self.on is not None else rate / (self.per_second or rate)

    def renewals(self, start: float, end: float, rate: float) -> Floats:
        """The frames at which the value is renewed between two."""
        step = self.step(rate)
        first, last = np.ceil((start - self.phase) / step - 1e-9), np.floor((end - self.phase) / step + 1e-9)
        return np.asarray(self.phase + np.arange(first, last + 1) * step)

    def shifted(self, by: float) -> Cadence:
        """The same renewals where frames count from `by` frames earlier."""
        phase = self.phase + by
        return self.model_copy(update={"phase": phase % self.on if self.on is not None else phase})
