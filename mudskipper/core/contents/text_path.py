"""A text that runs along the outline of another layer."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated, Literal

import numpy as np

from ..draw.bounds import cubics
from ..draw.lengths import subpaths
from ..geometry.bezier import Floats
from ..geometry.values import Values
from ..ground.base_model import Flag, Id, Model
from ..ground.shown import Shown
from ..text.layout import Setting
from ..tracks.kinds import NumberTrack

SAMPLES = 128
"""Straight pieces that a curve of an outline is measured by."""
AT = np.linspace(0.0, 1.0, SAMPLES + 1)
SHORTEST = 1e-6
"""Pixels; an outline that is shorter leaves the text as it is."""


class TextPath(Model):
    """The layer whose outline a text runs along, in that layer's own pixels: from `start` percent of its length, moved
    on by `shift` pixels. The text stands on it, hangs `below` it, or runs along it backwards on its other side, the
    `inside` of a circle; its letters are turned with it, or upright."""

    layer: Id
    start: Annotated[NumberTrack, Shown("Along", "%")] = NumberTrack(rest=0.0)
    shift: Annotated[NumberTrack, Shown("Along by", "px")] = NumberTrack(rest=0.0)
    side: Annotated[Literal["above", "below", "inside"], Shown("Side")] = "above"
    upright: Annotated[Flag, Shown("Upright")] = False


@dataclass(frozen=True)
class Course:
    """The first contour of an outline as k straight pieces: their ends (1 | n, k + 1, 2), how far each of these is
    along it (1 | n, k + 1), and the directions in which the curve leaves the start and arrives at the end of each piece
    (1 | n, k, 2)."""

    corners: Floats
    along: Floats
    leaves: Floats
    arrives: Floats
    closed: bool

    def at(self, far: Floats) -> tuple[Floats, Floats, Floats]:
        """Places (n, g, 2) and directions (n, g, 2) at lengths (n, g) along it, and whether they are on it."""
        count = max(len(far), len(self.along))
        whole = np.broadcast_to(self.along[:, -1:], (count, 1))
        inside = np.broadcast_to(far, (count, far.shape[1]))
        if self.closed:
            on, inside = np.ones_like(inside), inside % np.maximum(whole, SHORTEST)
        else:
            on = ((inside >= 0) & (inside <= whole)).astype(np.float64)
        places, ways = np.empty((*inside.shape, 2)), np.empty((*inside.shape, 2))
        for row in range(count):
            along = self.along[row if len(self.along) > 1 else 0]
            corners = self.corners[row if len(self.corners) > 1 else 0]
            piece = np.clip(np.searchsorted(along, inside[row], side="right") - 1, 0, len(along) - 2)
            leaves, arrives = (one[row if len(one) > 1 else 0][piece] for one in (self.leaves, self.arrives))
            share = (inside[row] - along[piece]) / np.maximum(along[piece + 1] - along[piece], 1e-12)
            places[row] = corners[piece] + (corners[piece + 1] - corners[piece]) * share[:, None]
            ways[row] = _unit(leaves + (arrives - leaves) * share[:, None])
        return places, ways, on


def course_of(verbs: str, points: Floats, backwards: bool) -> Course | None:
    """The course of an outline's first contour that has a length; None where it has none."""
    for part, own in subpaths(verbs, points):
        if part == "M":
            continue
        ((pieces, closed),) = cubics(part, own)
        # (n, pieces, 4, 2) → corners along each.
        t = AT[:, None]
        a, b, c, d = (pieces[:, :, i, None, :] for i in range(4))
        curve = (1 - t) ** 3 * a + 3 * (1 - t) ** 2 * t * b + 3 * (1 - t) * t**2 * c + t**3 * d
        corners = np.concatenate([curve[:, :1, 0], curve[:, :, 1:].reshape(len(curve), -1, 2)], axis=1)
        slope = (1 - t) ** 2 * (b - a) + 2 * (1 - t) * t * (c - b) + t**2 * (d - c)
        # Where a curve has no direction of its own, as beside a handle without a length, that of its piece.
        chords = np.diff(curve, axis=2)
        bare = np.hypot(slope[..., 0], slope[..., 1]) < 1e-9
        leaves, arrives = (
            _unit(np.where(flat[..., None], chords, own)).reshape(len(curve), -1, 2)
            for own, flat in ((slope[:, :, :-1], bare[:, :, :-1]), (slope[:, :, 1:], bare[:, :, 1:]))
        )
        if backwards:
            corners, leaves, arrives = corners[:, ::-1], -arrives[:, ::-1], -leaves[:, ::-1]
        steps = np.hypot(*np.moveaxis(np.diff(corners, axis=1), -1, 0))
        along = np.concatenate([np.zeros((len(steps), 1)), np.cumsum(steps, axis=1)], axis=1)
        # Pieces without a length have no direction.
        if along[:, -1].max() > SHORTEST:
            return Course(corners, along + np.arange(along.shape[1]) * 1e-12, leaves, arrives, closed)
    return None


def _unit(ways: Floats) -> Floats:
    """Directions of length 1."""
    return np.asarray(ways / np.maximum(np.hypot(ways[..., 0], ways[..., 1]), 1e-12)[..., None])


def laid(setting: Setting, path: TextPath, values: Values, course: Course, height: Floats) -> Setting:
    """A text that is set straight as it runs along a course; `height` (1 | n, 1) is how high its letters are, and the
    values are those of the path's own tracks."""
    count = len(setting.names)
    places = setting.places.reshape(len(setting.places), count, 2)
    first = setting.box[:, 1:2] + setting.baselines[:, :1]
    over = places[:, :, 1] - first
    down = over + (height if path.side == "below" else 0.0)
    whole = course.along[:, -1:]
    far = values["start"] / 100.0 * whole + values["shift"] + places[:, :, 0] + setting.widths / 2
    on, ways, there = course.at(far)
    if path.upright:
        ways = np.broadcast_to(np.array([1.0, 0.0]), ways.shape)
    across = np.stack([-ways[..., 1], ways[..., 0]], axis=-1)
    half = np.broadcast_to(setting.widths / 2, on.shape[:2])[..., None]
    origins = on - ways * half + across * np.broadcast_to(down, on.shape[:2])[..., None]
    lines = setting.lines.reshape(len(setting.lines), count, 4)
    top, bottom = lines[:, :, 1] - places[:, :, 1], lines[:, :, 1] + lines[:, :, 3] - places[:, :, 1]
    ends = [
        origins + ways * 2 * half * share + across * np.broadcast_to(edge, on.shape[:2])[..., None]
        for share in (0.0, 1.0)
        for edge in (top, bottom)
    ]
    seen = np.asarray(setting.seen * there)
    corners = np.stack(ends, axis=2)
    shown = np.broadcast_to((seen > 0)[:, :, None, None], corners.shape)
    low = np.where(shown, corners, np.inf).min(axis=(1, 2))
    high = np.where(shown, corners, -np.inf).max(axis=(1, 2))
    some = np.any(seen > 0, axis=1, keepdims=True)
    low, high = np.where(some, low, 0.0), np.where(some, high, 0.0)
    box = np.concatenate([low, high - low], axis=1)
    # Each letter is painted by itself, its box that of its own.
    own = np.concatenate([corners.min(axis=2), corners.max(axis=2) - corners.min(axis=2)], axis=2)
    turns = np.ascontiguousarray(ways).reshape(len(ways), -1)
    return replace(
        setting, places=origins.reshape(len(origins), -1), box=box, inside=box, baselines=np.zeros((1, 1)),
        lines=own.reshape(len(own), -1), seen=seen, turns=turns,
    )  # fmt: skip
