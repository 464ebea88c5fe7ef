"""The anchor: from stations, fractions, content and scene points to the track's value, and what must move with it.

Picture stays put at frame f: position += R(f)·S(f)·(a' − a). Anchor stays put: position is left alone.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .bezier import Floats
from .box import STATIONS, Assets
from .errors import Refused
from .keys import with_value
from .properties import remade
from .resolve import ResolvedLayer, resolve_layers
from .scene import Layer
from .tracks import Track
from .transform import linear_part


@dataclass(frozen=True)
class Moment:
    """A layer at one scene frame: everything that the sums of the anchor need."""

    layer: Layer
    frame: float
    anchor: Floats
    box: Floats
    position: Floats
    linear: Floats

    @property
    def scale_is_zero(self) -> tuple[bool, bool]:
        """Whether the picture has collapsed along its own x, y."""
        return bool(np.hypot(*self.linear[:, 0]) == 0), bool(np.hypot(*self.linear[:, 1]) == 0)


def moment(layer: Layer, frame: float, assets: Assets) -> Moment:
    """The layer's anchor (px), box, position and R·S at a scene frame."""
    (resolved,) = resolve_layers([layer], np.array([float(frame)]), assets)
    return moment_of(resolved)


def moment_of(resolved: ResolvedLayer) -> Moment:
    """The moment of a layer resolved at one frame."""
    values = resolved.values
    linear = linear_part(values["scale"], values["rotation"][:, 0])[0]
    return Moment(
        resolved.layer, float(resolved.frames[0]), resolved.anchor[0], resolved.box[0], values["position"][0], linear
    )


def station_point(now: Moment, station: str) -> Floats:
    """A station of the box in content pixels."""
    if station not in STATIONS:
        raise Refused(f"There is no station {station!r}.", where="to.station", mend=f"Stations: {', '.join(STATIONS)}.")
    return now.box[:2] + np.array(STATIONS[station]) * now.box[2:]


def point_of_scene(now: Moment, point: Floats) -> tuple[Floats, str]:
    """The content point under a scene point, and a sentence where a scale of 0 left an axis undecided."""
    flat_x, flat_y = now.scale_is_zero
    if flat_x and flat_y:
        raise Refused(
            f"At frame {now.frame:g} '{now.layer.name}' has scale 0 on both axes, so no place on it can be pointed at.",
            mend="Go to a frame where it has a size, or choose a station.",
        )
    away = point - now.position
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


def with_anchor(now: Moment, value: tuple[float, float], *, picture_stays: bool, assets: Assets) -> Layer:
    """The layer with its anchor track at `value` at this moment; position is compensated where the picture stays."""
    layer = now.layer
    local = now.frame - layer.span.start
    track = with_value(layer.anchor, "anchor", local, value)
    changed = layer.model_copy(update={"anchor": track})
    if not picture_stays:
        return changed
    after = moment(changed, now.frame, assets)
    shift = now.linear @ (after.anchor - now.anchor)
    return changed.model_copy(update={"position": shifted(layer.position, "position", shift)})


def shifted(track: Track, name: str, by: Floats) -> Track:
    """A pair track with its rest and every key moved by (x, y): the path keeps its shape."""
    x, y = float(by[0]), float(by[1])
    keys = tuple({"frame": k.frame, "value": (k.value[0] + x, k.value[1] + y), "ease": k.ease} for k in track.keys)
    return remade(track, name, rest=(track.rest[0] + x, track.rest[1] + y), keys=keys)
