"""A layer put under another carrier, or under none, so that its picture stays where it was.

In the space of its position a layer is moved by K = C'⁻¹·C, where C and C' are the matrices of what carried it and of
what is to carry it. Where K is the same at every frame, positions p become K·p, and turns and scales are K's times
their own: no key is added. Where it is not, straight keys follow the picture at every frame; so they do
where formulas would not let it stay.
"""

from __future__ import annotations

from typing import Any, Literal

import numpy as np

from ..document.properties import NO_FORMULA, label_of, remade
from ..document.scene import Layer
from ..document.variant_differences import over_variants
from ..geometry.bezier import Floats
from ..geometry.fewest_beziers import eased_keys
from ..geometry.transform import UNMOVED, apply, inverse, linear_part, multiply
from ..ground.errors import Refused
from ..resolve.context import Context
from ..resolve.corners import corners
from ..resolve.layers import ResolvedLayer
from ..tracks.base import Track
from ..tracks.kinds import PathTrack
from . import position_keys as position_of
from .moved_motion import moved_by
from .under_formula import moved, with_shown

SAME = 1e-9
NEAR = 0.04
"""Pixels by which the picture may be off where keys follow it."""
SHEAR = 1e-4
"""The cosine of the angle between a layer's axes up to which they count as square."""

Keep = Literal["frame", "throughout"]


def recarried(layer: Layer, carrier: str | None, frame: float, keep: Keep, context: Context) -> Layer:
    """The layer carried by another one, or by none, its picture where it was: at a scene frame, from which on it goes
    along, or throughout its span. Refused in words where it would have to be sheared, or where a formula keeps it from
    its place."""
    frames = (
        np.arange(layer.span.start, layer.span.end, dtype=np.float64) if keep == "throughout" else np.array([frame])
    )
    changed = layer.model_copy(update={"carrier": carrier})
    between = _between(layer, carrier, frames, context)
    return over_variants(
        changed,
        lambda one: put_under(one.model_copy(update={"carrier": layer.carrier}), one, between, frames, keep, context),
    )


def put_under(before: Layer, after: Layer, between: Floats, frames: Floats, keep: Keep, context: Context) -> Layer:
    """A layer, `after`, whose motion is what that of `before` becomes under matrices (n, 6) at scene frames (n,): every
    key kept where the matrices are one that allows it, else straight keys that follow. Formulas stay where the picture
    stays with them; else they are written as keys, or, at a single frame, refused in words."""
    formulas = _with_formulas(before)
    if np.abs(between - between[0]).max() <= SAME:
        matrix = between[0]
        if np.abs(matrix - UNMOVED[0]).max() <= SAME:
            return after
        if _square(matrix) or (_at_right_angles(matrix) and not _turns(before)):
            made = moved_by(after, matrix, context.scene.fps)
            if not formulas or _stays(before, made, between, frames, context):
                return made
            if keep == "frame":
                return _shown_there(before, made, between, frames, context)
        elif keep == "frame" and any(track.moves for track in _motion(before)):
            raise _sheared(before, float(frames[0]))
    return _following(before, after, between, frames, context)


def _motion(layer: Layer) -> list[Track]:
    return [layer.scale, layer.rotation, *position_of.parts_of(layer).values()]


def _with_formulas(layer: Layer) -> bool:
    return any(track.formula for track in _motion(layer))


def _stays(before: Layer, after: Layer, between: Floats, frames: Floats, context: Context) -> bool:
    """Whether one layer, under matrices (n, 6), is where another is at scene frames."""
    old, new = context.resolve([_freed(before), _freed(after)], frames)
    return bool(np.allclose(multiply(between, old.matrix), new.matrix, rtol=1e-6, atol=1e-4))


def _freed(layer: Layer) -> Layer:
    """A layer in its own space: what carries it does not count."""
    return layer if layer.carrier is None else layer.model_copy(update={"carrier": None})


def _shown_there(before: Layer, after: Layer, between: Floats, frames: Floats, context: Context) -> Layer:
    """A layer with formulas whose place, turn and scale are, at a single frame, what they must be; Refused in words
    where a formula does not let them."""
    wanted = _wanted(before, between, frames, context)
    frame = float(frames[0])
    here = _freed(after)
    for name in ("scale", "rotation"):
        here = with_shown(here, name, frame, getattr(here, name).from_array(wanted[name][0]), context)
    by = wanted["position"][0] - context.one(here, frame).values["position"][0]
    here = moved(here, frame, by, context)
    if not _stays(before, here, between, frames, context):
        what = next(label_of(path) for path in before.formulas if path.split(".")[0] in _MOVES)
        raise Refused(
            f"{what} of '{before.name}' has a formula, which keeps it from its place under another carrier.",
            where="carrier", mend="Link it throughout, which writes the formula as keys; or write it as base + ….",
        )  # fmt: skip
    return here.model_copy(update={"carrier": after.carrier})


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


def _at_right_angles(matrix: Floats) -> bool:
    """Whether a matrix leaves the axes at right angles to each other: what it stretches along them is not sheared."""
    a, b, c, d = matrix[:4]
    return bool(abs(a * c + b * d) <= SHEAR * np.hypot(a, b) * np.hypot(c, d))


def _turns(layer: Layer) -> bool:
    """Whether the layer is ever turned, so that a matrix that stretches would shear it."""
    return bool(layer.rotation.rest) or layer.rotation.moves


def _wanted(before: Layer, between: Floats, frames: Floats, context: Context) -> dict[str, Floats]:
    """What place, turn and scale (n, d) of a layer become under matrices (n, 6) at scene frames; Refused in words where
    it would be sheared."""
    (one,) = context.resolve([_freed(before)], frames)
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
    return {"position": apply(between, values["position"]), "rotation": turned[:, None], "scale": scale}


def _following(before: Layer, after: Layer, between: Floats, frames: Floats, context: Context) -> Layer:
    """The layer with the fewest eased keys that follow its picture at frames (n,): position, rotation and scale."""
    wanted = _wanted(before, between, frames, context)
    (one,) = context.resolve([before], frames)
    reach = _reach(one)
    near = {"position": NEAR / 2, "rotation": np.degrees(NEAR / 4 / reach), "scale": 100.0 * NEAR / 4 / reach}
    local = frames - before.span.start
    for name, numbers in wanted.items():
        after = after.model_copy(update={name: _fitted(after, name, local, numbers, float(near[name]))})
    return after


_MOVES = ("position", "rotation", "scale")


def _fitted(layer: Layer, name: str, local: Floats, numbers: Floats, near: float) -> Any:
    fitted = eased_keys(local, numbers, near)
    track = PathTrack(rest=(0.0, 0.0)) if name == "position" else getattr(layer, name)
    keys = fitted if len(fitted) > 1 else ()
    return remade(
        track, name, rest=fitted[0]["value"], keys=keys, before="hold", after="hold", cadence=None, **NO_FORMULA
    )


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
