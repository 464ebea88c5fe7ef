"""A path through points, each with two handles."""

from __future__ import annotations

from functools import cached_property
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field, model_validator

from ..draw.bounds import extremes
from ..geometry.bezier import Floats, turning_values
from ..geometry.transform import UNMOVED
from ..geometry.values import Values
from ..ground.base_model import Flag, Model
from ..ground.shown import Shown
from ..tracks.outline import MOST_POINTS, PER_POINT, OutlineTrack
from .base import ShapeItem
from .line import straight_line
from .path_points import Run, curves, outlined, runs


class Contour(Model):
    """A run of a path's points: how many, and whether its end is joined to its start."""

    count: Annotated[int, Field(strict=True, ge=1, le=MOST_POINTS)]
    closed: Flag = False


class PathShape(ShapeItem):
    """An outline through points with handles, in one contour or several; the points are pixels from `at`."""

    label: ClassVar[str] = "path"
    is_path: ClassVar[bool] = True

    shape: Literal["path"] = "path"
    contours: Annotated[tuple[Contour, ...], Field(min_length=1, max_length=MOST_POINTS)]
    points: Annotated[OutlineTrack, Shown("Points", "px")]

    @model_validator(mode="after")
    def _all_points(self) -> PathShape:
        count = sum(contour.count for contour in self.contours)
        if count != len(self.points.rest):
            raise ValueError(f"the contours count {count} points, but there are {len(self.points.rest)}")
        return self

    @cached_property
    def runs(self) -> list[Run]:
        """Its contours with their places among the points."""
        return runs(self.contours)

    @cached_property
    def bent(self) -> Floats:
        """Of which points a curve arrives, and of which one leaves, at any time (m, 2)."""
        values = np.stack(
            [self.points.rest_array, *(np.array(self.points.to_array(k.value)) for k in self.points.keys)]
        )
        each = np.abs(values.reshape(len(values), -1, PER_POINT)).max(axis=0)
        return np.asarray(np.stack([each[:, 2:4].max(axis=1) > 0, each[:, 4:].max(axis=1) > 0], axis=1))

    def placed(self, values: Values) -> Floats:
        """Its points (1 | n, m, 6) in the item's own pixels."""
        points = values["points"].reshape(len(values["points"]), -1, PER_POINT)
        at = values["at"][:, None, :]
        count = max(len(points), len(at))
        out = np.array(np.broadcast_to(points, (count, *points.shape[1:])))
        out[:, :, :2] += at
        return out

    def outline(self, values: Values) -> tuple[str, Floats]:
        points = self.placed(values)
        lone = len(self.runs) == 1 and len(points[0]) == 2 and not self.bent.any()
        if lone and not self.runs[0].closed:
            return straight_line(points[:, 0, :2], points[:, 1, :2], whole=not (self.stroke and self.stroke.in_pieces))
        return outlined(points, self.runs, self.bent)

    @cached_property
    def still_box(self) -> Floats | None:
        """Its box about `at` while its points are not keyed; it is asked for often, of thousands of paths."""
        if self.points.keys:
            return None
        # Of a few points, as art has them by the thousand, plain numbers are ten times as quick as arrays.
        xs, ys = [p[0] for p in self.points.rest], [p[1] for p in self.points.rest]
        for run in self.runs:
            for index in range(run.segments):
                a = self.points.rest[run.first + index]
                b = self.points.rest[run.first + (index + 1) % run.count]
                if any(a[4:6]) or any(b[2:4]):
                    xs += turning_values(a[0], a[0] + a[4], b[0] + b[2], b[0])
                    ys += turning_values(a[1], a[1] + a[5], b[1] + b[3], b[1])
        left, top = min(xs), min(ys)
        return np.array([[left, top, max(xs) - left, max(ys) - top]])

    def box(self, values: Values) -> Floats:
        if self.still_box is None:
            return self._boxed(values)
        at = values["at"]
        return np.asarray(self.still_box + np.concatenate([at, np.zeros_like(at)], axis=1))

    def _boxed(self, values: Values) -> Floats:
        points = self.placed(values)
        ends = [points[:, :, :2]]
        for run in self.runs:
            if run.segments > 0 and self.bent[run.first : run.first + run.count].any():
                ends.append(extremes(curves(points, run), UNMOVED)[0])
        every = np.concatenate(ends, axis=1)
        low = every.min(axis=1)
        return np.asarray(np.concatenate([low, every.max(axis=1) - low], axis=1))

    def sizes(self) -> tuple[str, ...] | None:
        """None: a path is drawn larger by its scale, or point by point."""
        return None
