"""Edits of a path's points: moved, bent, made smooth or sharp, added, removed, and its contours closed and opened."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Any, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..document.properties import remade
from ..document.scene import Layer, Scene
from ..geometry.bezier import Floats
from ..ground.base_model import Flag, LayerId, Number, Pair, Whole
from ..ground.errors import Refused
from ..moves.keys import with_value
from ..shapes import PathShape
from ..shapes.path_points import Run, cut, is_smooth, nearest, smooth, with_handle
from ..tracks.base import KeyFrame
from ..tracks.evaluate import shown_at, value_at
from ..tracks.outline import MOST_POINTS, OutlineTrack
from .base import Edit, EditContext, View, local_frame, name_of, one_step, unlocked
from .of_items import holding

POINTS = "content.items.0.points"
Places = Annotated[tuple[Annotated[Whole, Field(ge=0, lt=MOST_POINTS)], ...], Field(min_length=1)]


class PathEdit(Edit):
    """An edit of the path that a layer, or an item of one, is; the picture of its other points stays where it is."""

    layer: LayerId
    frame: KeyFrame

    def path(self, layer: Layer) -> PathShape:
        """The path that the layer is; Refused in words where it is none."""
        items: tuple[Any, ...] = getattr(layer.content, "items", ())
        if len(items) != 1 or not items[0].is_path or items[0].transform is not None:
            raise Refused(
                f"'{layer.name}' is no path.", where="layer",
                mend="Choose one path, or turn the shape into a path first.",
            )  # fmt: skip
        path: PathShape = items[0]
        return path

    def _put(self, scene: Scene, layer: Layer, path: PathShape, context: EditContext) -> Scene:
        checked = PathShape.model_validate({name: getattr(path, name) for name in PathShape.model_fields})
        content = layer.content.model_copy(update={"items": (checked,)})
        return scene.with_layer(holding(context)(scene, layer, layer.model_copy(update={"content": content})))

    def _known(self, path: PathShape, point: int) -> int:
        if point >= len(path.points.rest):
            raise Refused(
                f"There is no point number {point} on this path, which has {len(path.points.rest)}; it may have been "
                "changed in another window.", where="point", mend="Nothing was changed.",
            )  # fmt: skip
        return point

    def _run(self, path: PathShape, point: int) -> Run:
        return next(run for run in path.runs if point < run.first + run.count)

    def _in_path(
        self, scene: Scene, layer: Layer, path: PathShape, at: tuple[float, float], context: EditContext
    ) -> Floats:
        """A point of the scene in pixels from the path's origin."""
        one = context.of(scene).one(layer, self.frame)
        return np.asarray(
            np.array(View(scene, layer, one.matrix[0]).point(at)) - shown_at(path.at, self._local(layer), scene.fps)
        )

    def _local(self, layer: Layer) -> float:
        return self.frame - layer.span.start

    def _step(self, scene: Scene, layer: Layer, by: tuple[float, float], context: EditContext) -> Floats:
        """A step in the scene in the path's own pixels."""
        return np.array(View(scene, layer, context.of(scene).one(layer, self.frame).matrix[0]).step(by))


class ShapingEdit(PathEdit):
    """A path edit that gives points new values at the frame: a key where they are keyed."""

    sets_values: ClassVar[bool] = True

    def _shaped(
        self, scene: Scene, context: EditContext, change: Callable[[Floats, PathShape, Layer], Floats]
    ) -> Scene:
        layer = unlocked(scene, self.layer)
        path = self.path(layer)
        local = local_frame(layer, scene, self.frame) if path.points.keys else self.frame - layer.span.start
        # A cadence holds what is shown; keys are written from the values between them.
        points = np.array(value_at(path.points, local, scene.fps), dtype=np.float64)
        changed = change(points, path, layer)
        track = with_value(path.points, POINTS, local, _value(changed))
        return self._put(scene, layer, path.model_copy(update={"points": track}), context)


class MovePoints(ShapingEdit):
    """Move points of a path by (x, y) scene pixels; their handles go along."""

    edit: Literal["move_points"] = "move_points"
    points: Places
    by: Pair

    def seen_inside(self, view: View) -> Edit:
        return self.model_copy(update={"by": view.step(self.by)})

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        def change(points: Floats, path: PathShape, layer: Layer) -> Floats:
            out = np.array(points)
            out[[self._known(path, point) for point in self.points], :2] += self._step(scene, layer, self.by, context)
            return out

        return self._shaped(scene, context, change)

    def words(self, scene: Scene) -> str:
        count = "a point" if len(self.points) == 1 else f"{len(self.points)} points"
        return f"Moved {count} of {name_of(scene, self.layer)}"

    def target(self) -> tuple[object, ...]:
        return self.layer, self.frame, self.points

    def joined(self, later: Edit) -> Edit | None:
        return one_step(self, later)


class BendPoint(ShapingEdit):
    """Bring a handle of a point to a point of the scene. The other one stays in line with it where the two were in
    line, unless they are to be `apart`."""

    edit: Literal["bend_point"] = "bend_point"
    point: Annotated[Whole, Field(ge=0)]
    side: Literal["in", "out"]
    to: Pair
    apart: Flag = False

    def seen_inside(self, view: View) -> Edit:
        return self.model_copy(update={"to": view.point(self.to)})

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        def change(points: Floats, path: PathShape, layer: Layer) -> Floats:
            point = self._known(path, self.point)
            handle = self._in_path(scene, layer, path, self.to, context) - points[point, :2]
            return with_handle(points, point, self.side, handle, is_smooth(points[point]) and not self.apart)

        return self._shaped(scene, context, change)

    def words(self, scene: Scene) -> str:
        return f"Bent {name_of(scene, self.layer)} at a point"

    def target(self) -> tuple[object, ...]:
        return self.layer, self.frame, self.point, self.side


class SetPoint(ShapingEdit):
    """Set the numbers of a point, in the path's own pixels: its place, or a handle from it; null keeps a number."""

    edit: Literal["set_point"] = "set_point"
    point: Annotated[Whole, Field(ge=0)]
    part: Literal["place", "in", "out"]
    to: tuple[Number | None, Number | None]

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        first = {"place": 0, "in": 2, "out": 4}[self.part]

        def change(points: Floats, path: PathShape, layer: Layer) -> Floats:
            out = np.array(points)
            for axis, number in enumerate(self.to):
                if number is not None:
                    out[self._known(path, self.point), first + axis] = number
            return out

        return self._shaped(scene, context, change)

    def words(self, scene: Scene) -> str:
        return f"Set a point of {name_of(scene, self.layer)}"

    def target(self) -> tuple[object, ...]:
        return self.layer, self.frame, self.point, self.part


class ShapePoints(ShapingEdit):
    """Make points of a path corners, which have no handles, or smooth, their handles along their neighbours."""

    edit: Literal["shape_points"] = "shape_points"
    points: Places
    way: Literal["corner", "smooth"]

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        def change(points: Floats, path: PathShape, layer: Layer) -> Floats:
            out = np.array(points)
            for point in self.points:
                if self.way == "corner":
                    out[self._known(path, point), 2:] = 0.0
                else:
                    out = smooth(out, self._run(path, self._known(path, point)), point)
            return out

        return self._shaped(scene, context, change)

    def words(self, scene: Scene) -> str:
        count = "a point" if len(self.points) == 1 else f"{len(self.points)} points"
        return f"Made {count} of {name_of(scene, self.layer)} {'smooth' if self.way == 'smooth' else 'a corner'}"


class AddPoint(PathEdit):
    """Add a point where the outline is nearest to a point of the scene; the outline stays as it is, in every key."""

    edit: Literal["add_point"] = "add_point"
    at: Pair

    def seen_inside(self, view: View) -> Edit:
        return self.model_copy(update={"at": view.point(self.at)})

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        path = self.path(layer)
        at = self._in_path(scene, layer, path, self.at, context)
        shown = np.array(shown_at(path.points, self._local(layer), scene.fps))
        index, segment, share, away = nearest(shown, path.runs, at)
        if not np.isfinite(away):
            raise Refused(f"'{layer.name}' has one point only.", mend="Go on drawing it first.")
        share = min(max(share, 0.001), 0.999)
        run = path.runs[index]
        here, there = run.first + segment, run.after(run.first + segment)
        curved = bool(path.bent[here, 1] or path.bent[there, 0])
        track = _each(path.points, lambda points: cut(points, run, segment, share, curved=curved))
        return self._put(scene, layer, _counted(path, index, 1, track), context)

    def words(self, scene: Scene) -> str:
        return f"Added a point to {name_of(scene, self.layer)}"


class ExtendPath(PathEdit):
    """Go on drawing a path: a point at the end of its last contour, at a point of the scene, with a handle (scene
    pixels, the other one opposite to it) where it is to be smooth."""

    edit: Literal["extend_path"] = "extend_path"
    to: Pair
    handle: Pair | None = None

    def seen_inside(self, view: View) -> Edit:
        handle = view.step(self.handle) if self.handle else None
        return self.model_copy(update={"to": view.point(self.to), "handle": handle})

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        path = self.path(layer)
        if path.contours[-1].closed:
            raise Refused(f"'{layer.name}' is closed.", mend="Open it, or add points on its outline.")
        x, y = self._in_path(scene, layer, path, self.to, context)
        dx, dy = self._step(scene, layer, self.handle, context) if self.handle else (0.0, 0.0)
        fresh = np.array([[x, y, -dx, -dy, dx, dy]])
        track = _each(path.points, lambda points: np.concatenate([points, fresh]))
        return self._put(scene, layer, _counted(path, len(path.contours) - 1, 1, track), context)

    def words(self, scene: Scene) -> str:
        return f"Drew {name_of(scene, self.layer)} on"


class RemovePoints(PathEdit):
    """Take points off a path, in every key; a contour without any goes."""

    edit: Literal["remove_points"] = "remove_points"
    points: Places

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        path = self.path(layer)
        gone = sorted({self._known(path, point) for point in self.points})
        if len(gone) == len(path.points.rest):
            raise Refused(f"'{layer.name}' would have no point left.", mend="Delete it instead.")
        track = _each(path.points, lambda points: np.delete(points, gone, axis=0))
        left = []
        for run, contour in zip(path.runs, path.contours, strict=True):
            count = run.count - sum(run.first <= point < run.first + run.count for point in gone)
            if count:
                left.append(contour.model_copy(update={"count": count}))
        return self._put(scene, layer, path.model_copy(update={"points": track, "contours": tuple(left)}), context)

    def words(self, scene: Scene) -> str:
        count = "a point" if len(self.points) == 1 else f"{len(self.points)} points"
        return f"Removed {count} of {name_of(scene, self.layer)}"


class ClosePath(PathEdit):
    """Join the end of a path's contour to its start, or open it there."""

    edit: Literal["close_path"] = "close_path"
    closed: Flag
    contour: Annotated[Whole, Field(ge=0)] | None = None

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        path = self.path(layer)
        which = len(path.contours) - 1 if self.contour is None else self.contour
        if which >= len(path.contours):
            raise Refused(f"There is no part number {which} of '{layer.name}'.", where="contour")
        contours = list(path.contours)
        contours[which] = contours[which].model_copy(update={"closed": self.closed})
        return self._put(scene, layer, path.model_copy(update={"contours": tuple(contours)}), context)

    def words(self, scene: Scene) -> str:
        return f"{'Closed' if self.closed else 'Opened'} {name_of(scene, self.layer)}"


def _value(points: Floats) -> Any:
    return tuple(tuple(round(number, 6) + 0.0 for number in point) for point in points.tolist())


def _each(track: OutlineTrack, change: Callable[[Floats], Floats]) -> Any:
    """A track with the points of its rest and of each key changed."""

    def changed(value: Any) -> Any:
        return _value(change(np.array(value, dtype=np.float64)))

    keys = tuple({**{n: getattr(k, n) for n in type(k).model_fields}, "value": changed(k.value)} for k in track.keys)
    return remade(track, POINTS, rest=changed(track.rest), keys=keys)


def _counted(path: PathShape, index: int, more: int, track: Any) -> PathShape:
    contours = list(path.contours)
    contours[index] = contours[index].model_copy(update={"count": contours[index].count + more})
    return path.model_copy(update={"points": track, "contours": tuple(contours)})
