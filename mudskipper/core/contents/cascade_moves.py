"""Where the letters of a text are moved by its cascades, and how else they look meanwhile."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from ..easings.batch import ease_at
from ..geometry.bezier import Floats
from ..geometry.transform import turn
from ..geometry.values import Values, within
from ..text.layout import Setting
from .cascade import Cascade, Choice
from .cascade_times import amounts, places_in
from .cascade_units import Units, anchors_of, units_of

STILL = np.eye(3)[None, None]


@dataclass(frozen=True)
class Moved:
    """Letters (n, g) under matrices (n, g, 3, 3) of the text's pixels, by how much they are to be seen (0…1), and which
    of them are at rest. Where any cascade says so: their `blur` in pixels, `colour` (n, g, 4) and how much of it they
    have (`mixed`), how much of a stroke's width and of its drawn part they have of that which `stroke_width` and `part`
    (n, g) are."""

    matrices: Floats
    opacity: Floats
    rest: NDArray[np.bool_]
    blur: Floats | None = None
    colour: Floats | None = None
    mixed: Floats | None = None
    stroke_width: tuple[Floats, Floats] | None = None
    part: tuple[Floats, Floats] | None = None

    @property
    def flat(self) -> bool:
        """Whether none is seen in perspective."""
        return not self.matrices[:, :, 2, :2].any()


def moved(setting: Setting, cascades: Sequence[Cascade], values: Values, local: Floats) -> Moved | None:
    """Letters as cascades move them at frames from the start of their layer (n,); None where all are at rest at all of
    them. `values` are those of the cascades' tracks by their paths: `0.offset`."""
    frames, count = len(local), len(setting.names)
    found = Moved(STILL, np.ones((1, 1)), np.ones((frames, count), dtype=bool))
    for index, cascade in enumerate(cascades):
        if not cascade.on:
            continue
        own = within(values, f"{index}.")
        units = units_of(setting, cascade.unit)
        share = _shares(cascade, setting, units, local)
        if share.any():
            found = _with(found, cascade, own, setting, units, share)
    if found.rest.all():
        return None
    shape = (frames, count)
    return replace(
        found, matrices=np.broadcast_to(found.matrices, (*shape, 3, 3)), opacity=np.broadcast_to(found.opacity, shape)
    )


def _shares(cascade: Cascade, setting: Setting, units: Units, local: Floats) -> Floats:
    """How much of its values each unit has (n, u)."""
    most = units.first.shape[1]
    row = np.arange(len(units.first))[:, None]
    lines = setting.belongs[np.minimum(row, len(setting.belongs) - 1), units.first, 2]
    far = None
    if cascade.order == "by distance":
        away = units.anchors("centre", (0.0, 0.0)) - np.array(cascade.point)
        far = np.hypot(away[:, :, 0], away[:, :, 1])
    places = places_in(cascade.order, units.count, cascade.seed, most, lines, far)
    steps = units.count - 1.0
    if cascade.order == "each line":
        steps = np.array([np.bincount(one).max() - 1.0 for one in lines])
    share, _ = amounts(cascade, places, np.maximum(steps, 0.0), local)
    if cascade.choice is not None:
        share = share * _chosen(cascade.choice, setting, units)
    return share


def _chosen(choice: Choice, setting: Setting, units: Units) -> Floats:
    """How strongly each unit takes part (1 | n, u), by the number of its first letter."""
    row = np.arange(len(units.first))[:, None]
    letter = setting.belongs[np.minimum(row, len(setting.belongs) - 1), units.first, 0].astype(np.float64)
    every = setting.belongs[:, :, 0].max(axis=1, initial=0)[:, None] + 1.0
    stop = every if choice.stop is None else np.minimum(choice.stop, every)
    inside = (letter >= choice.start) & (letter < stop)
    edges = [
        np.clip((way + 1.0) / (soft + 1.0), 0.0, 1.0)
        for way, soft in ((letter - choice.start, choice.soft_start), (stop - 1.0 - letter, choice.soft_stop))
    ]
    strength = np.minimum(*(ease_at(choice.curve, edge.reshape(-1)).reshape(edge.shape) for edge in edges))
    return np.asarray(strength * inside)


def _with(before: Moved, cascade: Cascade, values: Values, setting: Setting, units: Units, share: Floats) -> Moved:
    """With another cascade on top, of whose values units have these shares (n, u)."""
    each = units.each(share)
    matrices = before.matrices
    if any(name in values for name in ("offset", "scale", "turn_x", "turn_y", "turn_z", "skew")):
        own = _matrices(cascade, values, share, units, anchors_of(cascade, setting, units))
        matrices = units.each(own) @ matrices
    if "tracking" in values:
        matrices = _spaced(setting, each * values["tracking"] / 1000.0) @ matrices
    opacity = before.opacity
    if "opacity" in values:
        opacity = opacity * (1.0 + (values["opacity"] / 100.0 - 1.0) * each)
    made = replace(before, matrices=matrices, opacity=opacity, rest=before.rest & (each == 0))
    if "blur" in values:
        made = replace(made, blur=(0.0 if made.blur is None else made.blur) + values["blur"] * each)
    if "fill" in values:
        colour = np.broadcast_to(values["fill"][:, None], (*each.shape, 4))
        made = replace(made, colour=colour, mixed=np.clip(each, 0.0, 1.0))
    if "stroke_width" in values:
        made = replace(made, stroke_width=(np.broadcast_to(values["stroke_width"], each.shape), each))
    if "part" in values:
        made = replace(made, part=(np.broadcast_to(values["part"], each.shape), each))
    return made


def _matrices(cascade: Cascade, values: Values, share: Floats, units: Units, anchors: Floats) -> Floats:
    """The matrices of units (n, u, 3, 3) about their anchors: scaled, skewed, turned about z, y and x, seen from the
    distance, moved (CSS Transforms Level 2: `translate() perspective() rotateX() rotateY() rotateZ() skewX()
    scale()`)."""
    shape = share.shape

    def part(name: str, rest: float = 0.0) -> Floats:
        """A number of each unit."""
        return rest + (values[name] - rest) * share if name in values else np.full((1, 1), rest)

    def pair(name: str, rest: float = 0.0) -> Floats:
        if name not in values:
            return np.full((1, 1, 2), rest)
        return np.asarray(rest + (values[name][:, None] - rest) * share[:, :, None])

    (cx, sx), (cy, sy), (cz, sz) = (turn(part(name)) for name in ("turn_x", "turn_y", "turn_z"))
    wide, tall = np.moveaxis(pair("scale", 100.0) / 100.0, 2, 0)
    lean = np.tan(np.deg2rad(part("skew"))) * tall
    # Rx · Ry · Rz, of which z = 0 goes in.
    first = cy * cz, cx * sz + sx * sy * cz, sx * sz - cx * sy * cz
    second = -cy * sz, cx * cz - sx * sy * sz, sx * cz + cx * sy * sz
    along = [one * wide for one in first]
    down = [one * lean + other * tall for one, other in zip(first, second, strict=True)]
    away = 1.0 / values["distance"] if "distance" in values else np.zeros((1, 1))
    zero, one = np.zeros(shape), np.ones(shape)
    columns = [along[0], down[0], zero, along[1], down[1], zero, -along[2] * away, -down[2] * away, one]
    local = np.stack(np.broadcast_arrays(*columns), axis=-1).reshape(*shape, 3, 3)
    offset = pair("offset")
    if cascade.offset_in == "%":
        offset = offset / 100.0 * units.box[:, :, 2:]
    shift = np.stack(np.broadcast_arrays(offset[..., 0], offset[..., 1], zero), axis=-1)[..., :2]
    cos, sin = np.moveaxis(units.way, 2, 0)
    if (sin != 0).any() or (cos != 1).any():
        ways = np.stack([cos, -sin, 0 * cos, sin, cos, 0 * cos, 0 * cos, 0 * cos, 0 * cos + 1], axis=-1)
        ways = ways.reshape(*cos.shape, 3, 3)
        local = ways @ local @ np.swapaxes(ways, 2, 3)
        shift = np.stack(
            [cos * shift[..., 0] - sin * shift[..., 1], sin * shift[..., 0] + cos * shift[..., 1]], axis=-1
        )
    return np.asarray(_moved_by(anchors + shift) @ local @ _moved_by(-anchors))


def _moved_by(by: Floats) -> Floats:
    """Matrices (…, 3, 3) that move by (…, 2)."""
    found = np.zeros((*by.shape[:-1], 3, 3))
    found[..., 0, 0] = found[..., 1, 1] = found[..., 2, 2] = 1.0
    found[..., 0, 2], found[..., 1, 2] = by[..., 0], by[..., 1]
    return found


def _spaced(setting: Setting, gaps: Floats) -> Floats:
    """Matrices (n, g, 3, 3) that move letters aside by what stands behind those before them on their line, gaps (n, g)
    in ems; as the text is aligned."""
    frames, count = gaps.shape
    belongs = np.broadcast_to(setting.belongs, (frames, count, 3))
    x = np.broadcast_to(setting.places.reshape(-1, count, 2)[:, :, 0], (frames, count))
    seen = np.broadcast_to(setting.seen > 0, (frames, count))
    wide = gaps * setting.size
    moved = np.zeros((frames, count, 2))
    share = _aligned(setting)
    for row in range(frames):
        letter, line = belongs[row, :, 0], belongs[row, :, 2]
        for number in np.unique(line[seen[row]]):
            there = np.flatnonzero((line == number) & seen[row])
            order = there[np.argsort(x[row, there], kind="stable")]
            fresh = letter[order][1:] != letter[order][:-1]
            run = np.concatenate([[0.0], np.cumsum(np.where(fresh, wide[row, order][:-1], 0.0))])
            moved[row, order, 0] = run - share * run[-1]
    return _moved_by(moved)


def _aligned(setting: Setting) -> float:
    """Which share of what lines grow by stands at their left: that by which they are aligned."""
    box = setting.box[0]
    return float(np.clip(-box[0] / box[2], 0.0, 1.0)) if box[2] > 0 else 0.0
