"""Writing, moving and removing the keys of one track; frames count from the layer's start here."""

from __future__ import annotations

from typing import Any

from .properties import remade
from .tracks import Track, value_at


def with_key(track: Track, name: str, frame: float, value: Any, ease: Any = None) -> Track:
    """The track with a key at `frame`. A key already there keeps its easing unless one is given."""
    there = next((key for key in track.keys if key.frame == frame), None)
    chosen = ease if ease is not None else there.ease if there is not None else "linear"
    data = {"frame": float(frame), "value": value, "ease": chosen}
    keys = sorted(
        [*(key for key in track.keys if key.frame != frame), data],
        key=lambda key: key["frame"] if isinstance(key, dict) else key.frame,
    )
    return remade(track, name, keys=tuple(keys))


def with_value(track: Track, name: str, frame: float, value: Any) -> Track:
    """The track with a value set at `frame`: a key where it is keyed, else its rest."""
    if track.keys:
        return with_key(track, name, frame, value)
    return remade(track, name, rest=value)


def without_keys(track: Track, name: str, frames: set[float]) -> Track:
    """The track without the keys at these frames; when none is left it rests where the last one was."""
    left = tuple(key for key in track.keys if key.frame not in frames)
    if left or not track.keys:
        return remade(track, name, keys=left)
    return remade(track, name, keys=(), rest=track.keys[-1].value)


def without_keying(track: Track, name: str, frame: float) -> Track:
    """The track at rest at the value it has at `frame`."""
    return remade(track, name, keys=(), rest=value_at(track, frame))


def with_moved_keys(track: Track, name: str, frames: set[float], by: float) -> tuple[Track, int]:
    """The track with some keys moved in time, and how many unmoved keys they landed on and replaced."""
    moved = [key.model_copy(update={"frame": key.frame + by}) for key in track.keys if key.frame in frames]
    landed = {key.frame for key in moved}
    stayed = [key for key in track.keys if key.frame not in frames]
    left = [key for key in stayed if key.frame not in landed]
    keys = tuple(sorted([*left, *moved], key=lambda key: key.frame))
    return remade(track, name, keys=keys), len(stayed) - len(left)
