"""A key made where there is none, the motion unchanged: within a stretch, or beyond the keys."""

from __future__ import annotations

from bisect import bisect
from typing import Any

import numpy as np

from ..document.properties import label_of, remade
from ..easings import Points
from ..easings.batch import ease_at
from ..easings.cut import furthest, jumps_of, split_ease, stays_within, turned_ease
from ..geometry.fewest_keys import fitted_keys
from ..ground.errors import Refused
from ..tracks.base import MOST_KEYS, SAME, Track
from ..tracks.evaluate import evaluate, key_at, value_at
from .keys import key_data, with_key

NEAR = 0.005
"""How near straight keys follow a curve, in pixels, where no two curves can."""
GAP = 1e-3
"""The frames between the end of one round and the start of the next, where the two have different values."""


def inserted(track: Track, name: str, frame: float, fps: float) -> Track:
    """The track with a key at `frame`, counted from the layer's start, and its motion unchanged.

    Within a stretch the easing and the path are cut in two: exactly, or within 0.1 % of the way, as `split_ease` says.
    Where the value there is that of a neighbouring key and goes on from it, a further key keeps what lies between;
    where an easing goes beyond the ends of a curved path, straight keys follow it within 0.01 px at every frame.
    Beyond the keys, a motion that repeats or bounces gets as many whole rounds of keys as it takes.
    """
    if key_at(track, frame) is not None:
        return track
    times = [key.frame for key in track.keys]
    if not times:
        return with_key(track, name, frame, value_at(track, frame, fps))
    if not times[0] < frame < times[-1]:
        return _beyond(track, name, frame, fps)
    number = bisect(times, frame) - 1
    for at, way, outer in ((0, track.before, times[0] - 1), (len(times) - 2, track.after, times[-1] + 1)):
        if at == number and way == "carry on" and not _keeps_its_slope(track, number):
            # One key a frame further out holds the speed at which the motion goes on.
            return inserted(_beyond(track, name, outer, fps), name, frame, fps)
    left, right = track.keys[number], track.keys[number + 1]
    u = (frame - left.frame) / (right.frame - left.frame)
    first, second, share = split_ease(left.ease, u)
    if first is None or second is None:
        apart = furthest(left.ease, *((0.0, u) if first is None else (u, 1.0)))
        worth = min(abs(float(ease_at(left.ease, np.array([apart]))[0]) - end) for end in (0.0, 1.0))
        at = left.frame + apart * (right.frame - left.frame)
        if worth > 1e-3 and min(at - left.frame, right.frame - at, abs(at - frame)) > SAME:
            return inserted(inserted(track, name, at, fps), name, frame, fps)
        first, second = first or "linear", second or "linear"
    curve = track.curve
    stretch = curve.paths.get(number)
    before: dict[str, Any] = {**key_data(left), "ease": first}
    after = key_data(right)
    here: dict[str, Any] = {"frame": float(frame), "ease": second}
    if stretch is None:
        here["value"] = track.from_array(curve.values[number] + curve.steps[number] * share)
    elif stays_within(left.ease, u, share):
        (leave, arrive), (leave_on, arrive_on), point = stretch.split(share)
        before["leave"], here["arrive"] = _pair(leave), _pair(arrive)
        here["leave"], after["arrive"] = _pair(leave_on), _pair(arrive_on)
        here["value"] = _pair(point)
    elif left.ease == "hold":
        before["leave"], here["leave"] = None, before["leave"]
        here["value"] = left.value
    else:
        return _straightened(track, name, number, frame, fps)
    keys = (*track.keys[:number], before, here, after, *track.keys[number + 2 :])
    return remade(track, name, keys=keys)


def _keeps_its_slope(track: Track, number: int) -> bool:
    """Whether a stretch cut in two runs at its ends exactly as before."""
    ease = track.keys[number].ease
    plain = ease in ("linear", "hold") if isinstance(ease, str) else ease.jumps
    return number not in track.curve.paths and plain


def _straightened(track: Track, name: str, number: int, frame: float, fps: float) -> Track:
    """A path with one stretch as straight keys that follow it, one of them at `frame`."""
    left, right = track.keys[number], track.keys[number + 1]
    bare = track.model_copy(update={"cadence": None})
    found: list[dict[str, Any]] = []
    # Between renewals a cadence shows nothing; without one a curve is followed between whole frames, too.
    fine = 1 if track.cadence else 4
    jumps = np.array([left.frame + u * (right.frame - left.frame) for u in jumps_of(left.ease)])
    jumps = np.concatenate([jumps - GAP, jumps])
    for start, end in ((left.frame, frame), (frame, right.frame)):
        inner = np.arange(np.floor(start * fine) + 1, np.ceil(end * fine)) / fine
        inner = np.concatenate([inner, jumps[(jumps > start) & (jumps < end)]])
        renewed = track.cadence.renewals(start, end, fps) if track.cadence else np.empty(0)
        times = np.unique(np.concatenate([[start, end], inner, renewed[(renewed > start) & (renewed < end)]]))
        times = times[np.concatenate([[True], np.diff(times) > SAME])]
        (values,) = evaluate([bare], [times], fps)
        values = np.array(np.broadcast_to(values, (len(times), track.dims)))
        if end == right.frame:
            values[-1] = right.value
        found += [{**key, "ease": "linear"} for key in fitted_keys(times, values, NEAR)]
    inside = {round(key["frame"], 9): key for key in found if left.frame < key["frame"] < right.frame}
    inside.setdefault(round(frame, 9), {"frame": float(frame), "value": value_at(track, frame, fps), "ease": "linear"})
    before = {**key_data(left), "ease": "linear", "leave": None}
    if not _leaves_its_key(track, number):
        # The easing has left its key at once: so does the way to the first key after it.
        at = left.frame + GAP
        inside[at] = {"frame": at, "value": value_at(track, at, fps), "ease": "linear"}
        before["ease"] = Points(points=((0.0, 1.0), (1.0, 1.0)))
    after = {**key_data(right), "arrive": None}
    middle = [inside[time] for time in sorted(inside)]
    return remade(track, name, keys=(*track.keys[:number], before, *middle, after, *track.keys[number + 2 :]))


def _beyond(track: Track, name: str, frame: float, fps: float) -> Track:
    """A key before the first or after the last."""
    early = frame < track.keys[0].frame
    way, other = (track.before, track.after) if early else (track.after, track.before)
    # Before the keys a seam shows the first of them, after them the last: what goes round on both sides cannot do both.
    seams = way == other == "repeat" and not (track.keys[0].value == track.keys[-1].value and _leaves_its_key(track))
    if len(track.keys) > 1 and other in ("repeat", "bounce") and (way != other or seams):
        side, beyond = ("after", "before") if early else ("before", "after")
        raise Refused(
            f"{label_of(name)} {'repeats' if other == 'repeat' else 'goes to and fro'} {side} its keys; one more key "
            f"{beyond} them would change what goes round.",
            mend="Make the key among the others, or let the property hold there.",
        )
    if len(track.keys) > 1 and way in ("repeat", "bounce"):
        return inserted(_with_rounds(track, name, frame, early, fps), name, frame, fps)
    value = value_at(track, frame, fps)
    edge = key_data(track.keys[0 if early else -1])
    # What the last key's easing and handles said had no meaning yet; the way to it is straight.
    if early:
        edge = track.unbent(edge, "arrive")
        keys = ({"frame": float(frame), "value": value}, edge, *track.keys[1:])
    else:
        edge = track.unbent(edge | {"ease": "linear"}, "leave")
        keys = (*track.keys[:-1], edge, {"frame": float(frame), "value": value})
    return remade(track, name, keys=keys)


def _with_rounds(track: Track, name: str, frame: float, early: bool, fps: float) -> Track:
    """The track with whole rounds of keys before or after its own, as many as reach a frame; it goes on as it did."""
    first, last = track.keys[0].frame, track.keys[-1].frame
    wide = last - first
    count = int(np.ceil(((first - frame) if early else (frame - last)) / wide - 1e-9))
    if (count + 1) * (len(track.keys) + 2) > MOST_KEYS:
        raise Refused(
            f"{label_of(name)} goes round {count:,} times until frame {frame:g}; as keys that would be more than "
            f"{MOST_KEYS:,}.",
            mend="Make the key nearer to the others, or let the property hold beyond them.",
        )
    bounces = (track.before if early else track.after) == "bounce"
    keys: list[dict[str, Any]] = [key_data(key) for key in track.keys]
    for number in range(1, count + 1):
        shift = -number * wide if early else number * wide
        if bounces:
            round_ = _mirrored(track, shift) if number % 2 else _shifted(track, shift)
            keys = _chained(round_, keys) if early else _chained(keys, round_)
        else:
            keys = (
                _round_before(track, name, keys, shift, fps) if early else _round_after(track, name, keys, shift, fps)
            )
    return remade(track, name, keys=tuple(keys))


def _shifted(track: Track, by: float) -> list[dict[str, Any]]:
    return [{**key_data(key), "frame": key.frame + by} for key in track.keys]


def _mirrored(track: Track, by: float) -> list[dict[str, Any]]:
    """A round run backwards, in the place of one shifted by some frames."""
    ends = track.keys[0].frame + track.keys[-1].frame
    keys = []
    for number in reversed(range(len(track.keys))):
        key = key_data(track.keys[number])
        key["frame"] = ends - key["frame"] + by
        key["ease"] = turned_ease(track.keys[number - 1].ease) if number else "linear"
        if "leave" in key:
            key["leave"], key["arrive"] = key["arrive"], key["leave"]
        keys.append(key)
    return keys


def _chained(before: list[dict[str, Any]], after: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Two rounds that meet in one key of one value."""
    meeting = {**before[-1], "ease": after[0]["ease"]}
    if "leave" in meeting:
        meeting["leave"] = after[0]["leave"]
    return [*before[:-1], meeting, *after[1:]]


def _round_after(track: Track, name: str, keys: list[dict[str, Any]], by: float, fps: float) -> list[dict[str, Any]]:
    """The keys and one more round after them; where its start is another value, it begins a moment later."""
    if track.keys[0].value == track.keys[-1].value and _leaves_its_key(track):
        return _chained(keys, _shifted(track, by))
    cut = inserted(_holding(track), name, track.keys[0].frame + GAP, fps)
    held = {**keys[-1], "ease": "hold"} | ({"leave": None} if "leave" in keys[-1] else {})
    begun = _shifted(cut, by)[1:]
    if "arrive" in begun[0]:
        begun[0]["arrive"] = None
    return [*keys[:-1], held, *begun]


def _round_before(track: Track, name: str, keys: list[dict[str, Any]], by: float, fps: float) -> list[dict[str, Any]]:
    """The keys and one more round before them; where its end is another value, it ends a moment earlier."""
    if track.keys[0].value == track.keys[-1].value and _leaves_its_key(track):
        return _chained(_shifted(track, by), keys)
    cut = inserted(_holding(track), name, track.keys[-1].frame - GAP, fps)
    body = _shifted(cut, by)[:-1]
    body[-1] |= {"ease": "hold"} | ({"leave": None} if "leave" in body[-1] else {})
    return [*body, *keys]


def _leaves_its_key(track: Track, number: int = 0) -> bool:
    """Whether a stretch begins at its key's own value, and not with a jump."""
    return abs(float(ease_at(track.keys[number].ease, np.array([0.0]))[0])) < 1e-9


def _holding(track: Track) -> Track:
    return track.model_copy(update={"before": "hold", "after": "hold", "cadence": None})


def _pair(point: Any) -> tuple[float, float]:
    return float(point[0]), float(point[1])
