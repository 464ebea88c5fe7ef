"""The tight box of what is painted: curves by their extremes, strokes with their mitred corners.

Painters put a round cap on a cusp, where a curve turns back on itself: it is not counted. Nor is the square end of a
piece without a length.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from functools import lru_cache

import numpy as np

from ..geometry.bezier import Floats
from ..geometry.perspective import project
from ..geometry.transform import UNMOVED, apply, multiply
from ..text.fonts import outline
from .inks import Ink, Layering, MaskInk, StrokeInk
from .operations import TAKES, Rule
from .pen import Pen
from .sheets import grown, reach_of

SHORT = 1e-9
"""Pixels below which a piece of an outline has no direction."""


class BoundsPen(Pen):
    """Measures what is drawn, visible or not, in the space outside of all groups."""

    def __init__(self) -> None:
        self._matrix = UNMOVED
        self._ends: list[tuple[Floats, Floats]] = []

    @property
    def box(self) -> Floats | None:
        """left, top, width, height (1 | n, 4) of all that was drawn; None where nothing was."""
        if not self._ends:
            return None
        low = np.stack(np.broadcast_arrays(*(low for low, _ in self._ends))).min(axis=0)
        high = np.stack(np.broadcast_arrays(*(high for _, high in self._ends))).max(axis=0)
        return np.concatenate([low, high - low], axis=1)

    def path(
        self, verbs: str, points: Floats, fill: Ink | None, stroke: StrokeInk | None = None, rule: Rule = "nonzero"
    ) -> None:
        for pieces, closed in cubics(verbs, points):
            self._take(extremes(pieces, self._matrix)[0])
            if stroke is not None:
                self._take(_stroked(pieces, closed, stroke, self._matrix))

    def glyphs(self, names: tuple[str, ...], matrices: Floats, fill: Floats) -> None:
        if matrices.shape[1] == 9 * len(names):
            self._take(self._in_perspective(names, matrices.reshape(len(matrices), -1, 9)))
            return
        each = matrices.reshape(len(matrices), -1, 6)
        upright = not each[:, :, 1:3].any() and not self._matrix[:, 1:3].any()
        for index, name in enumerate(names):
            matrix = multiply(self._matrix, each[:, index])
            if upright:
                # An upright glyph reaches from corner to corner of its own box.
                corners = np.broadcast_to(_glyph_corners(name), (len(matrix), 2, 2))
                self._take(apply(matrix[:, None], corners))
            else:
                for pieces, _ in _glyph(name):
                    self._take(extremes(pieces, matrix)[0])

    def _in_perspective(self, names: tuple[str, ...], each: Floats) -> Floats:
        """The corners (n, 4g, 2) of glyphs' boxes in perspective, between which the glyphs lie."""
        ends = np.concatenate([_glyph_corners(name) for name in names])
        corners = np.stack([ends[:, [x, y], [0, 1]] for x, y in ((0, 0), (1, 0), (1, 1), (0, 1))], axis=1)
        there = project(each[:, :, None], corners[None])
        return apply(self._matrix[:, None], there.reshape(len(there), -1, 2))

    def image(self, source: str, box: Floats, frame: Floats | None = None) -> None:
        corners = [box[:, :2] + box[:, 2:] * np.array(share) for share in ((0, 0), (1, 0), (1, 1), (0, 1))]
        self._take(apply(self._matrix[:, None], np.stack(corners, axis=1)))

    def below(self, box: Floats) -> None:
        self.image("", box)

    @contextmanager
    def group(self, layering: Layering) -> Iterator[None]:
        outside, self._matrix = self._matrix, multiply(self._matrix, layering.matrix)
        before, self._ends = self._ends, []
        yield
        if layering.masks and self._ends:
            box = self.box
            assert box is not None
            low, high = self._masked(layering.masks)
            low = np.minimum(np.maximum(low, box[:, :2]), box[:, :2] + box[:, 2:])
            self._ends = [(low, np.maximum(np.minimum(high, box[:, :2] + box[:, 2:]), low))]
        if layering.effects and self._ends:
            box = self.box
            assert box is not None
            ends = np.concatenate([box[:, :2], box[:, :2] + box[:, 2:]], axis=1)
            ends = grown(ends, self._matrix, reach_of(layering.effects))
            self._ends = [(ends[:, :2], ends[:, 2:])]
        self._ends = before + self._ends
        self._matrix = outside

    def _masked(self, masks: Sequence[MaskInk]) -> tuple[Floats, Floats]:
        """The corners of what masks leave, outside of all groups; where an edge is feathered, three deviations more."""
        first = masks[0].mode == "add"
        low, high = (np.array([[np.inf if first == under else -np.inf] * 2]) for under in (True, False))
        for mask in masks:
            pen = BoundsPen()
            pen._matrix = multiply(self._matrix, mask.matrix)
            mask.draw(pen)
            box = pen.box
            if mask.inverted or box is None:
                ends = np.array([[-np.inf] * 2]), np.array([[np.inf] * 2])
            else:
                # Along x and along y a blur before the matrix reaches as far as the rows of that are long.
                more = 3 * mask.blur * np.hypot(pen._matrix[:, 0:2], pen._matrix[:, 2:4])
                ends = box[:, :2] - more, box[:, :2] + box[:, 2:] + more
            if mask.mode == "add":
                low, high = np.minimum(low, ends[0]), np.maximum(high, ends[1])
            elif mask.mode == "intersect":
                low, high = np.maximum(low, ends[0]), np.minimum(high, ends[1])
        return low, high

    def _take(self, points: Floats) -> None:
        """Count points (n, k, 2) in."""
        self._ends.append((points.min(axis=1), points.max(axis=1)))


def cubics(verbs: str, points: Floats) -> Iterator[tuple[Floats, bool]]:
    """The subpaths of an outline as cubic pieces (n, m, 4, 2), and whether each is closed."""
    at = points.reshape(len(points), -1, 2)
    pieces: list[Floats] = []
    start = here = at[:, 0]
    index = 0
    for verb in verbs:
        given = [at[:, index + i] for i in range(TAKES[verb])]
        index += TAKES[verb]
        if verb == "M":
            if pieces:
                yield np.stack(pieces, axis=1), False
            pieces, start, here = [], given[0], given[0]
            continue
        goal = given[-1] if given else start
        if verb == "C":
            handles = given[:2]
        elif verb == "Q":
            handles = [here + (given[0] - here) * 2 / 3, goal + (given[0] - goal) * 2 / 3]
        else:
            handles = [here + (goal - here) / 3, here + (goal - here) * 2 / 3]
        pieces.append(np.stack([here, *handles, goal], axis=1))
        here = goal
        if verb == "Z":
            yield np.stack(pieces, axis=1), True
            pieces = []
    if pieces:
        yield np.stack(pieces, axis=1), False


def extremes(pieces: Floats, matrix: Floats) -> tuple[Floats, Floats, Floats]:
    """The points under a matrix (n, k, 2) at which pieces (n, m, 4, 2) reach furthest left, right, up and down; with
    the same points before the matrix, and the directions of the outline there."""
    moved = apply(matrix[:, None], pieces.reshape(len(pieces), -1, 2))
    a, b, c, d = np.moveaxis(moved.reshape(len(moved), -1, 4, 2), 2, 0)
    # The derivative of a cubic is 3 (q t² + r t + s); its roots on each axis.
    q, r, s = d - 3 * c + 3 * b - a, 2 * (c - 2 * b + a), b - a
    with np.errstate(divide="ignore", invalid="ignore"):
        under = r * r - 4 * q * s
        root = np.sqrt(np.maximum(under, 0))
        # The stable form: what is large is never taken from what is about as large.
        w = -(r + np.where(r >= 0, root, -root)) / 2
        roots = np.stack([np.where(q != 0, w / q, np.nan), np.where(w != 0, s / w, np.nan)], axis=-1)
    roots = np.where((roots > 0) & (roots < 1) & (under >= 0)[..., None], roots, 0.0)
    count = max(len(moved), len(pieces))
    flat = np.broadcast_to(roots.reshape(len(roots), roots.shape[1], -1), (count, roots.shape[1], 4))
    times = np.concatenate([flat, np.ones((*flat.shape[:2], 1)), np.zeros((*flat.shape[:2], 1))], axis=2)
    spread = np.broadcast_to(pieces, (count, *pieces.shape[1:]))
    local = points_at(spread, times).reshape(count, -1, 2)
    return apply(matrix[:, None], local), local, _directions(spread, times).reshape(count, -1, 2)


def points_at(pieces: Floats, times: Floats) -> Floats:
    """Points (n, m, k, 2) of pieces at times (n, m, k)."""
    t = times[..., None]
    a, b, c, d = (pieces[:, :, None, i] for i in range(4))
    return np.asarray((1 - t) ** 3 * a + 3 * (1 - t) ** 2 * t * b + 3 * (1 - t) * t**2 * c + t**3 * d)


def _directions(pieces: Floats, times: Floats) -> Floats:
    """Unit directions (n, m, k, 2) of pieces at times; at ends whose handle has no length, towards the next point that
    is elsewhere; 0 for a piece without a length."""
    t = times[..., None]
    a, b, c, d = (pieces[:, :, None, i] for i in range(4))
    along = (1 - t) ** 2 * (b - a) + 2 * (1 - t) * t * (c - b) + t**2 * (d - c)
    for other in (np.where(t < 0.5, c - a, d - b), d - a):
        along = np.where(_length(along) > SHORT, along, other)
    length = _length(along)
    return np.where(length > SHORT, along / np.maximum(length, SHORT), 0.0)


def _stroked(pieces: Floats, closed: bool, stroke: StrokeInk, matrix: Floats) -> Floats:
    """The outermost points (n, k, 2) of a stroke under a matrix; where dashes end in caps, a little more."""
    half = np.maximum(stroke.width, 0) / 2
    _, local, along = extremes(pieces, matrix)
    reach = half[:, None] * _normal(along)
    sides = [local + reach, local - reach]
    ends = _directions(pieces, np.broadcast_to(np.array([0.0, 1.0]), (*pieces.shape[:2], 2)))
    leaving, arriving = _carried(ends[:, ::-1, 0])[:, ::-1], _carried(ends[:, :, 1])
    if closed:
        # Around the start the last piece meets the first, and pieces without a length are passed over there too.
        leaving = _carried(np.concatenate([leaving, leaving], axis=1)[:, ::-1])[:, ::-1][:, : pieces.shape[1]]
        arriving = _carried(np.concatenate([arriving, arriving], axis=1))[:, pieces.shape[1] :]
        corners, before, after = pieces[:, :, 0], np.roll(arriving, 1, axis=1), leaving
    else:
        corners, before, after = pieces[:, 1:, 0], arriving[:, :-1], leaving[:, 1:]
    if corners.shape[1] and stroke.join == "miter":
        sides.append(_tips(corners, before, after, half, stroke.mitre))
    elif corners.shape[1] and stroke.join == "round":
        sides.append(_round_corners(corners, before, after, half, matrix))
    if not closed and stroke.cap != "butt":
        for at, way in ((pieces[:, :1, 0], -leaving[:, :1]), (pieces[:, -1:, 3], arriving[:, -1:])):
            if stroke.cap == "square":
                sides += [at + half[:, None] * (way + _normal(way)), at + half[:, None] * (way - _normal(way))]
            else:
                sides.append(_round_corners(at, way, -way, half, matrix))
    moved = [apply(matrix[:, None], side) for side in sides]
    if stroke.dash is not None and stroke.cap != "butt":
        reach = (1.0 if stroke.cap == "round" else 2**0.5) * half * np.hypot(matrix[:, [0, 1]], matrix[:, [2, 3]])
        at = apply(matrix[:, None], local)
        moved += [at - reach[:, None], at + reach[:, None]]
    count = max(map(len, moved))
    return np.concatenate([np.broadcast_to(side, (count, *side.shape[1:])) for side in moved], axis=1)


def _carried(directions: Floats) -> Floats:
    """Directions (n, m, 2) with each that is 0 replaced by the one before it."""
    known = _length(directions)[..., 0] > 0
    index = np.where(known, np.arange(directions.shape[1]), 0)
    return np.take_along_axis(directions, np.maximum.accumulate(index, axis=1)[..., None], axis=1)


def _tips(corners: Floats, arriving: Floats, leaving: Floats, half: Floats, limit: Floats) -> Floats:
    """The points (n, k, 2) of mitred corners; the corner itself where it is cut off past the mitre limit."""
    cosine = (arriving * leaving).sum(axis=-1, keepdims=True)
    turn = _cross(arriving, leaving)
    # The mitre is 1 / sin(θ/2) = 1 / √((1 + cos turn) / 2) times the width (SVG 2, 13.5.5).
    mitred = limit[:, None] ** 2 * (1 + cosine) >= 2
    out = (_normal(arriving) + _normal(leaving)) / np.maximum(1 + cosine, SHORT)
    return np.asarray(corners - np.where(mitred, np.sign(turn) * out * half[:, None], 0.0))


def _round_corners(corners: Floats, arriving: Floats, leaving: Floats, half: Floats, matrix: Floats) -> Floats:
    """The points (n, k, 2) at which rounded corners reach furthest left, right, up and down under a matrix; the corner
    itself where its arc, from the outer normal of one piece to that of the next, faces elsewhere. Where an outline
    turns back on itself the arc is the half circle ahead, and around a dot it is the whole one."""
    rows = matrix[:, [[0, 2], [1, 3]]]
    rows = rows / np.maximum(_length(rows), SHORT)
    furthest = np.concatenate([rows, -rows], axis=1)[:, None]
    turn = np.sign(_cross(arriving, leaving))[..., None, :]
    first, last = (-turn * _normal(way)[:, :, None] for way in (arriving, leaving))
    faced = (turn * _cross(first, furthest) >= 0) & (turn * _cross(furthest, last) >= 0) & (turn != 0)
    back = (turn == 0) & ((arriving * leaving).sum(axis=-1, keepdims=True)[..., None, :] < 0)
    faced |= back & ((arriving[:, :, None] * furthest).sum(axis=-1, keepdims=True) >= 0)
    faced |= (_length(arriving) + _length(leaving) == 0)[..., None, :]
    points = corners[:, :, None] + np.where(faced, half[:, None, None] * furthest, 0.0)
    return np.asarray(points.reshape(len(points), -1, 2))


def _cross(one: Floats, other: Floats) -> Floats:
    """The cross products (…, 1) of vectors (…, 2)."""
    return one[..., :1] * other[..., 1:] - one[..., 1:] * other[..., :1]


def _normal(directions: Floats) -> Floats:
    return np.stack([-directions[..., 1], directions[..., 0]], axis=-1)


def _length(vectors: Floats) -> Floats:
    return np.hypot(vectors[..., :1], vectors[..., 1:])


@lru_cache(maxsize=16_384)
def _glyph(name: str) -> tuple[tuple[Floats, bool], ...]:
    """The outline of a glyph as pieces."""
    shape = outline(name)
    return tuple(cubics(shape.verbs, np.array([shape.coordinates])))


@lru_cache(maxsize=16_384)
def _glyph_corners(name: str) -> Floats:
    """Top left and bottom right of a glyph's own box (1, 2, 2)."""
    points = np.concatenate([extremes(pieces, UNMOVED)[0] for pieces, _ in _glyph(name)], axis=1)
    return np.stack([points.min(axis=1), points.max(axis=1)], axis=1)
