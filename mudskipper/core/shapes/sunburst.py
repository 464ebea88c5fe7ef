"""A sunburst."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..geometry.bezier import Floats
from ..geometry.values import Values
from ..ground.base_model import Whole
from ..ground.shown import Shown
from ..tracks.kinds import NumberTrack
from .base import SizedItem


class Sunburst(SizedItem):
    """Rays from the centre to the edge of the ellipse that fills its size, the first about the top.

    `share` is how much of the round the rays take, in percent; `inner` where they begin, in percent of the radius;
    `twist` how far their outer ends are turned against the inner ones, in degrees.
    """

    label: ClassVar[str] = "sunburst"

    shape: Literal["sunburst"] = "sunburst"
    rays: Annotated[Whole, Field(ge=2, le=200), Shown("Rays")] = 12
    share: Annotated[NumberTrack, Shown("Share", "%", low=0, high=100, what="a share in percent")] = NumberTrack(
        rest=50.0
    )
    inner: Annotated[NumberTrack, Shown("Inner size", "%", low=0, high=100, what="an inner radius in percent")] = (
        NumberTrack(rest=0.0)
    )
    twist: Annotated[NumberTrack, Shown("Twist", "°", low=-720, high=720, what="a twist in degrees")] = NumberTrack(
        rest=0.0
    )

    @property
    def arcs(self) -> int:
        """The curves that the end of a ray is made of, none of them longer than a quarter of the round."""
        return -(-4 // self.rays)

    @property
    def sides(self) -> int:
        """The curves that a side of a ray is made of; 0 for a straight one."""
        return 4 if self.twist.moves or self.twist.rest else 0

    def outline(self, values: Values) -> tuple[str, Floats]:
        box = self.box(values)
        share, inner, twist = (np.broadcast_to(values[name], (self._count(values), 1)) for name in PARTS)
        middle = np.arange(self.rays) * 2 * np.pi / self.rays
        half = share / 100 * np.pi / self.rays
        first, last, turn, low = middle - half, middle + half, np.radians(twist), inner / 100
        end, back = _arc(first + turn, last + turn, self.arcs), low[..., None, None] * _arc(last, first, self.arcs)
        if self.sides:
            out, home = _side(first, low, turn, self.sides), _side(last, low, turn, self.sides)[:, :, ::-1]
            verbs = f"M{'C' * (2 * self.sides + 2 * self.arcs)}Z"
            ray = np.concatenate([out, end[:, :, 1:], home[:, :, 1:], back[:, :, 1:]], axis=2)
        else:
            verbs = f"ML{'C' * self.arcs}L{'C' * self.arcs}Z"
            ray = np.concatenate([back[:, :, -1:], end, back], axis=2)
        points = box[:, None, None, :2] + (ray + 1) / 2 * box[:, None, None, 2:]
        return verbs * self.rays, points.reshape(len(points), -1)

    @staticmethod
    def _count(values: Values) -> int:
        return max(len(values[name]) for name in PARTS)


PARTS = ("share", "inner", "twist")


def _unit(angle: Floats) -> Floats:
    """Points on the unit circle, clockwise from the top."""
    return np.stack([np.sin(angle), -np.cos(angle)], axis=-1)


def _arc(start: Floats, end: Floats, count: int) -> Floats:
    """Arcs of the unit circle between angles (n, r) as curves: (n, r, 3 count + 1, 2)."""
    angles = start[..., None] + (end - start)[..., None] * np.arange(count + 1) / count
    reach = (4 / 3 * np.tan((end - start) / count / 4))[..., None, None]
    return _joined(_unit(angles), reach * _unit(angles + np.pi / 2))


def _side(angle: Floats, low: Floats, turn: Floats, count: int) -> Floats:
    """Sides of rays, spirals of Archimedes from `low` to 1 that turn on the way: (n, r, 3 count + 1, 2)."""
    share = np.arange(count + 1) / count
    radius = (low + (1 - low) * share)[:, None, :, None]
    angles = angle[..., None] + turn[..., None] * share
    speed = (1 - low)[:, None, :, None] * _unit(angles) + radius * turn[:, None, :, None] * _unit(angles + np.pi / 2)
    return _joined(radius * _unit(angles), speed / (3 * count))


def _joined(points: Floats, handles: Floats) -> Floats:
    """Points (n, r, k, 2) with the handles that leave them, mirrored where they arrive: (n, r, 3k - 2, 2)."""
    curves = np.stack(
        [points[..., :-1, :] + handles[..., :-1, :], (points - handles)[..., 1:, :], points[..., 1:, :]], axis=-2
    )
    rest = curves.reshape(*points.shape[:2], -1, 2)
    return np.concatenate([points[..., :1, :], rest], axis=-2)
