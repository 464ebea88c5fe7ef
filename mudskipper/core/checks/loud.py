"""A sound that goes over full scale, and is cut off in an export."""

from __future__ import annotations

import numpy as np

from ..document.scene import Scene
from ..edits.base import Edit
from ..edits.many_keys import EditValues
from ..edits.values_and_keys import KeyRef, SetProperty
from ..ground.time import timecode
from ..resolve.context import Context
from ..resolve.sound.mix import RATE, Source, heard, layer_sound, mixed
from ..tracks.kinds import NumberTrack
from .base import Finding

CHECK = "full scale"
AT_ONCE = 10 * RATE
LEVEL = "content.sound.level"


def over_full_scale(context: Context, source: Source) -> Finding | None:
    """Where the sounds of a scene add up to more than full scale, 0 dB: the loudest moment, and all that are heard made
    quieter by what it takes."""
    scene = context.scene
    whole = round(scene.length / scene.fps * RATE)
    peak, place = 0.0, 0
    for first in range(0, whole, AT_ONCE):
        found = np.abs(mixed(scene, context, first, min(AT_ONCE, whole - first), source)).max(axis=1, initial=0.0)
        if found.size and found.max() > peak:
            peak, place = float(found.max()), first + int(found.argmax())
    # Samples of 16 bits reach full scale themselves.
    if peak <= 1.0001:
        return None
    over = 20.0 * np.log10(peak)
    frame = min(int(place / RATE * scene.fps), scene.length - 1)
    parts = {
        layer.id: float(np.abs(layer_sound(scene, context, layer, place, 1, source)).max())
        for layer in heard(scene, context)
    }
    loudest = max(parts, key=lambda name: parts[name])
    return Finding(
        check=CHECK, layer=loudest, frame=frame, figure=float(over),
        sentence=f"The sound goes {over:.1f} dB over full scale at {timecode(frame, scene.frame_rate)}, and is cut off "
        f"there; the loudest is '{scene.layer(loudest).name}'. Make what is heard quieter.",
        edits=_quieter(scene, list(parts), float(np.ceil(over * 10) / 10)),
    )  # fmt: skip


def _quieter(scene: Scene, layers: list[str], by: float) -> tuple[Edit, ...]:
    """All layers by so many decibels; nothing where one is locked, or has a formula."""
    edits: list[Edit] = []
    for name in layers:
        layer = scene.layer(name)
        level = layer.tracks[LEVEL]
        if layer.locked or level.formula is not None or not isinstance(level, NumberTrack):
            return ()
        if level.keys:
            keys = tuple(KeyRef(layer=name, property=LEVEL, frame=key.frame + layer.span.start) for key in level.keys)
            edits.append(EditValues(keys=keys, way="add", value=-by))
        else:
            at = float(layer.span.start)
            edits.append(SetProperty(layer=name, property=LEVEL, value=level.rest - by, frame=at))
    return tuple(edits)
