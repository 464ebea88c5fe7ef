"""The outlines of a set text, in pixels: of each letter, at each frame."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import pathops
from fontTools.pens.basePen import AbstractPen
from fontTools.pens.boundsPen import BoundsPen

from ..geometry.bezier import Floats
from .fonts import Outline, outline, outline_of
from .layout import Places, Setting

CALLS = {"M": ("moveTo", 1), "L": ("lineTo", 1), "Q": ("qCurveTo", 2), "C": ("curveTo", 3), "Z": ("closePath", 0)}


@lru_cache(maxsize=16_384)
def merged(name: str) -> Outline:
    """An outline whose parts do not overlap: those of variable fonts do, and a stroke would show it."""
    path = pathops.Path()
    found = outline(name)
    _draw(found, path.getPen())
    try:
        path.simplify(fix_winding=True, keep_starting_points=True)
    except pathops.PathOpsError:
        return found
    made = [(call, [(x, -y) for x, y in points]) for call, points in path.segments]
    return outline_of(made) if made else found


@lru_cache(maxsize=16_384)
def ink_of(name: str) -> tuple[float, float, float, float]:
    """The tight box of an outline in its own units: left, top, right, bottom, y down."""
    pen = BoundsPen(None)
    _draw(outline(name), pen)
    return pen.bounds or (0.0, 0.0, 0.0, 0.0)


def _draw(found: Outline, pen: AbstractPen) -> None:
    """Draw an outline on a pen, y down as it is."""
    numbers = iter(np.reshape(found.coordinates, (-1, 2)).tolist())
    for verb in found.verbs:
        call, count = CALLS[verb]
        getattr(pen, call)(*(next(numbers) for _ in range(count)))


def inks(setting: Setting) -> Floats:
    """The tight boxes of the letters of a text (n, g, 4), in pixels: left, top, right, bottom."""
    count = len(setting.names)
    places = setting.places.reshape(len(setting.places), count, 2)
    own = np.zeros((max(len(places), 1), count, 4)) if setting.styled else np.zeros((1, count, 4))
    for at, names in _named(setting):
        for slot, name in enumerate(names):
            if name:
                own[at, slot] = ink_of(name)
    return own * (setting.size / setting.units)[:, :, None] + places[:, :, [0, 1, 0, 1]]


def ink_box(setting: Setting) -> Floats:
    """The box (1 | n, 4) of all that is seen of a text; at frames without any, an empty one at its start."""
    if not setting.names:
        return np.zeros((1, 4))
    each, seen = np.broadcast_arrays(inks(setting), setting.seen[:, :, None] > 0)
    low = np.where(seen, each, np.inf)[:, :, :2].min(axis=1)
    high = np.where(seen, each, -np.inf)[:, :, 2:].max(axis=1)
    some = np.any(seen[:, :, 0], axis=1, keepdims=True)
    low, high = np.where(some, low, 0.0), np.where(some, high, 0.0)
    return np.concatenate([low, high - low], axis=1)


@dataclass(frozen=True)
class Letters:
    """Letters as outlines: constant `verbs` of each and its `points` (n, 2k)."""

    verbs: tuple[str, ...]
    points: tuple[Floats, ...]

    def joined(self, slots: Places) -> tuple[str, Floats]:
        """Some of them as one outline."""
        wanted = slots.tolist()
        count = max(len(self.points[slot]) for slot in wanted)
        whole = [np.broadcast_to(self.points[slot], (count, self.points[slot].shape[1])) for slot in wanted]
        return "".join(self.verbs[slot] for slot in wanted), np.concatenate(whole, axis=1)


def letters_of(setting: Setting, whole: bool) -> Letters:
    """The letters of a text as outlines, in one piece each where `whole`. One that a frame has not lies there as a
    point on the first that it has."""
    count = len(setting.names)
    places = setting.places.reshape(len(setting.places), count, 2)
    named = _named(setting)
    drawn: list[dict[str, Outline]] = []
    for slot in range(count):
        every = {names[slot] for _, names in named if names[slot]}
        found = {name: merged(name) if whole else outline(name) for name in every}
        if len({one.verbs for one in found.values()}) > 1:
            found = {name: outline(name) for name in every}
        drawn.append(found)
    scale = setting.size / setting.units
    verbs, points = [], []
    for slot, shapes in enumerate(drawn):
        verbs.append(next(iter(shapes.values())).verbs)
        if len(shapes) == 1:
            own = np.array([next(iter(shapes.values())).coordinates])
        else:
            own = np.zeros((len(places), len(next(iter(shapes.values())).coordinates)))
            for at, names in named:
                if names[slot]:
                    own[at] = shapes[names[slot]].coordinates
        points.append(own * scale[:, slot : slot + 1] + np.tile(places[:, slot], own.shape[1] // 2))
    if (setting.seen > 0).all():
        return Letters(tuple(verbs), tuple(points))
    first = np.argmax(setting.seen > 0, axis=1)
    rows = len(setting.seen)
    starts = np.stack([np.broadcast_to(one[:, :2], (rows, 2)) for one in points], axis=1)
    target = starts[np.arange(rows), first]
    shown = tuple(
        np.where(setting.seen[:, slot : slot + 1] > 0, one, np.tile(target, one.shape[1] // 2))
        for slot, one in enumerate(points)
    )
    return Letters(tuple(verbs), shown)


def _named(setting: Setting) -> list[tuple[Places | slice, tuple[str, ...]]]:
    """The frames and the names of glyphs in each style."""
    return [*setting.styled] or [(slice(None), setting.names)]
