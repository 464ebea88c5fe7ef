"""Values under a formula: what a property must be without it, so that it is what is wanted with it.

Under `base * 2` a layer that is to stand 50 px further on needs a position 25 px further on. The value is found by
Newton's steps on the formula itself, and by none where the formula does not read it.
"""

from __future__ import annotations

from typing import Any

import numpy as np

from ..document.properties import track_of, with_track
from ..document.scene import Layer
from ..formulas.language import read
from ..formulas.reader import Program
from ..geometry.bezier import Floats
from ..ground.errors import Refused
from ..resolve.context import Context
from ..tracks.base import Track
from ..tracks.evaluate import value_at
from . import position_keys as position_of
from .keys import with_value

STEPS = 12
NEAR = 1e-9
"""How near to what is wanted a value counts as that, in the unit of its property, beside its size."""
PLACES = 9
"""Places behind the point to which a found value is rounded where it is as good so."""


def shown_value(layer: Layer, name: str, frame: float, context: Context) -> Any:
    """What a property is at a scene frame, its formula counted in; by its keys alone, held by no cadence, where it has
    none."""
    track = track_of(layer, name)
    if track.formula is None or not track.solvable:
        return value_at(track, frame - layer.span.start, context.scene.fps)
    return track.from_array(_given(layer, name, frame, context))


def with_shown(layer: Layer, name: str, frame: float, value: Any, context: Context) -> Layer:
    """The layer with a property that is `value` at a scene frame: a key where it is keyed, else its rest.

    Where the formula does not allow it, what comes nearest is written (`says` tells of it)."""
    track = track_of(layer, name)
    local = frame - layer.span.start

    def put(given: Any) -> Layer:
        return with_track(layer, name, with_value(track, name, local, given))

    if track.formula is None or not track.solvable:
        return put(value)
    wanted = np.atleast_1d(np.asarray(value, dtype=np.float64))
    base = np.atleast_1d(np.asarray(value_at(track, local, context.scene.fps), dtype=np.float64))
    found = solved(lambda at: _given(put(track.from_array(at)), name, frame, context), base, wanted)
    return put(track.from_array(found))


def moved(layer: Layer, frame: float, by: Any, context: Context) -> Layer:
    """The layer moved by (x, y), in the space of its position, at a scene frame: what is seen of it moves by as much,
    whatever its formulas make of its keys."""
    parts = position_of.parts_of(layer)
    if not any(track.formula for track in parts.values()):
        local = frame - layer.span.start
        return position_of.moved_at(layer, local, (float(by[0]), float(by[1])), context.scene.fps)
    for name, (axes, track) in layer.position.parts.items():
        here = np.atleast_1d(shown_value(layer, name, frame, context))
        goal = track.from_array(here + np.asarray(by, dtype=np.float64)[axes])
        layer = with_shown(layer, name, frame, goal, context)
    return layer


def shifted(layer: Layer, by: Floats, frame: float, context: Context) -> Layer:
    """The layer with its whole path shifted so that at a scene frame it is seen (x, y) pixels further on."""
    parts = position_of.parts_of(layer)
    if not any(track.formula for track in parts.values()):
        return position_of.shifted(layer, by)
    after = moved(layer, frame, by, context)
    local, fps = frame - layer.span.start, context.scene.fps
    old, new = (np.array(_bases(one, local, fps)) for one in (layer, after))
    return position_of.shifted(layer, new - old)


def _bases(layer: Layer, local: float, fps: float) -> list[float]:
    parts = position_of.parts_of(layer)
    values = [value_at(track, local, fps) for track in parts.values()]
    return list(values[0]) if len(values) == 1 else [float(one) for one in values]


def solved(given: Any, base: Floats, wanted: Floats) -> Floats:
    """The numbers (d,) for which `given`, a function of as many, is `wanted` (d,): Newton's method with differences,
    from `base`; where no numbers are, those that come nearest. Exact in one step where it is straight.

    >>> solved(lambda at: at * 2 + 1, np.array([0.0]), np.array([5.0])).tolist()
    [2.0]
    """
    at, now = base, given(base)
    enough = NEAR * (1.0 + np.abs(wanted).max())
    for _ in range(STEPS):
        miss = wanted - now
        if np.abs(miss).max() <= enough:
            break
        steps = np.eye(len(at)) * np.maximum(np.abs(at), 1.0) * 1e-3
        slopes = np.stack([(given(at + step) - now) / step.sum() for step in steps], axis=1)
        if not np.isfinite(slopes).all():
            break
        step = np.linalg.lstsq(slopes, miss, rcond=1e-9)[0]
        after = given(at + step)
        if not np.isfinite(after).all() or np.abs(wanted - after).max() >= np.abs(miss).max():
            break
        at, now = at + step, after
    tidy = np.round(at, PLACES)
    return tidy if np.abs(wanted - given(tidy)).max() <= max(enough, float(np.abs(wanted - now).max())) else at


def _given(layer: Layer, name: str, frame: float, context: Context) -> Floats:
    """What a formula gives (d,) at a scene frame; what the property is without it where that fails."""
    try:
        return np.array(context.formulas.value(layer, name, np.array([frame]))[0])
    except Refused:
        return np.asarray(track_of(layer, name).rest_array)


def reads_base(track: Track) -> bool:
    """Whether a property's keys and rest are seen at all: it has no formula, one that reads them, or one that fails."""
    found = None if track.formula is None else read(track.formula)
    return not isinstance(found, Program) or found.reads_base
