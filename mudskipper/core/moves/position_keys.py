"""Positions, whether one path or x and y apart: moved whole, set at a moment, split and joined."""

from __future__ import annotations

from typing import Any

import numpy as np
from pydantic import ValidationError

from ..document.properties import label_of
from ..document.scene import Layer
from ..easings import Steps
from ..easings.batch import Ease
from ..geometry.bezier import Floats
from ..geometry.fewest_keys import fitted_keys, plain_value
from ..ground.errors import Refused, refusal_of
from ..tracks.base import SAME, Track
from ..tracks.evaluate import evaluate, value_at
from ..tracks.kinds import PathTrack
from ..tracks.motion import SplitPosition
from .inserted_keys import inserted
from .keys import with_value

NEAR = 0.01
AT_ONCE = Steps(steps=1, jump="start")
MOMENT = 1e-4
"""The frames after which a jump at a key has the key that it jumps to."""


def parts_of(layer: Layer) -> dict[str, Track]:
    """The position's tracks by name: one, or x and y."""
    return {name: track for name, (_, track) in layer.position.parts.items()}


def under(layer: Layer, linear: Floats, shift: Floats) -> Layer:
    """The layer with its position under a matrix (2, 2), which keeps the axes where x and y are apart, and a shift."""
    try:
        return layer.model_copy(update={"position": layer.position.under(linear, shift)})
    except ValidationError as error:
        raise refusal_of(error, label_of("position")) from None


def is_keyed(layer: Layer) -> bool:
    """Whether any part of the position has keys."""
    return any(track.keys for track in parts_of(layer).values())


def shifted(layer: Layer, by: Floats) -> Layer:
    """The layer with its whole path moved by (x, y) pixels; the path keeps its shape."""
    return under(layer, np.eye(2), np.asarray(by, dtype=np.float64))


def moved_at(layer: Layer, frame: float, by: tuple[float, float], fps: float) -> Layer:
    """The layer with (x, y) added at a frame counted from its start: a key where the part is keyed, else its rest."""
    moved = [
        with_value(
            track, name, frame, track.from_array(np.atleast_1d(value_at(track, frame, fps)) + np.array(by)[axes])
        )
        for name, (axes, track) in layer.position.parts.items()
    ]
    return layer.model_copy(update={"position": layer.position.with_parts(*moved)})


def _refuse_formula(layer: Layer, tracks: list[Track]) -> None:
    if any(track.formula for track in tracks):
        raise Refused(
            f"Position of '{layer.name}' has a formula, which would be lost where x and y are split or joined.",
            where="property", mend="Write the formula as keys, or take it off; then try again.",
        )  # fmt: skip


def split(layer: Layer, fps: float) -> Layer:
    """The position as x and y tracks. Straight stretches keep their keys and easing; a curved one becomes straight
    keys that stay within 0.01 px at every frame, and at every renewal of a cadence. A curved end that carries on gets
    a key a frame beyond it, so that it goes on as before."""
    position = layer.position
    if isinstance(position, SplitPosition):
        raise Refused(f"Position of '{layer.name}' is split into x and y already.")
    _refuse_formula(layer, [position])
    bare = _without_cadence(position)
    keys: list[dict[str, Any]] = []
    for number, key in enumerate(position.keys):
        keys.append({"frame": key.frame, "value": key.value, "ease": key.ease})
        if number in position.curve.paths:
            frames = _samples(position, key.frame, position.keys[number + 1].frame, fps)
            (values,) = evaluate([bare], [frames], fps)
            shown = np.broadcast_to(values, (len(frames), 2))
            keys[-1]["ease"], inner = _straight(frames, shown, key.value, position.keys[number + 1].value)
            keys.extend(inner)
    keys = _carried_on(bare, keys, fps)
    shared = {"before": position.before, "after": position.after, "cadence": position.cadence}
    parts = {
        name: {"rest": position.rest[axis], "keys": [{**key, "value": key["value"][axis]} for key in keys], **shared}
        for axis, name in enumerate("xy")
    }
    return layer.model_copy(update={"position": SplitPosition.model_validate(parts)})


def _straight(frames: Floats, shown: Floats, start: Any, end: Any) -> tuple[Ease, list[dict[str, Any]]]:
    """A stretch between two keys, of the values `start` and `end`, as straight keys through what is shown (n, 2) at
    frames (n,): the easing of its first key, and the keys within. A jump at the first key itself, which an easing may
    begin with, is there at once."""
    values = np.array(shown)
    values[-1] = end
    inner = [{**one, "ease": "linear"} for one in fitted_keys(frames, values, NEAR)[1:-1]]
    if np.abs(values[0] - np.array(start)).max() <= NEAR:
        return "linear", inner
    return AT_ONCE, [{"frame": float(frames[0]) + MOMENT, "value": plain_value(values[0]), "ease": "linear"}, *inner]


def _without_cadence(track: Track) -> Track:
    return track if track.cadence is None else track.model_copy(update={"cadence": None})


def _samples(track: Track, start: float, end: float, fps: float) -> Floats:
    """The moments of a stretch at which its value is shown: its ends, whole frames, and the renewals of a cadence."""
    whole = np.arange(np.floor(start) + 1, np.ceil(end))
    found = [np.array([start, end]), whole]
    if track.cadence is not None:
        found.append(track.cadence.renewals(start, end, fps))
    times = np.sort(np.concatenate(found))
    times = times[(times >= start) & (times <= end)]
    return np.asarray(times[np.concatenate([[True], np.diff(times) > SAME])])


def _carried_on(bare: Track, keys: list[dict[str, Any]], fps: float) -> list[dict[str, Any]]:
    """The keys with one a frame beyond each curved end that carries on: from there on it runs as it did."""
    last = len(bare.keys) - 2
    if bare.before == "carry on" and 0 in bare.curve.paths:
        time = bare.keys[0].frame - 1
        keys = [{"frame": time, "value": value_at(bare, time, fps), "ease": "linear"}, *keys]
    if bare.after == "carry on" and last in bare.curve.paths:
        time = bare.keys[-1].frame + 1
        keys = [*keys[:-1], {**keys[-1], "ease": "linear"}, {"frame": time, "value": value_at(bare, time, fps)}]
    return keys


def joined(layer: Layer, fps: float) -> Layer:
    """The position as one path, also where it is one already."""
    return join(layer, fps) if isinstance(layer.position, SplitPosition) else layer


def join(layer: Layer, fps: float) -> Layer:
    """The position as one path. Stretches that x and y ease alike keep their easing; others become straight keys that
    stay within 0.01 px at every frame, and at every renewal of a cadence. The keys themselves are unchanged."""
    position = layer.position
    if not isinstance(position, SplitPosition):
        raise Refused(f"Position of '{layer.name}' is one path already.")
    _refuse_formula(layer, [position.x, position.y])
    rest = (position.x.rest, position.y.rest)
    moving: list[Track] = [track for track in (position.x, position.y) if track.keys]
    ways = {(track.before, track.after, track.cadence) for track in moving}
    if len(ways) > 1:
        raise Refused(
            f"x and y of '{layer.name}' go on differently beyond their keys, or at different cadences, which one path "
            "cannot.",
            mend="Give both the same, then join them.",
        )
    times = _times(moving)
    if not times:
        return layer.model_copy(update={"position": PathTrack(rest=rest)})
    (before, after, cadence) = ways.pop()
    ranges = {(track.keys[0].frame, track.keys[-1].frame) for track in moving}
    if len(ranges) > 1 and {before, after} & {"repeat", "bounce", "carry on"}:
        raise Refused(
            f"x and y of '{layer.name}' {before if before != 'hold' else after} over different frames, which one path "
            "cannot.",
            mend="Give both a key at the first and the last of these frames, then join them.",
        )
    x, y = (_without_cadence(part) for part in (position.x, position.y))
    for time in times:
        x = inserted(x, "position.x", time, fps) if x.keys else x
        y = inserted(y, "position.y", time, fps) if y.keys else y
    keys: list[dict[str, Any]] = []
    for number, time in enumerate(times):
        pair = (value_at(x, time, fps), value_at(y, time, fps))
        eases = [track.keys[number].ease for track in (x, y) if track.keys and not _flat(track, number)]
        alike = all(ease == eases[0] for ease in eases)
        keys.append({"frame": time, "value": pair, "ease": eases[0] if eases and alike else "linear"})
        if not alike and number + 1 < len(times):
            frames = _samples(moving[0], time, times[number + 1], fps)
            columns = [np.broadcast_to(part, (len(frames), 1)) for part in evaluate([x, y], [frames, frames], fps)]
            end = (value_at(x, times[number + 1], fps), value_at(y, times[number + 1], fps))
            keys[-1]["ease"], inner = _straight(frames, np.hstack(columns), pair, end)
            keys.extend(inner)
    shared = {"before": before, "after": after, "cadence": cadence}
    track = PathTrack.model_validate({"rest": rest, "keys": keys, **shared})
    return layer.model_copy(update={"position": track})


def _times(tracks: list[Track]) -> list[float]:
    """The frames at which any of some tracks has a key, each once."""
    times = sorted(key.frame for track in tracks for key in track.keys)
    return [time for i, time in enumerate(times) if i == 0 or time - times[i - 1] > SAME]


def _flat(track: Track, number: int) -> bool:
    """Whether the value stands still in the stretch after a key."""
    if number + 1 >= len(track.keys):
        return True
    return bool(track.keys[number].value == track.keys[number + 1].value)
