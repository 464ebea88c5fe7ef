"""How loud a layer is at a moment: what formulas read by `scene["Name"].loudness`."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

import numpy as np

from ...document.scene import Layer
from ...geometry.bezier import Floats
from .mix import RATE, SAME_SAMPLE, frames_around, heard, heard_with

if TYPE_CHECKING:
    from ..context import Context

BLOCK = 240
"""Samples of which the mean square is kept: 5 ms at 48 kHz."""

PATHS = "content.sound.level", "content.time.keyed"
Values = Callable[[str, Floats], Floats]
"""A property of the layer by its path at scene frames (n,)."""


def level_of(layer: Layer, context: Context, frames: Floats, value: Values) -> Floats:
    """The root mean square (n, 1), 0…1, of what a layer sounds from each frame to the next, its level and fades
    counted in; a muted or hidden one as if it were heard. 0 where it does not sound.

    A sine wave at its full amplitude has 0.707.
    """
    rate = context.scene.fps
    return np.sqrt(_power(layer, context, frames / rate, (frames + 1) / rate, value))[:, None]


def _power(layer: Layer, context: Context, begin: Floats, end: Floats, value: Values) -> Floats:
    """The mean square (n,) of a layer's samples between seconds (n,) of its scene; of a scene that of its layers."""
    scene = context.scene
    sound, time = layer.content.sound_of(context.assets), layer.content.source_time
    low, high = layer.span.start / scene.fps, layer.span.end / scene.fps
    there = (begin < high) & (end > low)
    if sound is None or time is None or not there.any():
        return np.zeros(len(begin))
    # What asks for moments far away asks for silence.
    edges = np.clip(np.concatenate([begin, end]), low, high)
    at = np.concatenate([edges, edges.reshape(2, -1).mean(axis=0)])
    frames = frames_around(at, scene.fps)
    values: dict[str, Floats] = {path: value(path, frames) for path in PATHS if path in layer.tracks}
    positions, loud = heard_with(scene, layer, sound, time, at, frames, values)
    starts, stops = np.sort(np.split(positions, 3)[:2], axis=0)
    loudness = np.split(loud, 3)[2]
    inner = [context.within(name, layer.content.filled) for name in layer.content.scenes]
    if inner:
        length = inner[0].scene.length / inner[0].scene.fps * RATE
        found = _looped(starts, stops, length, (time.before, time.after), lambda a, b: _of_scene(inner[0], a, b))
    else:
        info = context.assets.clip(layer.content.clips[0])
        sums = context.assets.squares(info.id)
        length = info.length * RATE
        found = _looped(starts, stops, length, (time.before, time.after), lambda a, b: _mean(sums, a, b))
    return np.where(there, found * loudness**2, 0.0)


def _looped(
    starts: Floats, stops: Floats, length: float, beyond: tuple[str, str], power: Callable[[Floats, Floats], Floats]
) -> Floats:
    """Mean squares (n,) between positions of a source in samples, which may begin again beyond its ends. A stretch over
    such a seam is the mean of its two sides, by their lengths."""
    before, after = (how == "loop" for how in beyond)
    turn = np.floor((starts + SAME_SAMPLE) / max(length, 1.0))
    seam = (turn + 1) * length
    over = (stops > seam + SAME_SAMPLE) & np.where(seam < length - SAME_SAMPLE, before, after)
    cut = np.where(over, seam, stops)
    first = np.where(turn < 0, before, after) * turn * length
    second = np.where(turn + 1 < 0, before, after) * (turn + 1) * length
    found = power(starts - first, cut - first)
    if not over.any():
        return found
    share = np.where(over, (cut - starts) / np.maximum(stops - starts, SAME_SAMPLE), 1.0)
    return np.where(over, found * share + power(cut - second, stops - second) * (1 - share), found)


def _mean(sums: Floats, starts: Floats, stops: Floats) -> Floats:
    """Mean squares (n,) between samples, by their sum (m + 1,) up to each block; 0 where nothing passes."""
    edges = np.arange(len(sums)) * float(BLOCK)
    passed = np.interp(stops, edges, sums) - np.interp(starts, edges, sums)
    wide = stops - starts
    return np.where(wide > SAME_SAMPLE, passed / np.maximum(wide, 1.0), 0.0)


def _of_scene(context: Context, starts: Floats, stops: Floats) -> Floats:
    """The mean square (n,) of a scene between samples: that of its layers, added up."""

    def values(layer: Layer) -> Values:
        return lambda path, frames: context.formulas.value(layer, path, frames)

    begin, end = starts / RATE, stops / RATE
    parts = (_power(layer, context, begin, end, values(layer)) for layer in heard(context.scene, context))
    return np.asarray(sum(parts, np.zeros(len(starts))))


def squares_of(samples: Floats) -> Floats:
    """Those sums of samples (n, 2), −1…1.

    >>> squares_of(np.ones((480, 2))).tolist()
    [0.0, 240.0, 480.0]
    """
    count = -(-len(samples) // BLOCK)
    whole = np.zeros(count * BLOCK)
    whole[: len(samples)] = (samples.astype(np.float64) ** 2).mean(axis=1)
    return np.concatenate([[0.0], np.cumsum(whole.reshape(count, BLOCK).sum(axis=1))])
