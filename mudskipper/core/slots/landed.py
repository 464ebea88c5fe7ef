"""A track brought to another value: it lands there, and moves on its way as it did."""

from __future__ import annotations

from typing import Any

from ..tracks.base import Track
from ..tracks.colour import ColourTrack


def landing(track: Track) -> Any:
    """The value that a track lands on: that of its last key, or at rest.

    >>> from ..tracks.kinds import NumberTrack
    >>> landing(NumberTrack.model_validate({"rest": 1.0, "keys": [{"frame": 0, "value": 5.0}]}))
    5.0
    """
    return track.keys[-1].value if track.keys else track.rest


def landed(track: Track, value: Any, in_ratio: bool) -> Track:
    """The track with its landing at a value. Of a property that begins at 0, such as a scale, all keys keep their ratio
    to it (`in_ratio`), of others their distance; of a colour those keys that have it are the new one."""
    now = landing(track)
    if value == now:
        return track
    if isinstance(track, ColourTrack):
        keys = tuple(key.model_copy(update={"value": value}) if key.value == now else key for key in track.keys)
        return track.with_fields(rest=value if track.rest == now else track.rest, keys=keys, named=None)

    def moved(old: Any) -> Any:
        if isinstance(old, tuple):
            return tuple(_moved(*each, in_ratio) for each in zip(old, now, value, strict=True))
        return _moved(old, now, value, in_ratio)

    keys = tuple(key.model_copy(update={"value": moved(key.value)}) for key in track.keys)
    return track.with_fields(rest=moved(track.rest), keys=keys)


def _moved(old: float, now: float, value: float, in_ratio: bool) -> float:
    if old == now:
        return value
    return old * value / now if in_ratio and now else old + value - now
