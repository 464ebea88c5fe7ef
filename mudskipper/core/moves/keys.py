"""Writing, moving and removing the keys of one track; frames count from the layer's start here."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..document.properties import remade
from ..geometry.curved_path import smooth_handles
from ..tracks.base import SAME, Track, tidy_frame
from ..tracks.evaluate import key_at, shown_at
from ..tracks.kinds import PathTrack


def with_key(track: Track, name: str, frame: float, value: Any, ease: Any = None) -> Track:
    """The track with a key at `frame`. A key already there keeps its frame, its handles, and its easing unless one is
    given.

    >>> from mudskipper.core.tracks.kinds import NumberTrack
    >>> track = NumberTrack(rest=0, keys=[{"frame": 0, "value": 0}, {"frame": 10, "value": 100}])
    >>> [(key.frame, key.value) for key in with_key(track, "rotation", 4, 7).keys]
    [(0.0, 0.0), (4.0, 7.0), (10.0, 100.0)]
    """
    there = key_at(track, frame)
    if there is not None:
        data = {**key_data(there), "value": value} | ({} if ease is None else {"ease": ease})
    else:
        data = {"frame": float(frame), "value": value, "ease": "linear" if ease is None else ease}
    keys = sorted(
        [*(key for key in track.keys if key is not there), data],
        key=lambda key: key["frame"] if isinstance(key, dict) else key.frame,
    )
    return remade(track, name, keys=tuple(keys))


def holding(track: Track) -> Track:
    """The track, which moves by no keys yet, with nothing that goes on beyond those that it gets.

    >>> from mudskipper.core.tracks.kinds import NumberTrack
    >>> holding(NumberTrack(rest=3, after="bounce")).after
    'hold'
    """
    return track.model_copy(update={"before": "hold", "after": "hold"})


def with_value(track: Track, name: str, frame: float, value: Any) -> Track:
    """The track with a value set at `frame`: a key where it is keyed, else its rest."""
    if track.keys:
        return with_key(track, name, frame, value)
    return remade(track, name, rest=value)


def without_keys(track: Track, name: str, frames: set[float]) -> Track:
    """The track without the keys at these frames; when none is left it rests where the last one was.

    >>> from mudskipper.core.tracks.kinds import NumberTrack
    >>> track = NumberTrack(rest=0, keys=[{"frame": 0, "value": 0}, {"frame": 10, "value": 100}])
    >>> without_keys(track, "rotation", {0, 10}).rest
    100.0
    """
    left = tuple(key for key in track.keys if key.frame not in frames)
    if left or not track.keys:
        return remade(track, name, keys=left)
    return remade(track, name, keys=(), rest=track.keys[-1].value)


def without_keying(track: Track, name: str, frame: float, fps: float) -> Track:
    """The track at rest at the value that is shown at `frame`."""
    return remade(track, name, keys=(), rest=shown_at(track, frame, fps))


def with_moved_keys(track: Track, name: str, frames: set[float], by: float) -> tuple[Track, int]:
    """The track with some keys moved in time, and how many unmoved keys they landed on and replaced.

    >>> from mudskipper.core.tracks.kinds import NumberTrack
    >>> track = NumberTrack(rest=0, keys=[{"frame": 0, "value": 0}, {"frame": 10, "value": 100}])
    >>> moved, replaced = with_moved_keys(track, "rotation", {0}, 10)
    >>> [key.value for key in moved.keys], replaced
    ([0.0], 1)
    """
    moved = [key.model_copy(update={"frame": tidy_frame(key.frame + by)}) for key in track.keys if key.frame in frames]
    stayed = [key for key in track.keys if key.frame not in frames]
    left = without_twins(stayed, moved)
    keys = tuple(sorted([*left, *moved], key=lambda key: key.frame))
    return remade(track, name, keys=keys), len(stayed) - len(left)


def without_twins(keys: list[Any], others: list[Any]) -> list[Any]:
    """The keys that share their frame with none of the others."""
    taken = np.array(sorted(key.frame for key in others))
    place = np.searchsorted(taken, np.array([key.frame for key in keys]) - SAME)
    return [k for k, at in zip(keys, place, strict=True) if at == len(taken) or taken[at] > k.frame + SAME]


def removed(track: PathTrack, name: str, frame: float) -> Track:
    """A path without the key at `frame`, its neighbours' handles lengthened so that the curve keeps its course."""
    key = key_at(track, frame)
    number = track.keys.index(key)
    if not 0 < number < len(track.keys) - 1:
        return without_keys(track, name, {key.frame})
    left, gone, right = (key_data(key) for key in track.keys[number - 1 : number + 2])
    share = (gone["frame"] - left["frame"]) / (right["frame"] - left["frame"])
    stretches = (track.curve.paths.get(number - 1), track.curve.paths.get(number))
    if any(stretches):
        lengths = [stretch.length if stretch else 0.0 for stretch in stretches]
        if all(lengths):
            share = lengths[0] / sum(lengths)
        leave, arrive = left.get("leave") or (0.0, 0.0), right.get("arrive") or (0.0, 0.0)
        left["leave"] = (leave[0] / share, leave[1] / share)
        right["arrive"] = (arrive[0] / (1 - share), arrive[1] / (1 - share))
    keys = (*track.keys[: number - 1], left, right, *track.keys[number + 2 :])
    return remade(track, name, keys=keys)


def smoothed(track: PathTrack, name: str, frames: set[float] | None = None) -> Track:
    """A path with automatic smooth handles at some keys, or at all."""
    values = [np.array(key.value) for key in track.keys]
    keys = []
    for number, key in enumerate(track.keys):
        if frames is not None and key.frame not in frames:
            keys.append(key)
            continue
        before = values[number - 1] if number else None
        after = values[number + 1] if number + 1 < len(values) else None
        arrive, leave = smooth_handles(before, values[number], after)
        keys.append(key.model_copy(update={"arrive": _pair(arrive), "leave": _pair(leave)}))
    return remade(track, name, keys=tuple(keys))


def straightened(track: PathTrack, name: str, frames: set[float] | None = None) -> Track:
    """A path with the handles of some keys, or of all, taken off."""
    keys = tuple(
        key.model_copy(update={"arrive": None, "leave": None}) if frames is None or key.frame in frames else key
        for key in track.keys
    )
    return remade(track, name, keys=keys)


def key_data(key: Any) -> dict[str, Any]:
    """A key's fields."""
    return {field: getattr(key, field) for field in type(key).model_fields}


def _pair(point: Any) -> tuple[float, float]:
    return float(point[0]), float(point[1])
