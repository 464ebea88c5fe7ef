"""Handles of a box: which scale or size brings the point that was taken under the pointer, about the anchor.

A handle at content point h stands in the scene at position + R·S·(h − anchor). Brought to p, its arm seen from the
turned layer is L = R⁻¹(p − position), so on each axis S' = L / (h − anchor): through zero it flips.
"""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np

from ..document.scene import Layer
from ..geometry.bezier import Floats
from ..geometry.transform import linear_part
from ..ground.errors import Refused
from ..ground.stations import STATIONS
from ..resolve.bounds import bounds
from ..resolve.context import Context
from ..resolve.layers import ResolvedLayer

HANDLES = tuple(name for name in STATIONS if name != "centre")
NEAR = 0.5
"""A handle nearer to the anchor than this, in pixels, is taken to stand on it."""
MOST = 100_000.0


class TakenHandle(NamedTuple):
    """A layer whose handle was taken, at one frame: its arm from the anchor in content pixels (2,), its scale in
    percent (2,), and where the pointer is, seen from the anchor along the layer's own turned axes, in pixels (2,)."""

    arm: Floats
    scale: Floats
    local: Floats


def axes_of(handle: str) -> tuple[int, ...]:
    """The axes that a handle draws: both for a corner, one for the middle of an edge."""
    if handle not in HANDLES:
        raise Refused(f"There is no handle {handle!r}.", where="handle", mend=f"Handles: {', '.join(HANDLES)}.")
    return tuple(axis for axis, share in enumerate(STATIONS[handle]) if share != 0.5)


def taken(
    layer: Layer, handle: str, to: tuple[float, float], frame: float, context: Context, *, sizes: bool = False
) -> TakenHandle:
    """The numbers of a handle brought to a scene point `to`; `sizes` where shapes are to be sized.

    A size grows about the content's origin. A pinned anchor goes along, so that the arm is seen from it; a fixed one
    does not, and the arm is seen from the origin: (h·g − a)·S = R⁻¹(p − position).
    """
    axes_of(handle)
    one = context.one(layer, frame)
    point = one.box[0, :2] + np.array(STATIONS[handle]) * one.box[0, 2:]
    turned = linear_part(np.array([[100.0, 100.0]]), one.values["rotation"][:1, 0])[0]
    local = turned.T @ (one.own_point(to) - one.values["position"][0])
    anchor, scale = one.anchor[0], one.values["scale"][0]
    if sizes and not layer.anchor.pinned:
        return TakenHandle(point, scale, local + anchor * scale / 100)
    return TakenHandle(point - anchor, scale, local)


def factors(had: TakenHandle, handle: str, proportional: bool) -> tuple[Floats, list[str]]:
    """By what each axis of the arm, as large as it is now, must be multiplied; and the axes that cannot be drawn.

    Where the scale of an axis is 0 the factor is taken of 100 %.
    """
    now = had.arm * np.where(had.scale == 0, 100.0, had.scale) / 100
    grown = np.ones(2)
    stuck = []
    for axis in axes_of(handle):
        if abs(now[axis]) < NEAR:
            stuck.append("xy"[axis])
        else:
            grown[axis] = had.local[axis] / now[axis]
    if not proportional:
        return grown, stuck
    free = [axis for axis in axes_of(handle) if abs(now[axis]) >= NEAR]
    if not free:
        return grown, stuck
    arm = now[free]
    return np.full(2, float(had.local[free] @ arm) / float(arm @ arm)), []


def scaled(had: TakenHandle, handle: str, proportional: bool) -> tuple[tuple[float, float], list[str]]:
    """The scale in percent that brings the handle to the pointer, and the axes that cannot be drawn."""
    grown, stuck = factors(had, handle, proportional)
    base = np.where(had.scale == 0, np.where(grown == 1, 0.0, 100.0), had.scale)
    x, y = (
        float(old) if factor == 1 else _tidy(np.clip(new * factor, -MOST, MOST))
        for old, new, factor in zip(had.scale, base, grown, strict=True)
    )
    return (x, y), stuck


def sized(had: TakenHandle, handle: str, proportional: bool) -> tuple[Floats, list[str]]:
    """By what the sizes of a shape must be multiplied (2,), 0 or more, and the axes that cannot be drawn."""
    grown, stuck = factors(had, handle, proportional)
    flat = [axis for axis in axes_of(handle) if had.scale[axis] == 0]
    grown[flat] = 1.0
    return np.maximum(grown, 0.0), sorted({*stuck, *("xy"[axis] for axis in flat)})


def stuck_words(stuck: list[str], name: str) -> str:
    """What is said where a handle cannot be drawn along an axis."""
    return (
        f"The handle of '{name}' stands on the anchor along {' and '.join(stuck)}, or its scale is 0 there, so nothing "
        "can be drawn out along it. Take the opposite handle, or move the anchor."
    )


def common_box(found: list[ResolvedLayer]) -> Floats:
    """left, top, right, bottom (4,) of several layers resolved at one frame, in the scene."""
    boxes = np.concatenate([bounds(one)[:1] for one in found])
    return np.concatenate([boxes[:, :2].min(axis=0), boxes[:, 2:].max(axis=0)])


def common_factors(box: Floats, handle: str, to: tuple[float, float], proportional: bool) -> tuple[Floats, Floats]:
    """How a common box grows (2,) when a handle of it is brought to `to`, and the opposite point, which stays (2,).

    >>> box = np.array([0, 0, 200, 100])
    >>> common_factors(box, "bottom right", (300, 100), proportional=False)[0].tolist()
    [1.5, 1.0]
    >>> common_factors(box, "right", (100, 50), proportional=False)[0].tolist()
    [0.5, 1.0]
    """
    axes = axes_of(handle)
    at = np.array(STATIONS[handle])
    size = box[2:] - box[:2]
    taken_at, stays = box[:2] + at * size, box[:2] + (1 - at) * size
    arm = taken_at - stays
    axes = tuple(axis for axis in axes if abs(arm[axis]) >= NEAR)
    grown = np.ones(2)
    away = np.array(to) - stays
    if proportional and axes:
        along = list(axes)
        grown[:] = float(away[along] @ arm[along]) / float(arm[along] @ arm[along])
    else:
        for axis in axes:
            grown[axis] = away[axis] / arm[axis]
    return grown, stays


def along_own_axes(grown: Floats, rotation: float) -> Floats:
    """Scene factors (2,) as factors along the axes of a layer turned by `rotation` degrees.

    Exact at quarter turns and where both are equal; between, each axis keeps its direction and takes the length that
    the scene's stretch gives it, since a layer has no shear.
    """
    turned = linear_part(np.array([[100.0, 100.0]]), np.array([rotation]))[0]
    stretched = grown[:, None] * turned
    sign = np.sign((stretched * turned).sum(axis=0))
    return np.asarray(np.hypot(stretched[0], stretched[1]) * np.where(sign == 0, 1.0, sign))


def _tidy(number: Any) -> float:
    return round(float(number), 3) + 0.0
