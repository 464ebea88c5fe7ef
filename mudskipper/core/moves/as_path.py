"""Any shape as a path, with no visible change."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from ..geometry.bezier import Floats
from ..geometry.fewest_keys import fitted_keys
from ..ground.errors import Refused
from ..shapes import Contour, Gradient, Item, PathShape, ShapeItem
from ..shapes.path_points import taken_apart
from ..tracks.base import MOST_KEYS, Track
from ..tracks.kinds import PairTrack
from ..tracks.outline import MOST_POINTS, PER_POINT, OutlineTrack
from ..tracks.walk import evaluated, shown_at, tracks_in

NEAR = 0.005
"""Pixels by which a point may be off its place at a frame."""
KEPT = ("id", "at", "fill", "stroke", "fill_rule", "transform", "repeat", "name", "visible")
"""What a path has of its own, too."""
ENDS = ("start", "end", "centre")


ValuesAt = Callable[[Floats], dict[str, Floats]]
"""Gives the values of an item's tracks by their paths (1 | n, d) at frames (n,) counted from its layer's start,
formulas and bounds counted in."""


def plain_values(item: Item, fps: float) -> ValuesAt:
    """The values of an item without formulas: its keys, within their bounds."""
    tracks = dict(tracks_in(item))

    def at(frames: Floats) -> dict[str, Floats]:
        return {path: _bounded(item, path, array) for path, array in evaluated(tracks, frames, fps).items()}

    return at


def _bounded(item: Item, path: str, values: Floats) -> Floats:
    part = shown_at(item, path)
    low, high = (part.about.low, part.about.high) if part else (None, None)
    return values if low is None or high is None else np.clip(values, low, high)


def as_path(item: Item, length: int, values_at: ValuesAt) -> Item:
    """A shape as a path. Where the shape's own numbers move, the points do, by the fewest straight keys that hold them
    within 0.005 px at every frame of a span of that length."""
    assert isinstance(item, ShapeItem)
    if item.is_path:
        return item
    own = {path: track for path, track in tracks_in(item) if path.split(".")[0] not in KEPT}
    frames = _frames(list(own.values()), length)
    given = values_at(frames)
    values = {path: given[path] for path in own}
    verbs, numbers = item.plain_outline({**values, "at": np.zeros((1, 2))})
    contours, points = taken_apart(verbs, numbers)
    if points.shape[1] > MOST_POINTS:
        raise Refused(f"'{item.label}' would be a path of {points.shape[1]:,} points; it takes {MOST_POINTS:,}.")
    flat = points.reshape(len(points), -1)
    track = OutlineTrack.model_validate({"rest": _points(flat[0])})
    if len(flat) > 1 and np.ptp(flat, axis=0).max() > 0:
        keys = [{**key, "value": _points(np.array(key["value"]))} for key in fitted_keys(frames, flat, NEAR)]
        if len(keys) > MOST_KEYS:
            raise Refused(f"Its motion would take {len(keys):,} keys; a track holds {MOST_KEYS:,}.")
        track = OutlineTrack.model_validate({"rest": keys[0]["value"], "keys": keys})
    made = PathShape(
        contours=tuple(Contour(count=count, closed=closed) for count, closed in contours),
        points=track,
        **{name: getattr(item, name) for name in KEPT},
    )
    return _with_gradients(item, made, length, values_at)


def _with_gradients(item: ShapeItem, path: PathShape, length: int, values_at: ValuesAt) -> PathShape:
    """A path whose gradients lie where they did in the box of the shape: that of the path may be another."""
    changed: dict[str, Any] = {}
    if isinstance(item.fill, Gradient):
        changed["fill"] = _moved(item, path, item.fill, "fill", length, values_at)
    if item.stroke and isinstance(item.stroke.colour, Gradient):
        paint = _moved(item, path, item.stroke.colour, "stroke.colour", length, values_at)
        changed["stroke"] = item.stroke.model_copy(update={"colour": paint})
    return path.model_copy(update=changed)


def _moved(item: ShapeItem, path: PathShape, paint: Gradient, name: str, length: int, values_at: ValuesAt) -> Gradient:
    """A gradient in percent of the shape's box as one in percent of the path's."""
    frames = _frames([track for _, track in tracks_in(item)], length)
    values = values_at(frames)
    own = dict(tracks_in(path))
    points = evaluated({"points": own["points"]}, frames, 1.0)
    old, new = item.box(values), path.box({**{name: values[name] for name in own if name in values}, **points})
    if old.shape == new.shape and np.abs(old - new).max() <= 1e-9:
        return paint
    size = np.where(new[:, 2:] > 0, new[:, 2:], 1.0)
    grow, shift = old[:, 2:] / size, (old[:, :2] - new[:, :2]) / size * 100.0
    changed: dict[str, Any] = {}
    for part in (*ENDS, "radius"):
        by = shift if part in ENDS else np.zeros((1, 2))
        if len(old) == len(new) == 1:
            changed[part] = _mapped(getattr(paint, part), grow[0], by[0])
            continue
        given = np.broadcast_to(values[f"{name}.{part}"] * grow + by, (len(frames), 2))
        keys = fitted_keys(frames, given, NEAR / float(size.max()) * 100.0)
        changed[part] = PairTrack.model_validate({"rest": keys[0]["value"], "keys": keys if len(keys) > 1 else ()})
    return paint.model_copy(update=changed)


def _mapped(track: PairTrack, grow: Floats, shift: Floats) -> PairTrack:
    """A track with each value grown and shifted on each axis."""

    def at(value: tuple[float, float]) -> tuple[float, float]:
        x, y = np.array(value) * grow + shift
        return float(x), float(y)

    keys = tuple(key.model_copy(update={"value": at(key.value)}) for key in track.keys)
    return track.model_copy(update={"rest": at(track.rest), "keys": keys})


def _frames(tracks: list[Track], length: int) -> Floats:
    """The frames at which an outline may differ: each from the first key to the last, or of the whole span where a
    track goes on beyond its keys or has a formula."""
    times = [key.frame for track in tracks for key in track.keys]
    if any(track.formula for track in tracks):
        return np.union1d(times, np.arange(length, dtype=np.float64))
    if not times:
        return np.zeros(1)
    first, last = min(times), max(times)
    if any(len(t.keys) > 1 and (t.before, t.after) != ("hold", "hold") for t in tracks):
        first, last = min(first, 0.0), max(last, float(length - 1))
    whole = np.arange(np.ceil(first), np.floor(last) + 1)
    return np.unique(np.concatenate([times, whole]))


def _points(numbers: Floats) -> Any:
    return tuple(tuple(float(n) for n in point) for point in numbers.reshape(-1, PER_POINT))
