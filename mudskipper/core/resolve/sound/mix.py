"""What a scene sounds like: the sounds of its layers at 48 kHz in two channels, added up."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from ...contents.audible import Sound, fades, gain
from ...document.scene import Layer, Scene
from ...geometry.bezier import Floats
from ...tracks.source_time import SourceTime

if TYPE_CHECKING:
    from ..context import Context

RATE = 48_000
"""Samples a second."""
STILL = 1e-6
"""Source samples a sample below which a source stands still, and is not heard."""
SAME_SAMPLE = 1e-6
"""Samples by which a position may miss one that it stands on: what adding floats may lose."""
LONGEST_STEP = 64.0
"""Source samples a sample beyond which a source runs too fast to be heard."""

Samples = NDArray[np.float32]
Source = Callable[[str, int, int], Samples]
"""Gives samples (n, 2) of an asset from one on, −1…1; silence before its beginning and after its end."""


def mixed(
    scene: Scene, context: Context, first: int, count: int, source: Source, only: Collection[str] | None = None
) -> Samples:
    """The samples first…first + count (not included) of a scene (count, 2), not limited; of the layers `only`, where
    it names some."""
    out = np.zeros((count, 2), dtype=np.float32)
    for layer in heard(scene, context):
        if only is None or layer.id in only:
            out += layer_sound(scene, context, layer, first, count, source)
    return out


def heard(scene: Scene, context: Context) -> list[Layer]:
    """The layers that have a sound and are not muted. A hidden layer is heard no more than it is seen."""
    return [layer for layer in scene.layers if layer.is_heard(context.assets)]


def layer_sound(scene: Scene, context: Context, layer: Layer, first: int, count: int, source: Source) -> Samples:
    """What is heard of one layer (count, 2), its level and fades counted in."""
    start, end = layer.span.start / scene.fps, layer.span.end / scene.fps
    low = max(first, int(np.floor(start * RATE)))
    high = min(first + count, int(np.ceil(end * RATE)))
    out = np.zeros((count, 2), dtype=np.float32)
    sound, time = layer.content.sound_of(context.assets), layer.content.source_time
    if low >= high or sound is None or time is None:
        return out
    positions, loud = heard_at(scene, context, layer, sound, time, np.arange(low, high + 1) / RATE)
    length, read = source_of(layer, context, source)
    heard_part = _played(positions, time, length, read)
    out[low - first : high - first] = heard_part * loud[:-1, None].astype(np.float32)
    return out


def source_of(layer: Layer, context: Context, source: Source) -> tuple[float, Callable[[int, int], Samples]]:
    """The length in seconds of what a layer plays, and what reads samples of it: a clip's, or another scene's mix."""
    if layer.content.scenes:
        inner = context.within(layer.content.scenes[0], layer.content.filled)
        scene = inner.scene
        return scene.length / scene.fps, lambda first, count: _of_scene(inner, first, count, source)
    info = context.assets.clip(layer.content.clips[0])
    return info.length, lambda first, count: source(info.id, first, count)


def _of_scene(context: Context, first: int, count: int, source: Source) -> Samples:
    """The samples first…first + count of a scene in another: nothing before its beginning and after its end."""
    scene = context.scene
    found = mixed(scene, context, first, count, source)
    at = np.arange(first, first + count)
    found[(at < 0) | (at >= round(scene.length / scene.fps * RATE))] = 0.0
    return found


def heard_at(
    scene: Scene, context: Context, layer: Layer, sound: Sound, time: SourceTime, at: Floats
) -> tuple[Floats, Floats]:
    """At seconds (n,) of the scene: where a layer's source stands, in samples, and how loud it is heard."""
    frames = frames_around(at, scene.fps)
    (resolved,) = context.resolve([layer], frames)
    return heard_with(scene, layer, sound, time, at, frames, resolved.values)


def frames_around(at: Floats, rate: float) -> Floats:
    """Whole frames from before seconds (n,) to after them."""
    return np.arange(np.floor(at.min() * rate) - 1, np.ceil(at.max() * rate) + 2)


def heard_with(
    scene: Scene, layer: Layer, sound: Sound, time: SourceTime, at: Floats, frames: Floats, values: Mapping[str, Floats]
) -> tuple[Floats, Floats]:
    """As `heard_at`, by the values of a layer's level and time at whole frames around those seconds."""
    seconds = time.seconds(frames - layer.span.start, scene.fps, values.get("content.time.keyed"))
    positions = np.interp(at * scene.fps, frames, seconds) * RATE
    level = np.broadcast_to(values["content.sound.level"][:, 0], frames.shape)
    start, length = layer.span.start / scene.fps, layer.span.length / scene.fps
    loud = np.interp(at * scene.fps, frames, gain(level)) * fades(at - start, length, sound.fade_in, sound.fade_out)
    return positions, loud


def _read_round(
    read: Callable[[int, int], Samples], low: int, size: int, whole: int, loops: tuple[bool, bool]
) -> Floats:
    """Samples low…low + size (size, 2) of a source of `whole` of them; where it loops before its beginning or after
    its end, those of its other end stand there, so that the seam is as smooth as the source."""
    found = read(low, size).astype(np.float64)
    at = np.arange(low, low + size)
    outside = (loops[0] & (at < 0)) | (loops[1] & (at >= whole))
    if not outside.any():
        return found
    wanted = at[outside] % whole
    first, last = int(wanted.min()), int(wanted.max())
    if last - first < 4 * size:
        found[outside] = read(first, last - first + 1).astype(np.float64)[wanted - first]
        return found
    # Both ends of the source are wanted, and little between them.
    for part in (wanted < whole // 2, wanted >= whole // 2):
        if part.any():
            begin = int(wanted[part].min())
            there = read(begin, int(wanted[part].max()) + 1 - begin).astype(np.float64)
            found[np.flatnonzero(outside)[part]] = there[wanted[part] - begin]
    return found


def _played(positions: Floats, time: SourceTime, length: float, read: Callable[[int, int], Samples]) -> Samples:
    """A source heard at its own positions (n + 1,) in samples: a row for each step from one to the next (n, 2).

    A step of a whole sample is that sample itself. A longer one is the mean of all that it passes, so that little above
    half the rate is folded down; a shorter one lies between its neighbours.
    """
    step = np.diff(positions)
    at = positions[:-1]
    whole = length * RATE
    quiet = (np.abs(step) < STILL) | (np.abs(step) > LONGEST_STEP)
    loops = time.before == "loop", time.after == "loop"
    for outside, goes_round in ((at < -0.5, loops[0]), (at >= whole - 0.5, loops[1])):
        if goes_round:
            at = np.where(outside, np.mod(at, whole), at)
        else:
            quiet |= outside
    if quiet.all():
        return np.zeros((len(at), 2), dtype=np.float32)
    reach = int(np.ceil(np.abs(step[~quiet]).max())) + 2
    low = int(np.floor(at[~quiet].min())) - reach
    size = int(np.ceil(at[~quiet].max())) + reach + 1 - low
    found = _read_round(read, low, size, max(round(whole), 1), loops)
    near = np.where(quiet, -low, at - low)
    near = np.where(np.abs(near - np.rint(near)) < SAME_SAMPLE, np.rint(near), near)
    below = np.floor(near).astype(np.int64)
    part = (near - below)[:, None]
    below = np.clip(below, 0, size - 2)
    between = found[below] * (1 - part) + found[below + 1] * part
    wide = np.abs(step) > 1 + 1e-6
    if wide.any():
        sums = np.vstack([np.zeros((1, 2)), np.cumsum(found, axis=0)])
        reached = np.arange(size + 1)
        ends = np.sort(np.stack([near, near + step]), axis=0)
        for channel in (0, 1):
            passed = np.interp(ends[1], reached, sums[:, channel]) - np.interp(ends[0], reached, sums[:, channel])
            between[:, channel] = np.where(wide, passed / np.maximum(np.abs(step), STILL), between[:, channel])
    return np.where(quiet[:, None], 0.0, between).astype(np.float32)
