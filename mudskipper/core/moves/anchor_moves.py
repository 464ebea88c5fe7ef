"""The anchor: from stations, fractions, content and scene points to the track's value, and what must move with it.

Picture stays put at frame f: position += R(f)·S(f)·(a' − a). Anchor stays put: position is left alone.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..document.properties import NO_FORMULA, remade
from ..document.scene import Layer
from ..easings.batch import ease_at
from ..geometry.bezier import Floats
from ..geometry.fewest_keys import fitted_keys
from ..geometry.transform import apply, linear_part
from ..ground.errors import Refused
from ..ground.stations import STATIONS, baseline_stations
from ..resolve.context import Context
from ..resolve.layers import ResolvedLayer
from ..tracks.base import SAME
from ..tracks.evaluate import key_at
from ..tracks.kinds import PathTrack
from . import position_keys as position_of
from .inserted_keys import inserted
from .keys import with_key
from .under_formula import shifted, with_shown

THROUGHOUT = 0.04
QUARTER = 0.25
MOST_STEP = 200.0
"""Pixels in a quarter of a frame beyond which a motion is a jump, which no straight key follows between frames."""
CONVERTED = 0.001


@dataclass(frozen=True)
class Moment:
    """A layer at one scene frame: everything that the sums of the anchor need."""

    layer: Layer
    frame: float
    anchor: Floats
    box: Floats
    position: Floats
    linear: Floats
    inner: dict[str, Floats]
    resolved: ResolvedLayer

    @property
    def scale_is_zero(self) -> tuple[bool, bool]:
        """Whether the picture has collapsed along its own x, y."""
        return bool(np.hypot(*self.linear[:, 0]) == 0), bool(np.hypot(*self.linear[:, 1]) == 0)


def moment(layer: Layer, frame: float, context: Context) -> Moment:
    """The layer's anchor (px), box, position and R·S at a scene frame."""
    resolved = context.one(layer, frame)
    return moment_of(resolved)


def moment_of(resolved: ResolvedLayer) -> Moment:
    """The moment of a layer resolved at one frame."""
    values = resolved.values
    linear = linear_part(values["scale"], values["rotation"][:, 0])[0]
    return Moment(
        resolved.layer, float(resolved.frames[0]), resolved.anchor[0], resolved.box[0], values["position"][0], linear,
        resolved.inner, resolved,
    )  # fmt: skip


def station_point(now: Moment, station: str) -> Floats:
    """A station of the box in content pixels."""
    baselines = now.resolved.baselines[0]
    lines = baseline_stations(len(baselines))
    if station in lines:
        share, which = lines[station]
        return np.array([now.box[0] + share * now.box[2], baselines[which]])
    if station not in STATIONS:
        known = ", ".join([*STATIONS, *lines])
        if not lines and station in baseline_stations(2):
            raise Refused(f"Only a text has a {station!r}.", where="to.station", mend=f"Stations: {known}.")
        raise Refused(f"There is no station {station!r}.", where="to.station", mend=f"Stations: {known}.")
    return now.box[:2] + np.array(STATIONS[station]) * now.box[2:]


def point_of_scene(now: Moment, point: Floats) -> tuple[Floats, str]:
    """The content point under a scene point, and a sentence where a scale of 0 left an axis undecided."""
    flat_x, flat_y = now.scale_is_zero
    if flat_x and flat_y:
        raise Refused(
            f"At frame {now.frame:g} '{now.layer.name}' has scale 0 on both axes, so no place on it can be pointed at.",
            mend="Go to a frame where it has a size, or choose a station.",
        )
    away = now.resolved.own_point(point) - now.position
    if flat_x or flat_y:
        axis = 1 if flat_x else 0
        direction = now.linear[:, axis]
        step = np.zeros(2)
        step[axis] = away @ direction / (direction @ direction)
        gone, kept = ("x", "y") if flat_x else ("y", "x")
        said = f"Scale {gone} is 0 at frame {now.frame:g}, so the anchor was moved along {kept} only."
        return now.anchor + step, said
    return now.anchor + np.linalg.solve(now.linear, away), ""


def anchor_value(now: Moment, point: Floats) -> tuple[float, float]:
    """A content point as the anchor track's value: fractions while pinned, else pixels."""
    if not now.layer.anchor.pinned:
        return float(point[0]), float(point[1])
    origin, size = now.box[:2], now.box[2:]
    old = np.where(size == 0, 0.0, (now.anchor - origin) / np.where(size == 0, 1.0, size))
    fraction = np.where(size == 0, old, (point - origin) / np.where(size == 0, 1.0, size))
    return float(fraction[0]), float(fraction[1])


def with_anchor(now: Moment, value: tuple[float, float], *, keep: str, scope: str, context: Context) -> Layer:
    """The layer with its anchor track at `value` at this moment.

    `keep` is what stays put, `picture` or `anchor`. Where the picture stays, `scope` says when: at this `frame` (the
    whole path is shifted and keeps its shape), at `every key` of the position, or `throughout` (at every frame of the
    span within 0.05 px, by the fewest straight keys; exactly, with no further key, where rotation and scale rest).
    """
    layer = now.layer
    changed = with_shown(layer, "anchor", now.frame, value, context)
    if keep == "anchor":
        return changed
    if scope == "frame":
        after = moment(changed, now.frame, context)
        kept = shifted(changed, now.linear @ (after.anchor - now.anchor), now.frame, context)
        return _checked(layer, kept, np.array([now.frame]), context)
    if scope == "every key":
        return _at_every_key(layer, changed, now.frame, context)
    return _throughout(layer, changed, context)


def _checked(before: Layer, after: Layer, frames: Floats, context: Context) -> Layer:
    """The layer, Refused in words where a formula keeps its position or its anchor from what its picture needs to stay
    at scene frames (n,)."""
    if not any(track.formula for track in (before.anchor, *position_of.parts_of(before).values())):
        return after
    old, new = context.resolve([before, after], frames)
    if not np.allclose(old.matrix, new.matrix, rtol=0, atol=1e-6):
        raise Refused(
            f"The picture of '{before.name}' cannot stay put: the formula of its position or its anchor does not "
            "add to base.",
            where="property", mend="Write it as base + …, or as keys; or let the anchor stay put.",
        )  # fmt: skip
    return after


def _steps(before: Layer, after: Layer, frames: Floats, context: Context) -> tuple[Floats, Floats]:
    """Position (n, 2) at scene frames, and what must be added to it so that the picture stays where it was."""
    old, new = context.resolve([before, after], frames)
    size = (len(frames), 2)
    linear = np.broadcast_to(linear_part(old.values["scale"], old.values["rotation"][:, 0]), (*size, 2))
    steps = np.einsum("nij,nj->ni", linear, np.broadcast_to(new.anchor - old.anchor, size))
    return np.broadcast_to(old.values["position"], size), steps


def _at_every_key(before: Layer, after: Layer, frame: float, context: Context) -> Layer:
    """The picture unmoved at every key of position, scale, rotation and anchor, each compensated with its own sum; at
    a scene frame where there is none of them.

    The position gets a key at each of those moments, but where one and the same step serves for all of them.
    """
    joined = position_of.joined(after, context.scene.fps)
    path = joined.position
    assert isinstance(path, PathTrack)
    drivers = [before.scale, before.rotation, before.anchor, after.anchor]
    times = _moments([path, *drivers])
    times = times or [frame - before.span.start]
    at = np.array(times) + before.span.start
    _, steps = _steps(before, after, at, context)
    if np.abs(steps - steps[0]).max() <= 1e-9:
        return _checked(before, shifted(after, steps[0], float(at[0]), context), at, context)
    track: Any = path
    for time in times:
        first = with_key(track, "position", time, track.rest) if not track.keys else None
        track = first or inserted(track, "position", time, context.scene.fps)
    track = _eased_like(track, path, drivers)
    # A key may have needed another one beside it.
    _, steps = _steps(before, after, np.array([key.frame for key in track.keys]) + before.span.start, context)
    keys = tuple(
        key.model_copy(update={"value": (key.value[0] + float(x), key.value[1] + float(y))})
        for key, (x, y) in zip(track.keys, _before_jumps(track.keys, steps), strict=True)
    )
    return _checked(before, joined.model_copy(update={"position": remade(track, "position", keys=keys)}), at, context)


def _before_jumps(keys: Sequence[Any], steps: Floats) -> Floats:
    """What is added to keys (n, 2) so that steps (n, 2) are what is added to what is shown at them: an easing may have
    left its key already where that stands."""
    added = np.array(steps)
    for place in range(len(keys) - 2, -1, -1):
        gone = float(ease_at(keys[place].ease, np.zeros(1))[0])
        if gone and gone != 1:
            added[place] = (steps[place] - gone * added[place + 1]) / (1 - gone)
    return added


def _moments(tracks: list[Any]) -> list[float]:
    """The frames at which any of some tracks has a key, each once."""
    times = sorted(key.frame for track in tracks for key in track.keys)
    return [time for i, time in enumerate(times) if i == 0 or time - times[i - 1] > SAME]


def _eased_like(track: Any, path: PathTrack, drivers: list[Any]) -> Any:
    """A position that had no keys eased as what drives it is, where that agrees."""
    if path.keys:
        return track
    keys = []
    for key in track.keys:
        eases = [there.ease for driver in drivers if (there := key_at(driver, key.frame)) is not None]
        alike = bool(eases) and all(ease == eases[0] for ease in eases)
        keys.append(key.model_copy(update={"ease": eases[0]}) if alike else key)
    return remade(track, "position", keys=tuple(keys))


def reanchored(layer: Layer, frame: float, point: Floats, window: tuple[float, float], context: Context) -> Layer:
    """The layer with its anchor at a content point at a scene frame, and the picture as it was at every frame of the
    span outside a window of scene frames, within 0.05 px; exactly where the step is the same at all of them.

    A keyed anchor keeps its motion and is shifted whole. Within the window, where another motion is about to be
    written, the position is shifted by the step of `frame`.
    """
    now = moment(layer, frame, context)
    by = np.array(anchor_value(now, point)) - np.array(anchor_value(now, now.anchor))
    if not by.any():
        return layer
    shift = (float(by[0]), float(by[1]))
    keys = tuple(
        key.model_copy(update={"value": (key.value[0] + shift[0], key.value[1] + shift[1])})
        for key in layer.anchor.keys
    )
    rest = (layer.anchor.rest[0] + shift[0], layer.anchor.rest[1] + shift[1])
    after = layer.model_copy(update={"anchor": remade(layer.anchor, "anchor", rest=rest, keys=keys)})
    here = now.linear @ (moment(after, frame, context).anchor - now.anchor)
    low, high = window
    frames = np.arange(layer.span.start, layer.span.end, dtype=np.float64)
    outside = np.union1d(frames[(frames <= low) | (frames >= high)], [frame])
    _, steps = _steps(layer, after, outside, context)
    if np.abs(steps - here).max() <= 1e-9 and (kept := _shifted_whole(layer, after, here, outside, context)):
        return kept
    follow: list[Any] = []
    for part in (outside[outside <= low], outside[outside >= high]):
        if part.size:
            there = _following(layer, after, float(part[0]), float(part[-1]), context)
            # What rests in it rests to its end, whatever comes after.
            last = {**there[-1], "frame": float(part[-1]) - layer.span.start}
            follow += there if last["frame"] - there[-1]["frame"] < SAME else [*there, last]
    track = PathTrack.model_validate({"rest": follow[0]["value"], "keys": follow})
    return after.model_copy(update={"position": track})


def _shifted_whole(before: Layer, after: Layer, by: Floats, frames: Floats, context: Context) -> Layer | None:
    """The layer with its whole path shifted by (x, y) pixels; None where a formula makes another step of it at any of
    some scene frames (n,), so that keys must follow."""
    try:
        return _checked(before, shifted(after, by, float(frames[0]), context), frames, context)
    except Refused:
        return None


def _throughout(before: Layer, after: Layer, context: Context) -> Layer:
    """The picture unmoved at every frame of the span, and between them."""
    first, last = float(before.span.start), float(before.span.end - 1)
    frames = np.arange(first, last + 1)
    _, steps = _steps(before, after, frames, context)
    if np.abs(steps - steps[0]).max() <= 1e-9 and (kept := _shifted_whole(before, after, steps[0], frames, context)):
        return kept
    keys = _following(before, after, first, last, context)
    track = PathTrack.model_validate({"rest": keys[0]["value"], "keys": keys})
    return after.model_copy(update={"position": track})


def _following(before: Layer, after: Layer, first: float, last: float, context: Context) -> list[dict[str, Any]]:
    """Straight position keys that keep the picture of `before` from one scene frame to another, within 0.05 px: on
    whole frames, or where between them that is not near enough on quarters of them."""
    start = before.span.start
    times = np.arange(first, last + 1e-9, QUARTER)
    position, steps = _steps(before, after, times, context)
    wanted, whole = position + steps, slice(None, None, round(1 / QUARTER))
    keys = fitted_keys(times[whole] - start, wanted[whole], THROUGHOUT)
    at = [key["frame"] for key in keys]
    found = np.stack([np.interp(times - start, at, [key["value"][axis] for key in keys]) for axis in (0, 1)], axis=1)
    jumps = np.abs(np.diff(wanted, axis=0)).max(initial=0) > MOST_STEP
    if jumps or np.hypot(*(found - wanted).T).max() <= THROUGHOUT * 1.2:
        return keys
    return fitted_keys(times - start, wanted, THROUGHOUT)


def converted(layer: Layer, pinned: bool, context: Context) -> Layer:
    """The layer with its anchor pinned to the box, or fixed at content pixels, and no visible change at any frame.

    While the box stands still every key is converted and the easing kept; where it changes its size, straight keys
    follow the anchor within 0.001 px.
    """
    if layer.anchor.pinned == pinned:
        return layer
    frames = np.arange(layer.span.start, layer.span.end, dtype=np.float64)
    (resolved,) = context.resolve([layer], frames)
    origin, size = resolved.box[:, :2], resolved.box[:, 2:]
    if pinned and (size == 0).any():
        raise Refused(
            f"The box of '{layer.name}' has no extent at some frame, so its anchor cannot be given as a share of it.",
            mend="Give it a size at every frame, or leave the anchor fixed.",
        )
    if len(origin) == 1 and layer.anchor.formula is None:

        def in_the_other_unit(value: tuple[float, float]) -> tuple[float, float]:
            given = np.array(value)
            x, y = (given - origin[0]) / size[0] if pinned else origin[0] + given * size[0]
            return float(x), float(y)

        keys = tuple(key.model_copy(update={"value": in_the_other_unit(key.value)}) for key in layer.anchor.keys)
        track = remade(layer.anchor, "anchor", pinned=pinned, rest=in_the_other_unit(layer.anchor.rest), keys=keys)
        return layer.model_copy(update={"anchor": track})
    wanted = np.broadcast_to(resolved.fraction if pinned else resolved.anchor, (len(frames), 2))
    near = CONVERTED / float(size.max()) if pinned else CONVERTED
    fitted = fitted_keys(frames - layer.span.start, wanted, near)
    rest = fitted[0]["value"]
    follows = {"keys": fitted if len(fitted) > 1 else (), "before": "hold", "after": "hold", "cadence": None}
    track = remade(layer.anchor, "anchor", pinned=pinned, rest=rest, **follows, **NO_FORMULA)
    return layer.model_copy(update={"anchor": track})


def explain(layer: Layer, frame: float, context: Context) -> dict[str, Any]:
    """Both coordinate spaces and the sum, with the numbers of one scene frame.

    A content point c stands in the scene at position + R·S·(c − anchor). For each station of the layer the sum is given
    in steps: the point `layer`, the `arm` to it from the anchor, the arm `turned` and scaled, the point in the `scene`.
    """
    resolved = context.one(layer, frame)
    now = moment_of(resolved)
    left, top, width, height = (float(n) for n in now.box)
    fraction = [float((a - o) / s) if s else 0.0 for a, o, s in zip(now.anchor, now.box[:2], now.box[2:], strict=True)]
    points = []
    for name in (*STATIONS, *baseline_stations(resolved.baselines.shape[1])):
        content = station_point(now, name)
        arm = content - now.anchor
        turned = now.linear @ arm
        there = now.position + turned
        steps = {"layer": content, "arm": arm, "turned": turned, "scene": there}
        if resolved.carrier is not None:
            steps |= {"carried": there, "scene": apply(resolved.carrier[0], there)}
        points.append({"station": name} | {step: value.tolist() for step, value in steps.items()})
    return {
        "frame": frame, "box": [left, top, width, height],
        "anchor": {"layer": now.anchor.tolist(), "fraction": fraction},
        "position": now.position.tolist(), "scale": resolved.values["scale"][0].tolist(),
        "rotation": float(resolved.values["rotation"][0, 0]), "linear": now.linear.tolist(), "points": points,
        "sum": "scene = position + R·S·(layer − anchor)"
        if resolved.carrier is None
        else "carried = position + R·S·(layer − anchor); scene = carrier · carried",
        "carrier": None if resolved.carrier is None else context.scene.layer(layer.carrier or "").name,
        "carrier_matrix": None if resolved.carrier is None else resolved.carrier[0].tolist(),
        "place": resolved.place[0].tolist(),
    }  # fmt: skip
