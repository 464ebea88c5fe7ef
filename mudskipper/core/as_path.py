"""Any shape as a path, with no visible change."""

from __future__ import annotations

from typing import Any

import numpy as np

from .bezier import Floats
from .errors import Refused
from .fewest_keys import fitted_keys
from .outline_track import MOST_POINTS, OutlineTrack
from .path_points import taken_apart
from .shapes import Contour, Item, Line, Path, ShapeItem
from .tracks import MOST_KEYS, Track, evaluate
from .walk import tracks_in

NEAR = 0.005
"""Pixels by which a point may be off its place at a frame."""
KEPT = ("at", "fill", "stroke", "fill_rule", "transform", "name", "visible")
"""What a path has of its own, too."""


def as_path(item: Item, length: int, fps: float) -> Item:
    """A shape as a path. Where the shape's own numbers are keyed, the points are,
    by the fewest straight keys that hold them within 0.005 px at every frame of a span of that length."""
    assert isinstance(item, ShapeItem)
    if isinstance(item, Path):
        return item
    own = {path: track for path, track in tracks_in(item) if path.split(".")[0] not in KEPT}
    frames = _frames(list(own.values()), length)
    values = dict(zip(own, evaluate(list(own.values()), [frames] * len(own), fps), strict=True))
    verbs, numbers = _outline(item, values)
    contours, points = taken_apart(verbs, numbers)
    if points.shape[1] > MOST_POINTS:
        raise Refused(f"'{item.label}' would be a path of {points.shape[1]:,} points; it takes {MOST_POINTS:,}.")
    flat = points.reshape(len(points), -1)
    track = OutlineTrack.model_validate({"rest": _value(flat[0])})
    if len(flat) > 1 and np.ptp(flat, axis=0).max() > 0:
        keys = [{**key, "value": _value(np.array(key["value"]))} for key in fitted_keys(frames, flat, NEAR)]
        if len(keys) > MOST_KEYS:
            raise Refused(f"Its motion would take {len(keys):,} keys; a track holds {MOST_KEYS:,}.")
        track = OutlineTrack.model_validate({"rest": keys[0]["value"], "keys": keys})
    kept = {name: getattr(item, name) for name in KEPT}
    return Path(contours=tuple(Contour(count=count, closed=closed) for count, closed in contours), points=track, **kept)


def _outline(item: ShapeItem, values: dict[str, Floats]) -> tuple[str, Floats]:
    """The outline without the offset, and without what only keeps painters alike."""
    values = {**values, "at": np.zeros((1, 2))}
    if isinstance(item, Line):
        ends = np.broadcast_arrays(values["start"], values["end"])
        return "ML", np.concatenate(ends, axis=1)
    return item.outline(values)


def _frames(tracks: list[Track], length: int) -> Floats:
    """The frames at which an outline may differ: each from the first key to the last, or of the whole span where a
    track goes on beyond its keys."""
    times = [key.frame for track in tracks for key in track.keys]
    if not times:
        return np.zeros(1)
    first, last = min(times), max(times)
    if any(len(t.keys) > 1 and (t.before, t.after) != ("hold", "hold") for t in tracks):
        first, last = min(first, 0.0), max(last, float(length - 1))
    whole = np.arange(np.ceil(first), np.floor(last) + 1)
    return np.unique(np.concatenate([times, whole]))


def _value(numbers: Floats) -> Any:
    return tuple(tuple(float(n) for n in point) for point in numbers.reshape(-1, 6))
