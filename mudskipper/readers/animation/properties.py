"""Properties of animation JSON as tracks: values, keys, their Bézier curves and the handles of paths."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

import numpy as np

from ...core.easings.batch import progress, ready
from ...core.easings.bezier import Bezier
from ...core.geometry.bezier import Floats
from ...core.geometry.fewest_keys import fitted_keys

LINEAR = (0.0, 0.0, 1.0, 1.0)
BEFORE = 0.01
"""Frames by which the first of two keys at one frame stands before it."""
NEAR = 0.01
"""How far what is told by straight lines from frame to frame may be off, in the unit of the property."""
MOST_FRAMES = 20_000

Told = Callable[[list[float]], Any]
"""Numbers of a property as a document has them."""


@dataclass(frozen=True)
class Key:
    """A key: its frame, its value, and the stretch that it begins: held, or along a curve for each number."""

    frame: float
    value: Any
    held: bool = False
    curves: tuple[tuple[float, float, float, float], ...] = (LINEAR,)
    leave: tuple[float, ...] = ()
    arrive: tuple[float, ...] = ()
    """The handle at the end of the stretch, from the next key."""


def keys_in(prop: dict[str, Any]) -> list[Key]:
    """The keys of a property in order of time; none where it stands still."""
    given = prop.get("k")
    if not isinstance(given, list) or not given or not isinstance(given[0], dict) or "t" not in given[0]:
        return []
    found: list[Key] = []
    for number, one in enumerate(given):
        value = one.get("s")
        if value is None:
            if number == 0:
                continue
            value = given[number - 1].get("e", found[-1].value if found else None)
        found.append(_key(one, value))
    found.sort(key=lambda key: key.frame)
    parted: list[Key] = []
    for key, after in zip(found, [*found[1:], None], strict=True):
        if after is not None and after.frame - key.frame < 1e-6:
            # A jump: the value until then, and at once the other.
            if parted and key.frame - parted[-1].frame <= BEFORE:
                continue
            key = Key(key.frame - BEFORE, key.value, True)
        parted.append(key)
    return parted


def _key(one: dict[str, Any], value: Any) -> Key:
    out, into = one.get("o"), one.get("i")
    curves: tuple[tuple[float, float, float, float], ...] = (LINEAR,)
    if isinstance(out, dict) and isinstance(into, dict) and "x" in out and "x" in into:
        columns = [_listed(part[axis]) for part in (out, into) for axis in ("x", "y")]
        count = max(map(len, columns))
        whole = (column + column[-1:] * (count - len(column)) for column in columns)
        curves = tuple((_unit(a), b, _unit(c), d) for a, b, c, d in zip(*whole, strict=True))
    handles = [tuple(float(n) for n in one.get(name) or ()) for name in ("to", "ti")]
    return Key(float(one["t"]), value, one.get("h") == 1, curves, *handles)


def _unit(number: float) -> float:
    return min(max(number, 0.0), 1.0)


def _listed(value: Any) -> list[float]:
    return [float(one) for one in value] if isinstance(value, list | tuple) else [float(value)]


def numbers_of(value: Any, dims: int) -> list[float]:
    """The first numbers of a value, however it is written."""
    found = _listed(value)
    return (found + [found[-1] if found else 0.0] * dims)[:dims] if len(found) < dims else found[:dims]


def still(prop: Any, dims: int, default: Sequence[float]) -> list[float]:
    """The value of a property at its first key, or the only one."""
    if not isinstance(prop, dict):
        return list(default)
    keys = keys_in(prop)
    value = keys[0].value if keys else prop.get("k", list(default))
    return numbers_of(value, dims)


def moves(prop: Any) -> bool:
    """Whether it has keys."""
    return isinstance(prop, dict) and len(keys_in(prop)) > 0


def track(
    prop: Any, dims: int, default: Sequence[float], shift: float, told: Told, near: float = NEAR, **more: Any
) -> Any:
    """A property of so many numbers as a track of a document; `shift` is added to the frames of its keys."""
    keys = keys_in(prop) if isinstance(prop, dict) else []
    if not keys:
        return {"rest": told(still(prop, dims, default)), **more}
    made: list[dict[str, Any]] = []
    for key, after in zip(keys, [*keys[1:], None], strict=True):
        if after is not None and not key.held and len(set(key.curves[:dims])) > 1:
            # Numbers that go along curves of their own: by straight lines from frame to frame.
            frames = _frames([key.frame, after.frame])
            rows = fitted_keys(frames, _along([key, after], dims, frames), near)[:-1]
            made += [
                {"frame": one["frame"] + shift, "value": told(_listed(one["value"])), "ease": "linear"} for one in rows
            ]
        else:
            value = told(numbers_of(key.value, dims))
            made.append({"frame": key.frame + shift, "value": value, "ease": _ease(key)})
    return {"rest": made[0]["value"], "keys": made, **more}


def path_track(prop: Any, shift: float) -> Any:
    """A position along its path, with the handles of its keys; or x and y apart."""
    if isinstance(prop, dict) and prop.get("s") is True:
        return {axis: track(prop.get(axis), 1, [0.0], shift, _first) for axis in ("x", "y")}
    made = track(prop, 2, [0.0, 0.0], shift, list)
    keys = keys_in(prop) if isinstance(prop, dict) else []
    at = {key["frame"]: key for key in made.get("keys", ())}
    for key, after in pairwise(keys):
        # A handle bends a stretch that is one.
        if (any(key.leave) or any(key.arrive)) and len(set(key.curves[:2])) == 1:
            at[key.frame + shift]["leave"] = numbers_of(list(key.leave) or [0.0], 2)
            at[after.frame + shift]["arrive"] = numbers_of(list(key.arrive) or [0.0], 2)
    return made


def _first(numbers: list[float]) -> float:
    return numbers[0]


def number(prop: Any, default: float, shift: float, factor: float = 1.0) -> Any:
    """A property that is one number."""
    return track(prop, 1, [default], shift, lambda row: row[0] * factor)


def _ease(key: Key) -> Any:
    if key.held:
        return "hold"
    a, b, c, d = key.curves[0]
    return "linear" if a == b and c == d else {"bezier": [a, b, c, d]}


def sampled(prop: Any, dims: int, default: Sequence[float], frames: Floats) -> Floats:
    """The values (n, dims) of a property at its own frames, each number along its own curve."""
    keys = keys_in(prop) if isinstance(prop, dict) else []
    if not keys:
        return np.tile(np.array(still(prop, dims, default), dtype=np.float64), (len(frames), 1))
    return _along(keys, dims, frames)


def _along(keys: list[Key], dims: int, frames: Floats) -> Floats:
    values = np.array([numbers_of(key.value, dims) for key in keys])
    times = np.array([key.frame for key in keys])
    place = np.clip(np.searchsorted(times, frames, side="right") - 1, 0, len(keys) - 1)
    out = values[place].copy()
    for at, (key, after) in enumerate(pairwise(keys)):
        here = (place == at) & (frames >= key.frame)
        if key.held or not here.any():
            continue
        share = (frames[here] - key.frame) / (after.frame - key.frame)
        for axis in range(dims):
            curve = key.curves[min(axis, len(key.curves) - 1)]
            way = progress(ready([Bezier(bezier=curve)]), np.zeros(len(share), dtype=np.intp), share)
            out[here, axis] = values[at, axis] + (values[at + 1, axis] - values[at, axis]) * way
    return out


def frames_of(*props: Any) -> Floats:
    """Every whole frame from the first key of some properties to the last, and those keys; one frame without any."""
    return _frames([key.frame for prop in props if isinstance(prop, dict) for key in keys_in(prop)])


def _frames(times: list[float]) -> Floats:
    if not times:
        return np.zeros(1)
    if max(times) - min(times) > MOST_FRAMES:
        raise ValueError("keys that lie too far apart")
    return np.unique([*times, *np.arange(np.ceil(min(times)), np.floor(max(times)) + 1)])
