"""Four corners that are pinned."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from ..geometry.bezier import Floats
from ..ground.shown import Shown
from ..tracks.kinds import PairTrack
from .base import Acts, Beneath, Values
from .warp import FURTHEST, Warp


class CornerPin(Warp):
    """Four corners, each at a point in percent of the box: a picture on a screen, a wall, a card that lies."""

    label: ClassVar[str] = "corner pin"
    words: ClassVar[str] = "screen, distort, perspective, four points"
    points: ClassVar[tuple[str, ...]] = ("top_left", "top_right", "bottom_right", "bottom_left")

    effect: Literal["corner-pin"] = "corner-pin"
    top_left: Annotated[PairTrack, Shown("Top left", "%", ("x", "y"))] = PairTrack(rest=(0.0, 0.0))
    top_right: Annotated[PairTrack, Shown("Top right", "%", ("x", "y"))] = PairTrack(rest=(100.0, 0.0))
    bottom_right: Annotated[PairTrack, Shown("Bottom right", "%", ("x", "y"))] = PairTrack(rest=(100.0, 100.0))
    bottom_left: Annotated[PairTrack, Shown("Bottom left", "%", ("x", "y"))] = PairTrack(rest=(0.0, 100.0))

    def acts(self, values: Values) -> Acts:
        rest = [(0.0, 0.0), (100.0, 0.0), (100.0, 100.0), (0.0, 100.0)]
        moved = [(values[name] != at).any(axis=1, keepdims=True) for name, at in zip(self.points, rest, strict=True)]
        return np.asarray(np.logical_or.reduce(np.broadcast_arrays(*moved)))

    def corners(self, values: Values, beneath: Beneath) -> Floats:
        found = np.stack(np.broadcast_arrays(*(beneath.at(values[name]) for name in self.points)), axis=1)
        return np.asarray(np.clip(found, -FURTHEST, FURTHEST))
