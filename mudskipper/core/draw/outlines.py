"""Outlines of shapes as verbs and points, made once for both painters."""

from __future__ import annotations

import numpy as np

from ..geometry.bezier import Floats

ARC = 0.5522847498307936
"""The handle of a cubic quarter circle, as a share of its radius: 4/3 (√2 − 1)."""


def rounded(box: Floats, radius_x: Floats, radius_y: Floats) -> tuple[str, Floats]:
    """A rectangle (n, 4) with corners as quarter arcs, of radii (n, 1) or of four (n, 4), clockwise from the top left;
    plain where all are 0.

    All numbers are taken as float32, which painters compute with, so that corners that meet do so exactly.
    """
    x, y, width, height = (_single(box[:, i]) for i in range(4))
    right, bottom = x + width, y + height
    if not (radius_x > 0).any() or not (radius_y > 0).any():
        return "MLLLZ", _points(x, y, right, y, right, bottom, x, bottom)
    # Of each corner how far its arc reaches along x and along y, and how far its handles do.
    (ax, ay), (bx, by), (cx, cy), (dx, dy) = reach = [
        (_single(radius_x[:, i % radius_x.shape[1]]), _single(radius_y[:, i % radius_y.shape[1]])) for i in range(4)
    ]
    (ahx, ahy), (bhx, bhy), (chx, chy), (dhx, dhy) = ((rx * (1 - ARC), ry * (1 - ARC)) for rx, ry in reach)
    return "MLCLCLCLCZ", _points(
        x + ax, y,
        right - bx, y, right - bhx, y, right, y + bhy, right, y + by,
        right, bottom - cy, right, bottom - chy, right - chx, bottom, right - cx, bottom,
        x + dx, bottom, x + dhx, bottom, x, bottom - dhy, x, bottom - dy,
        x, y + ay, x, y + ahy, x + ahx, y, x + ax, y,
    )  # fmt: skip


def reduced(box: Floats, radii: Floats) -> Floats:
    """Radii of a rectangle's corners (n, 4), clockwise from the top left: all smaller by one factor where those along a
    side are longer than it (CSS Backgrounds 3, 4.5)."""
    sides = np.concatenate([box[:, 2:4], box[:, 2:4]], axis=1)
    along = np.broadcast_to(radii + np.roll(radii, -1, axis=1), np.broadcast_shapes(radii.shape, sides.shape))
    with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
        room = np.where(along > 0, sides / along, np.inf).min(axis=1, keepdims=True)
    return np.asarray(radii * np.minimum(room, 1))


def _single(numbers: Floats) -> Floats:
    return numbers.astype(np.float32).astype(np.float64)


def _points(*numbers: Floats) -> Floats:
    return np.stack(np.broadcast_arrays(*numbers), axis=1)


def arc(start: Floats, sweep: Floats) -> Floats:
    """A part of the unit circle as four curves: `sweep` degrees (n, 1) from `start`, clockwise from the top:
    (n, 13, 2)."""
    first, quarter = np.radians(start), np.radians(sweep) / 4
    angles = first + quarter * np.arange(5)
    on = np.stack([np.sin(angles), -np.cos(angles)], axis=2)
    handle = (4 / 3 * np.tan(quarter / 4))[:, :, None] * np.stack([np.cos(angles), np.sin(angles)], axis=2)
    curves = np.stack([on[:, :-1] + handle[:, :-1], on[:, 1:] - handle[:, 1:], on[:, 1:]], axis=2)
    return np.concatenate([on[:, :1], curves.reshape(len(on), -1, 2)], axis=1)


def filleted(corners: Floats, radii: Floats) -> tuple[str, Floats]:
    """A polygon (n, k, 2) with corners rounded by arcs of radii (n, k), each at most as long as half the sides that
    meet there allow; plain where all radii are 0."""
    count, sides = max(len(corners), len(radii)), corners.shape[1]
    corners = np.broadcast_to(corners, (count, sides, 2))
    if not (radii > 0).any():
        return f"M{'L' * (sides - 1)}Z", corners.reshape(count, -1)
    back, on = np.roll(corners, 1, axis=1) - corners, np.roll(corners, -1, axis=1) - corners
    long_back, long_on = np.hypot(back[..., 0], back[..., 1]), np.hypot(on[..., 0], on[..., 1])
    with np.errstate(divide="ignore", invalid="ignore"):
        back, on = back / long_back[..., None], on / long_on[..., None]
        angle = np.arccos(np.clip((back * on).sum(axis=-1), -1, 1))
        along = np.minimum(radii / np.tan(angle / 2), np.minimum(long_back, long_on) / 2)
        handle = along * np.tan(angle / 2) * 4 / 3 * np.tan((np.pi - angle) / 4)
    back, on, along, handle = (np.nan_to_num(one, posinf=0, neginf=0) for one in (back, on, along, handle))
    start, end = corners + back * along[..., None], corners + on * along[..., None]
    first, second = start - back * handle[..., None], end - on * handle[..., None]
    # From the end of one arc straight to the start of the next, around it, and at last round the first corner.
    arcs = np.stack([start, first, second, end], axis=2)
    rest = np.concatenate([arcs[:, 1:], arcs[:, :1]], axis=1).reshape(count, -1, 2)
    points = np.concatenate([arcs[:, :1, 3], rest], axis=1)
    return f"M{'LC' * sides}Z", points.reshape(count, -1)
