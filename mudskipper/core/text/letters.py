"""The outlines of a set text, in pixels: of each letter, at each frame."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import pathops
from fontTools.pens.basePen import AbstractPen
from fontTools.pens.boundsPen import BoundsPen
from numpy.typing import NDArray

from ..geometry.bezier import Floats
from .fonts import TAKES, Outline, outline
from .layout import Places, Setting

CALLS = {"M": "moveTo", "L": "lineTo", "Q": "qCurveTo", "C": "curveTo", "Z": "closePath"}

VERBS = {
    pathops.PathVerb.MOVE: "M", pathops.PathVerb.LINE: "L", pathops.PathVerb.QUAD: "Q",
    pathops.PathVerb.CUBIC: "C", pathops.PathVerb.CLOSE: "Z",
}  # fmt: skip


@lru_cache(maxsize=16_384)
def merged(name: str) -> Outline:
    """An outline whose parts do not overlap: those of variable fonts do, and a stroke would show it. As it is where
    they cannot be told apart without a fault."""
    found = outline(name)
    inside = _inside(found)
    # What the algorithm gets wrong at one scale it mostly gets right at another.
    for scale in SCALES:
        made = _simplified(found, scale)
        if made is not None and (_inside(made, found) == inside).mean() >= ALIKE:
            return made
    return found


SCALES = (1.0, 8.0, 3.7, 21.3)
ALIKE = 0.998
"""Of the places that are looked at so many must be inside of both; at an edge it is a matter of rounding."""
GRID = 40


def _simplified(found: Outline, scale: float) -> Outline | None:
    path = pathops.Path()
    _draw(Outline(found.verbs, tuple(number * scale for number in found.coordinates)), path.getPen())
    try:
        path.simplify(fix_winding=True, keep_starting_points=True)
    except pathops.PathOpsError:
        return None
    verbs: list[str] = []
    numbers: list[float] = []
    for verb, points in path:
        if verb not in VERBS:
            return None
        verbs.append(VERBS[verb])
        numbers += [float(number) / scale for point in points for number in point]
    return Outline("".join(verbs), tuple(numbers)) if verbs else None


def _inside(found: Outline, within: Outline | None = None) -> NDArray[np.bool_]:
    """Which places of a grid over an outline, or over another one, are inside of it: those with a winding number other
    than 0."""
    ends = np.reshape((within or found).coordinates, (-1, 2))
    low, high = ends.min(axis=0), ends.max(axis=0)
    steps = (np.arange(GRID) + 0.5) / GRID
    xs, ys = (low[axis] + (high[axis] - low[axis]) * steps for axis in (0, 1))
    edges = found.edges
    x0, y0, x1, y1 = edges.T
    rising = (y0 <= ys[:, None]) & (y1 > ys[:, None])
    falling = (y1 <= ys[:, None]) & (y0 > ys[:, None])
    with np.errstate(divide="ignore", invalid="ignore"):
        at = x0 + (ys[:, None] - y0) / (y1 - y0) * (x1 - x0)
    turns = rising.astype(int) - falling.astype(int)
    crossed = np.where(turns != 0, at, np.inf)
    winding = ((crossed[:, None, :] > xs[None, :, None]) * turns[:, None, :]).sum(axis=2)
    return np.asarray(winding != 0).reshape(-1)


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
        getattr(pen, CALLS[verb])(*(next(numbers) for _ in range(TAKES[verb])))


def inks(setting: Setting) -> Floats:
    """The tight boxes of the letters of a text (n, g, 4), in pixels: left, top, right, bottom."""
    count = len(setting.names)
    places = setting.places.reshape(len(setting.places), count, 2)
    own = np.zeros((max(len(places), 1), count, 4)) if setting.styled else np.zeros((1, count, 4))
    for at, names in _named(setting):
        for slot, name in enumerate(names):
            if name:
                own[at, slot] = ink_of(name)
    scaled = own * (setting.size / setting.units)[:, :, None]
    if setting.turns is None:
        return scaled + places[:, :, [0, 1, 0, 1]]
    # What is turned lies in the box of its corners.
    corners = _turned(scaled[:, :, [0, 1, 2, 1, 2, 3, 0, 3]], setting.turns)
    xs, ys = corners[:, :, 0::2], corners[:, :, 1::2]
    ends = np.stack([xs.min(axis=2), ys.min(axis=2), xs.max(axis=2), ys.max(axis=2)], axis=2)
    return np.asarray(ends + places[:, :, [0, 1, 0, 1]])


def _turned(points: Floats, turns: Floats) -> Floats:
    """Points (1 | n, g, 2k) of letters about their origins, turned as these are (n, 2g)."""
    way = turns.reshape(len(turns), -1, 2)
    cos, sin = way[:, :, :1], way[:, :, 1:]
    xs, ys = points[:, :, 0::2], points[:, :, 1::2]
    found = np.empty((max(len(points), len(turns)), points.shape[1], points.shape[2]))
    found[:, :, 0::2], found[:, :, 1::2] = cos * xs - sin * ys, sin * xs + cos * ys
    return found


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


def matrices_of(setting: Setting, slots: Places) -> Floats:
    """The matrices (1 | n, k, 6) from the outlines of some letters of a text to its pixels; of those that a frame has
    not they are without an extent."""
    count = len(setting.names)
    places = setting.places.reshape(-1, count, 2)[:, slots]
    scale = (setting.size / setting.units * setting.seen)[:, slots]
    matrices = np.zeros((max(len(places), len(scale)), len(slots), 6))
    matrices[:, :, 0] = matrices[:, :, 3] = scale
    if setting.turns is not None:
        way = setting.turns.reshape(-1, count, 2)[:, slots]
        cos, sin = way[:, :, 0] * scale, way[:, :, 1] * scale
        matrices[:, :, 0], matrices[:, :, 1], matrices[:, :, 2], matrices[:, :, 3] = cos, sin, -sin, cos
    matrices[:, :, 4:] = places
    return matrices


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
        drawn_own = own * scale[:, slot : slot + 1]
        if setting.turns is not None:
            drawn_own = _turned(drawn_own[:, None], setting.turns[:, 2 * slot : 2 * slot + 2])[:, 0]
        points.append(drawn_own + np.tile(places[:, slot], own.shape[1] // 2))
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
