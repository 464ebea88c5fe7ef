"""An arrow."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from ..geometry.bezier import Floats
from ..geometry.values import Values
from ..ground.shown import Shown
from ..tracks.kinds import NumberTrack, PairTrack
from .base import ShapeItem

LENGTH = "a length in pixels"


class Arrow(ShapeItem):
    """An arrow from `start` to `end`, pixels from `at`.

    `thick` is its shaft, `head` and `spread` how long and how wide a head is, at most as long as there is room for.
    """

    label: ClassVar[str] = "arrow"
    grown: ClassVar[tuple[str, ...]] = ("at", "start", "end")

    shape: Literal["arrow"] = "arrow"
    start: Annotated[PairTrack, Shown("From", "px", ("x", "y"))]
    end: Annotated[PairTrack, Shown("To", "px", ("x", "y"))]
    thick: Annotated[NumberTrack, Shown("Shaft", "px", low=0, high=10_000, what=LENGTH)] = NumberTrack(rest=12.0)
    head: Annotated[NumberTrack, Shown("Head", "px", low=0, high=10_000, what=LENGTH)] = NumberTrack(rest=40.0)
    spread: Annotated[NumberTrack, Shown("Spread", "px", low=0, high=10_000, what=LENGTH)] = NumberTrack(rest=44.0)
    heads: Annotated[Literal["end", "start", "both"], Shown("Heads")] = "end"

    def box(self, values: Values) -> Floats:
        points = self._points(values)
        low = points.min(axis=1)
        return np.concatenate([low, points.max(axis=1) - low], axis=1)

    def outline(self, values: Values) -> tuple[str, Floats]:
        points = self._points(values)
        return f"M{'L' * (points.shape[1] - 1)}Z", points.reshape(len(points), -1)

    def _points(self, values: Values) -> Floats:
        start, end = values["at"] + values["start"], values["at"] + values["end"]
        long = np.hypot(*np.moveaxis(end - start, 1, 0))[:, None]
        along = np.where(long > 0, (end - start) / np.where(long > 0, long, 1), [[1.0, 0.0]])
        across = np.stack([-along[:, 1], along[:, 0]], axis=1)
        head = np.minimum(values["head"], long / (2 if self.heads == "both" else 1)) * along
        shaft, wide = across * values["thick"] / 2, across * values["spread"] / 2
        parts: list[Floats] = []
        for tip, has_head, way in ((start, self.heads != "end", 1), (end, self.heads != "start", -1)):
            neck = tip + way * head
            barbs = [neck - way * shaft, neck - way * wide, tip, neck + way * wide, neck + way * shaft]
            parts += barbs if has_head else [tip - way * shaft, tip + way * shaft]
        return np.stack(np.broadcast_arrays(*parts), axis=1)
