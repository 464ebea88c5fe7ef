"""A layer put under another carrier, or under none, so that its picture stays where it was.

In the space of its position a layer is moved by K = C'⁻¹·C, where C and C' are the matrices of what carried it and of
what is to carry it. Where K is the same at every frame, positions p become K·p, and turns and scales are K's times
their own: no key is added. Where it is not, straight keys follow the picture at every frame.
"""

from __future__ import annotations

from typing import Any, Literal

import numpy as np

from .bezier import Floats
from .context import Context
from .errors import Refused
from .fewest_keys import fitted_keys
from .layer_bounds import corners
from .moved_motion import moved_by
from .properties import remade
from .resolved_layer import ResolvedLayer
from .scene import Layer
from .tracks import PathTrack
from .transform import UNMOVED, apply, inverse, linear_part, multiply
from .variant_differences import over_variants

SAME = 1e-9
NEAR = 0.04
"""Pixels by which the picture may be off where keys follow it."""
SHEAR = 1e-4
"""The cosine of the angle between a layer's axes up to which they count as square."""

Keep = Literal["frame", "throughout"]


def recarried(layer: Layer, carrier: str | None, frame: float, keep: Keep, context: Context) -> Layer:
    """The layer carried by another one, or by none, its picture where it was: at a scene frame, from which on it goes
    along, or throughout its span. Refused in words where it would have to be sheared."""
    frames = (
        np.arange(layer.span.start, layer.span.end, dtype=np.float64) if keep == "throughout" else np.array([frame])
    )
    changed = layer.model_copy(update={"carrier": carrier})
    between = _between(layer, carrier, frames, context)
    if np.abs(between - between[0]).max() <= SAME:
        matrix = between[0]
        if np.abs(matrix - UNMOVED[0]).max() <= SAME:
            return changed
        if _square(matrix) or not _turns(layer):
            return over_variants(changed, lambda one: moved_by(one, matrix, context.scene.fps))
        if keep == "frame":
            raise _sheared(layer, frame)
    return _following(layer, changed, between, frames, context)


def _between(layer: Layer, carrier: str | None, frames: Floats, context: Context) -> Floats:
    """K (n, 6) at scene frames."""
    size = (len(frames), 6)
    old = _carrier_matrix(layer.carrier, frames, context)
    new = _carrier_matrix(carrier, frames, context)
    back = inverse(np.broadcast_to(new, size))
    if back is None:
        name = context.scene.layer(carrier or "").name
        raise Refused(
            f"'{name}' has scale 0 at some frame, so nothing can be placed in it there.",
            where="carrier", mend="Give it a size at every frame, or link the layer where it has one.",
        )  # fmt: skip
    return multiply(back, np.broadcast_to(old, size))


def _carrier_matrix(carrier: str | None, frames: Floats, context: Context) -> Floats:
    found = None if carrier is None else context.layer(carrier, frames)
    return UNMOVED if found is None else found.matrix


def _square(matrix: Floats) -> bool:
    """Whether a matrix keeps all angles."""
    a, b, c, d = matrix[:4]
    size = max(a * a + b * b, c * c + d * d, 1e-300)
    return bool(abs(a * c + b * d) <= SAME * size and abs(a * a + b * b - c * c - d * d) <= SAME * size)


def _turns(layer: Layer) -> bool:
    """Whether the layer is turned at all, in any variant, so that a matrix that stretches would shear it."""
    tracks = [layer.rotation, *(variant.rotation for variant in layer.variants)]
    return any(track.rest or track.keys for track in tracks)


def _following(before: Layer, after: Layer, between: Floats, frames: Floats, context: Context) -> Layer:
    """The layer with straight keys that follow its picture at frames (n,); position, rotation and scale alike."""
    (one,) = context.resolve([before], frames)
    count = len(frames)
    values = {name: np.broadcast_to(one.values[name], (count, one.values[name].shape[1])) for name in _MOVES}
    own = linear_part(values["scale"] * 0 + 100.0, values["rotation"][:, 0])
    linear = np.stack([between[:, [0, 2]], between[:, [1, 3]]], axis=1) @ own
    lengths = np.hypot(linear[:, 0], linear[:, 1])
    cosine = (linear[:, 0, 0] * linear[:, 0, 1] + linear[:, 1, 0] * linear[:, 1, 1]) / np.maximum(
        lengths[:, 0] * lengths[:, 1], 1e-12
    )
    sheared = np.flatnonzero(np.abs(cosine) > SHEAR)
    if sheared.size:
        raise _sheared(before, float(frames[sheared[0]]))
    mirrored = np.linalg.det(linear) < 0
    scale = values["scale"] * lengths * np.stack([np.ones(count), np.where(mirrored, -1.0, 1.0)], axis=1)
    turned = np.degrees(np.unwrap(np.arctan2(linear[:, 1, 0], linear[:, 0, 0])))
    turned += 360.0 * np.round((values["rotation"][0, 0] - turned[0]) / 360.0)
    place = apply(between, values["position"])
    reach = _reach(one)
    wanted = {
        "position": (place, NEAR / 2), "rotation": (turned[:, None], np.degrees(NEAR / 4 / reach)),
        "scale": (scale, 100.0 * NEAR / 4 / reach),
    }  # fmt: skip
    local = frames - before.span.start
    for name, (numbers, near) in wanted.items():
        after = after.model_copy(update={name: _fitted(after, name, local, numbers, float(near))})
    return after


_MOVES = ("position", "rotation", "scale")


def _fitted(layer: Layer, name: str, local: Floats, numbers: Floats, near: float) -> Any:
    fitted = fitted_keys(local, numbers, near)
    track = PathTrack(rest=(0.0, 0.0)) if name == "position" else getattr(layer, name)
    keys = fitted if len(fitted) > 1 else ()
    return remade(track, name, rest=fitted[0]["value"], keys=keys, before="hold", after="hold", cadence=None)


def _reach(one: ResolvedLayer) -> float:
    """The furthest that anything of a layer lies from its anchor, in scene pixels."""
    away = corners(one) - np.broadcast_to(one.place, (len(one.frames), 2))[:, None]
    return max(float(np.hypot(away[..., 0], away[..., 1]).max()), 1.0)


def _sheared(layer: Layer, frame: float) -> Refused:
    return Refused(
        f"'{layer.name}' would have to be sheared at frame {frame:g}, since what carries it is stretched and it is "
        "turned.",
        where="carrier", mend="Scale the carrier alike on x and y, or turn the layer back first.",
    )  # fmt: skip
