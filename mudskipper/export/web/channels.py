"""A layer's motion as keyframes of CSS's individual transforms (CSS Transforms Level 2), about its anchor."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ...core.document.scene import Layer, Scene
from ...core.geometry.bezier import Floats
from ...core.geometry.transform import multiply
from ...core.resolve.layers import ResolvedLayer
from ...core.tracks.base import Track
from ...core.tracks.kinds import PathTrack
from .easing_css import css_easing, keep_points

OFF = {"translate": 0.02, "rotate": 0.01, "scale": 2e-5, "opacity": 1e-3, "transform": 1e-6}
"""How far what is told by straight lines between frames may be off at a frame."""


@dataclass(frozen=True)
class KeyFrame:
    """A value at a part (0…1) of the whole time, and the easing to the next."""

    offset: float
    value: str
    easing: str = "linear"


@dataclass(frozen=True)
class Channel:
    """A property of CSS over the whole time."""

    name: str
    keys: tuple[KeyFrame, ...]
    exact: bool
    """Whether its keys and easings are the layer's own; else it is told from frame to frame."""

    @property
    def rests(self) -> bool:
        """Whether it is one value all the time."""
        return len({key.value for key in self.keys}) == 1


@dataclass(frozen=True)
class Motion:
    """How a layer moves: its channels, the point (x, y) in its own pixels that they turn about, and the place (x, y) of
    its own pixels from which `translate` counts."""

    origin: tuple[float, float]
    channels: tuple[Channel, ...]
    place: tuple[float, float] = (0.0, 0.0)


def motion_of(
    layer: Layer,
    resolved: ResolvedLayer,
    scene: Scene,
    first: int,
    stop: int,
    corner: tuple[float, float] | None = None,
) -> Motion:
    """The motion of a layer over frames first…stop (not included), at all of which it is resolved.

    Its place in the page is that of its content's own pixels, moved so that its anchor stands at its position. Where
    something carries it, or its anchor moves in it, it is one matrix a frame. With a `corner` its own pixels begin
    there, and it is placed where it has landed: `translate` is 0 at the last frame that it is there.
    """
    whole = (first, stop) == (0, scene.length)
    count = stop - first
    times = np.arange(count) / count
    anchor = resolved.anchor
    opacity = _told("opacity", layer.opacity, layer, scene, whole, lambda one: f"{one[0] / 100:.6g}")
    channels = [_visible(layer, first, stop)]
    channels.append(opacity or _baked("opacity", times, resolved.opacity, lambda one: f"{one[0]:.5g}"))
    left, top = corner or (0.0, 0.0)
    if layer.carrier is not None or (np.ptp(anchor, axis=0) > 1e-9).any():
        shifted = multiply(resolved.matrix, np.array([[1.0, 0.0, 0.0, 1.0, left, top]]))
        channels.append(_baked("transform", times, shifted, _matrix))
        return Motion((0.0, 0.0), tuple(channels))
    origin = (float(anchor[0, 0]), float(anchor[0, 1]))
    values = resolved.values
    landed = np.zeros(2)
    if corner is not None:
        seen = np.flatnonzero(np.broadcast_to(resolved.visible, (count,)))
        landed = np.broadcast_to(resolved.place, (count, 2))[seen[-1] if seen.size else -1] - origin

    def moved(pair: Floats) -> str:
        x, y = (round(float(one), 4) + 0.0 for one in np.asarray(pair) - origin - landed)
        return f"{x:.9g}px {y:.9g}px"

    straight = isinstance(layer.position, PathTrack) and not any(key.leave or key.arrive for key in layer.position.keys)
    path = _told("translate", layer.position, layer, scene, whole and straight, moved)
    turn = _told("rotate", layer.rotation, layer, scene, whole, lambda one: f"{one[0]:.6g}deg")
    size = _told("scale", layer.scale, layer, scene, whole, lambda one: f"{one[0] / 100:.7g} {one[1] / 100:.7g}")
    channels += [
        path or _baked("translate", times, resolved.place, moved),
        turn or _baked("rotate", times, values["rotation"], lambda one: f"{one[0]:.6g}deg"),
        size or _baked("scale", times, values["scale"] / 100.0, lambda one: f"{one[0]:.7g} {one[1]:.7g}"),
    ]
    place = (float(landed[0] + left), float(landed[1] + top))
    return Motion((origin[0] - left, origin[1] - top), tuple(channels), place)


def _matrix(row: Floats) -> str:
    return f"matrix({', '.join(f'{number:.9g}' for number in row)})"


def _visible(layer: Layer, first: int, stop: int) -> Channel:
    """There within its span, and nowhere else."""
    begin, end = (min(max(edge, first), stop) for edge in (layer.span.start, layer.span.end))
    long, jump = stop - first, "steps(1, jump-end)"
    changes = [(0.0, begin <= first < end)]
    if begin > first:
        changes.append(((begin - first) / long, begin < end))
    if first < end < stop:
        changes.append(((end - first) / long, False))
    keys = [KeyFrame(at, "visible" if seen else "hidden", jump) for at, seen in changes]
    return Channel("visibility", (*keys, KeyFrame(1.0, keys[-1].value, jump)), True)


def _told(
    name: str, track: object, layer: Layer, scene: Scene, whole: bool, written: Callable[[Floats], str]
) -> Channel | None:
    """A channel by a track's own keys; None where keys alone do not tell it."""
    if not isinstance(track, Track) or track.formula is not None or track.cadence is not None or not whole:
        return None
    if (track.before, track.after) != ("hold", "hold"):
        return None
    frames = [key.frame + layer.span.start for key in track.keys]
    if not frames:
        value = written(np.array(track.to_array(track.rest), dtype=np.float64))
        return Channel(name, (KeyFrame(0.0, value), KeyFrame(1.0, value)), True)
    if frames[0] < 0 or frames[-1] > scene.length:
        return None
    keys = [
        KeyFrame(
            frame / scene.length, written(np.array(track.to_array(key.value), dtype=np.float64)), css_easing(key.ease)
        )
        for frame, key in zip(frames, track.keys, strict=True)
    ]
    if keys[0].offset > 0:
        keys.insert(0, KeyFrame(0.0, keys[0].value))
    if keys[-1].offset < 1:
        keys.append(KeyFrame(1.0, keys[-1].value))
    return Channel(name, tuple(keys), True)


def _baked(name: str, times: Floats, values: Floats, written: Callable[[Floats], str]) -> Channel:
    """A channel by its values (1 | n, d) at the frames, those left out that lie on a line between others."""
    rows = np.broadcast_to(values, (len(times), values.shape[1]))
    if (rows == rows[0]).all():
        return Channel(name, (KeyFrame(0.0, written(rows[0])), KeyFrame(1.0, written(rows[0]))), True)
    kept = keep_points(times, np.asarray(rows, dtype=np.float64), OFF[name])
    keys = [KeyFrame(float(times[index]), written(rows[index])) for index in kept]
    return Channel(name, (*keys, KeyFrame(1.0, keys[-1].value)), False)
