"""What layers, and the shapes within them, move by: anchor, position, scale, rotation and opacity."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated

import numpy as np

from ..geometry.bezier import Floats
from ..ground.base_model import Flag, Model
from ..ground.kinds import AnyOf
from ..ground.shown import Shown
from .base import Track
from .kinds import NumberTrack, PairTrack, PathTrack


class AnchorTrack(PairTrack):
    """The anchor: fractions of the box while pinned (0,0 top left; 1,1 bottom right), else content pixels."""

    pinned: Flag = True


class SplitPosition(Model):
    """A position whose x and y are tracks of their own."""

    x: Annotated[NumberTrack, Shown("Position x", "px", role="position")]
    y: Annotated[NumberTrack, Shown("Position y", "px", role="position")]

    @property
    def parts(self) -> dict[str, tuple[slice, Track]]:
        """The tracks of a position by their paths, each with the numbers of the pair that it gives: two."""
        return {"position.x": (slice(0, 1), self.x), "position.y": (slice(1, 2), self.y)}

    def with_parts(self, x: Track, y: Track) -> SplitPosition:
        """The position of these tracks."""
        return SplitPosition.model_validate({"x": x, "y": y})

    def under(self, linear: Floats, shift: Floats) -> SplitPosition:
        """Under a matrix (2, 2) that keeps the axes, and a shift (2,); every key is kept."""

        def mapped(axis: int, track: NumberTrack) -> Track:
            def one(number: float) -> float:
                return float(linear[axis, axis] * number + shift[axis])

            keys = tuple(key.model_copy(update={"value": one(key.value)}) for key in track.keys)
            return track.with_fields(rest=one(track.rest), keys=keys)

        return self.with_parts(mapped(0, self.x), mapped(1, self.y))


Anchor = Annotated[AnchorTrack, Shown("Anchor", "", ("x", "y"), "anchor", step=0.01)]
Position = Annotated[
    PathTrack | SplitPosition, AnyOf(PathTrack, [SplitPosition]), Shown("Position", "px", ("x", "y"), "position")
]
Scale = Annotated[
    PairTrack,
    Shown("Scale", "%", ("x", "y"), "scale", linked=True, low=-100_000, high=100_000, what="a scale in percent"),
]
Rotation = Annotated[NumberTrack, Shown("Rotation", "°", role="rotation")]
Opacity = Annotated[NumberTrack, Shown("Opacity", "%", role="opacity", low=0, high=100, what="an opacity in percent")]


def anchor_points(pinned: bool, value: Floats, box: Floats) -> tuple[Floats, Floats]:
    """An anchor track's value as content pixels and as fractions of the box; 0 where the box has no extent.

    >>> box = np.array([[-100.0, -50.0, 200.0, 100.0]])
    >>> anchor_points(True, np.array([[0.25, 1.0]]), box)[0].tolist()
    [[-50.0, 50.0]]
    """
    origin, size = box[:, :2], box[:, 2:]
    if pinned:
        return origin + value * size, value
    with np.errstate(divide="ignore", invalid="ignore"):
        fraction = (value - origin) / size
    return value, np.where(np.isfinite(fraction), fraction, 0.0)


def position_values(values: Mapping[str, Floats], path: str = "position") -> Floats:
    """A position's values (1 | n, 2), whether it is one track or x and y apart."""
    if path in values:
        return values[path]
    return np.concatenate(np.broadcast_arrays(values[f"{path}.x"], values[f"{path}.y"]), axis=1)
