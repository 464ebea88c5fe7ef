"""The units of a set text: which of its letters belong together, how large they are, and where their anchors are."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from ..geometry.bezier import Floats
from ..ground.stations import STATIONS
from ..text.layout import Places, Setting
from .cascade import Anchor, Cascade

COLUMNS = {"letter": 0, "word": 1, "line": 2}
BASELINES = {"baseline left": 0.0, "baseline": 0.5, "baseline right": 1.0}


UnitsOf = Callable[[str], "Units"]
"""Gives the units of a content by what they are: letter, word, line, whole, item."""


@dataclass(frozen=True)
class Units:
    """Units of a text at each frame (1 | n), in reading order: the number `of` the unit of each letter (1 | n, g), how
    many there are (1 | n,), and of each of them (1 | n, u) the `first` of its letters, its box (…, 4) and baseline in
    a space of its own, whose origin (…, 2) and direction (…, 2) they are in the content; the
    numbers of its `line` and of its first `letter`, of so many `letters` (1 | n, 1)."""

    of: Places
    count: NDArray[np.intp]
    first: Places
    box: Floats
    baseline: Floats
    origin: Floats
    way: Floats
    line: Places
    letter: Places
    letters: Places
    named: tuple[tuple[str, Floats], ...] = ()
    """The parts of the text that have a name, and which units (1 | n, u) begin in each."""

    def of_part(self, name: str) -> Floats:
        """Which units begin in a part that is called so (1 | n, u), each 1 or 0."""
        found = np.zeros((1, self.first.shape[1]))
        for called, there in self.named:
            if called == name:
                found = np.maximum(found, there)
        return found

    def anchors(self, station: Anchor, shift: tuple[float, float]) -> Floats:
        """Where their anchors are (1 | n, u, 2), in the text's pixels."""
        left, top, width, height = np.moveaxis(self.box, 2, 0)
        if station in BASELINES:
            x, y = left + BASELINES[station] * width, self.baseline
        else:
            across, down = STATIONS[station]
            x, y = left + across * width, top + down * height
        return self.placed(np.stack([x + shift[0], y + shift[1]], axis=2))

    def placed(self, points: Floats) -> Floats:
        """Points of their own spaces (…, u, 2) in the text's pixels."""
        cos, sin = np.moveaxis(self.way, 2, 0)
        x, y = np.moveaxis(points, 2, 0)
        return np.asarray(self.origin + np.stack([cos * x - sin * y, sin * x + cos * y], axis=2))

    def each(self, column: Floats) -> Floats:
        """A value of each unit (1 | n, u, …) for each letter (1 | n, g, …)."""
        rows = max(len(column), len(self.of))
        of = np.broadcast_to(self.of, (rows, self.of.shape[1]))
        return np.asarray(np.broadcast_to(column, (rows, *column.shape[1:]))[np.arange(rows)[:, None], of])

    def each_plane(self, plane: Floats) -> Floats:
        """A number of each unit (1 | n, 1 | u) for each letter."""
        if plane.shape[1] == 1 and self.first.shape[1] > 1:
            return plane
        if len(self.of) == 1 or (self.of == self.of[0]).all():
            return plane[:, self.of[0]]
        return self.each(plane)


def units_of(setting: Setting, unit: str) -> Units:
    """The units of a text: its letters, its words, its lines, or the whole of it. Letters that run along an outline
    have spaces of their own."""
    count = len(setting.names)
    belongs = setting.belongs
    rows = max(len(belongs), len(setting.seen))
    of = np.zeros((rows, count), dtype=np.intp)
    if unit in COLUMNS:
        of += belongs[:, :, COLUMNS[unit]]
    seen = np.broadcast_to(setting.seen > 0, (rows, count))
    there = np.where(seen, of, -1).max(axis=1, initial=-1) + 1
    most = max(int(there.max(initial=0)), 1)
    places = setting.places.reshape(-1, count, 2)
    along = setting.turns is not None and setting.baselines.size > 0
    down = setting.turns is not None and not along
    ways = np.array([[[0.0, 1.0]]]) if down else np.array([[[1.0, 0.0]]])
    if along and setting.turns is not None:
        ways = setting.turns.reshape(-1, count, 2)
    left, top, width, height = np.moveaxis(setting.cells.reshape(-1, count, 4), 2, 0)
    cos, sin = ways[:, :, 0], ways[:, :, 1]
    corners = []
    for x, y in ((left, top), (left + width, top), (left + width, top + height), (left, top + height)):
        corners.append(places + np.stack(np.broadcast_arrays(cos * x - sin * y, sin * x + cos * y), axis=2))
    ends = np.stack(np.broadcast_arrays(*corners), axis=2)
    frames = max(len(ends), rows)
    of, seen = np.broadcast_to(of, (frames, count)), np.broadcast_to(seen, (frames, count))
    at = np.arange(frames)[:, None], of
    # The first as it is read: glyphs of a text that reflows stand in another order.
    read = np.broadcast_to(belongs[:, :, 0], (frames, count)) * count + np.arange(count)
    lowest = np.full((frames, most), np.iinfo(np.intp).max, dtype=np.intp)
    np.minimum.at(lowest, at, np.where(seen, read, np.iinfo(np.intp).max))
    first = np.where(lowest < np.iinfo(np.intp).max, lowest % count, count - 1)
    row = np.arange(frames)[:, None]
    start = np.broadcast_to(places, (frames, count, 2))[row, first]
    own = along and unit == "letter"
    origin = start if own else np.zeros((1, 1, 2))
    way = np.broadcast_to(ways, (frames, count, 2))[row, first] if own else np.array([[[1.0, 0.0]]])
    origin, way = (np.broadcast_to(one, (frames, most, 2)) for one in (origin, way))
    local = np.broadcast_to(ends, (frames, count, 4, 2)) - origin[at][:, :, None]
    cos, sin = way[at][:, :, None, 0], way[at][:, :, None, 1]
    local = np.stack([cos * local[..., 0] + sin * local[..., 1], cos * local[..., 1] - sin * local[..., 0]], axis=-1)
    low, high = np.full((frames, most, 2), np.inf), np.full((frames, most, 2), -np.inf)
    shown = seen[:, :, None]
    np.minimum.at(low, at, np.where(shown, local.min(axis=2), np.inf))
    np.maximum.at(high, at, np.where(shown, local.max(axis=2), -np.inf))
    some = np.isfinite(low)
    low, high = np.where(some, low, 0.0), np.where(some, high, 0.0)
    baseline = high[:, :, 1] if down else (np.zeros((frames, most)) if own else start[:, :, 1])
    belong = np.broadcast_to(belongs, (frames, count, 3))
    letters = belongs[:, :, 0].max(axis=1, initial=-1)[:, None] + 1
    part = setting.parts[first] % max(len(setting.called), 1)
    named = tuple((name, (part == number) * 1.0) for number, name in enumerate(setting.called) if name)
    return Units(
        of, there, first, np.concatenate([low, high - low], axis=2), baseline, origin, way, belong[row, first, 2],
        belong[row, first, 0], letters, named,
    )  # fmt: skip


def items_as_units(boxes: Floats) -> Units:
    """Items as units, or copies of one, each the letter of a text of one line: of boxes (1 | n, u, 4) in the pixels of
    what they lie in."""
    count = boxes.shape[1]
    number = np.arange(count, dtype=np.intp)[None]
    zero, ahead = np.zeros((1, count, 2)), np.tile([1.0, 0.0], (1, count, 1))
    low = boxes[:, :, 1] + boxes[:, :, 3]
    return Units(number, np.array([count]), number, boxes, low, zero, ahead, 0 * number, number, np.array([[count]]))


def whole_of(units: Units) -> Units:
    """All units as one."""
    low = units.box[:, :, :2].min(axis=1, keepdims=True)
    high = (units.box[:, :, :2] + units.box[:, :, 2:]).max(axis=1, keepdims=True)
    one = items_as_units(np.concatenate([low, high - low], axis=2))
    return replace(one, of=0 * units.of)


def anchors_of(cascade: Cascade, units: Units, units_by: UnitsOf) -> Floats:
    """About which points (1 | n, u, 2) units are turned and scaled, in the content's pixels."""
    if cascade.about == "point":
        return np.array([[cascade.point]])
    if cascade.about in ("unit", cascade.unit):
        return units.anchors(cascade.anchor, cascade.shift)
    outer = units_by(cascade.about)
    points = outer.anchors(cascade.anchor, cascade.shift)
    frames = max(len(points), len(units.first))
    first = np.broadcast_to(units.first, (frames, units.first.shape[1]))
    row = np.arange(frames)[:, None]
    of = np.broadcast_to(outer.of, (frames, outer.of.shape[1]))[row, first]
    return np.asarray(np.broadcast_to(points, (frames, *points.shape[1:]))[row, of])
