"""Where the letters of a text are moved by its cascades, and how else they look meanwhile."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from ..easings.batch import ease_at
from ..formulas.random_numbers import hashed
from ..geometry.bezier import Floats
from ..geometry.perspective import ONE, STILL, ZERO, Planes, in_plane, minus, moved_by, times
from ..geometry.transform import turn
from ..geometry.values import Values, within
from ..text.layout import Places, Setting
from .base import UnitOf
from .cascade import Cascade, Choice
from .cascade_gradients import Toward
from .cascade_letters import Told
from .cascade_times import amounts, begins, places_in
from .cascade_units import Units, UnitsOf, anchors_of, units_of

OfUnits = Callable[[str, Sequence[UnitOf]], Floats | None]
"""Gives a value of a cascade, by its path in the content, for each of its units (n, u, d)."""


@dataclass(frozen=True)
class Moved:
    """Letters (n, g) under matrices of the text's pixels (`geometry.perspective`), by how much they are to be seen
    (0…1), and which of them are at rest. Where any cascade says so: their `blur` in pixels, the paints that they are
    on the way `toward`, how much of a stroke's width and of its drawn part they have of that which `stroke_width` and
    `part` (n, g) are. `told` are those by which letters are others meanwhile, or have a caret."""

    matrices: Planes
    opacity: Floats
    rest: NDArray[np.bool_]
    blur: Floats | None = None
    toward: tuple[Toward, ...] = ()
    stroke_width: tuple[tuple[Floats, Floats], ...] = ()
    part: tuple[tuple[Floats, Floats], ...] = ()
    told: tuple[Told, ...] = ()

    def of(self, slots: Places) -> Moved:
        """Of other letters, by the numbers of those that they are moved as."""

        def some(column: Floats | None) -> Floats | None:
            return None if column is None else column[:, slots]

        return replace(
            self, matrices=columns_of(self.matrices, slots), opacity=self.opacity[:, slots], rest=self.rest[:, slots],
            blur=some(self.blur), toward=tuple(one.to(slots) for one in self.toward),
            stroke_width=tuple((to[:, slots], share[:, slots]) for to, share in self.stroke_width),
            part=tuple((to[:, slots], share[:, slots]) for to, share in self.part),
        )  # fmt: skip


def moved(
    setting: Setting, cascades: Sequence[Cascade], values: Values, local: Floats, of_units: OfUnits | None = None
) -> Moved | None:
    """Letters as cascades move them at frames from the start of their layer (n,); None where all are at rest at all of
    them. `values` are those of the cascades' tracks by their paths: `0.offset`; `of_units` gives those that are another
    for each unit."""
    frames, count = len(local), len(setting.names)
    found = Moved(STILL, np.ones((1, 1)), np.ones((frames, count), dtype=bool))
    for index, cascade in enumerate(cascades):
        if not cascade.on:
            continue
        own = dict(within(values, f"{index}."))
        units = units_of(setting, cascade.unit)
        share, far = _shares(cascade, units, local)
        if of_units is not None:
            own |= _of_each(cascade, index, own, units, of_units)
        if share.any():
            found = _with(found, cascade, own, setting, units, share)
        if cascade.axes or cascade.scramble or cascade.caret:
            told = Told(cascade, own, units, units.each(share), units.each(far))
            found = replace(found, told=(*found.told, told))
    if found.rest.all() and not any(one.cascade.caret for one in found.told):
        return None
    shape = (frames, count)
    # What goes past rest, or past the values, is no more than seen, and no less than sharp.
    blur = None if found.blur is None else np.maximum(found.blur, 0.0)
    return replace(found, opacity=np.broadcast_to(np.clip(found.opacity, 0.0, 1.0), shape), blur=blur)


@dataclass(frozen=True)
class Unit:
    """A unit as the formulas of its cascade read it (`contents.base.UnitOf`)."""

    index: int
    count: int
    box: Floats
    cascade: Cascade
    begins: Floats

    def progress(self, local: Floats) -> Floats:
        """How far it is on its way, 0…1, at frames (n,) counted from the layer's start."""
        since = local - (self.begins if len(self.begins) in (1, len(local)) else self.begins[:1])
        each = self.cascade.each
        return np.clip(since / each, 0.0, 1.0) if each > 0 else (since >= 0).astype(np.float64)


def _of_each(cascade: Cascade, index: int, own: Values, units: Units, of_units: OfUnits) -> dict[str, Floats]:
    """The values that formulas make others for each unit (n, u, d)."""
    places, steps = places_of(cascade, units)
    when, most = begins(cascade, places, steps), units.first.shape[1]
    count = int(units.count.max(initial=0))
    each = [Unit(at, count, units.box[:, at], cascade, when[:, at]) for at in range(most)]
    found = {name: of_units(f"cascades.{index}.{name}", each) for name in own}
    return {name: value for name, value in found.items() if value is not None}


def _plane(values: Values, name: str, axis: int = 0) -> Floats:
    """A number of each unit (1 | n, 1 | u) of a value that is one for all, or another one for each."""
    value = values[name]
    return value[:, :, axis] if value.ndim == 3 else value[:, axis : axis + 1]


def places_of(cascade: Cascade, units: Units) -> tuple[Floats, Floats]:
    """Where in the order of a cascade units stand (1 | n, u), 0…1, and how many gaps are between the first of them and
    the last (1 | n,)."""
    most = units.first.shape[1]
    lines, far = units.line, None
    if cascade.order == "by distance":
        away = units.anchors("centre", (0.0, 0.0)) - np.array(cascade.point)
        far = np.hypot(away[:, :, 0], away[:, :, 1])
    places = places_in(cascade.order, units.count, cascade.seed, most, lines, far)
    steps = units.count - 1.0
    if cascade.order == "each line":
        steps = np.array([np.bincount(one).max() - 1.0 for one in lines])
    return places, np.maximum(steps, 0.0)


def _shares(cascade: Cascade, units: Units, local: Floats) -> tuple[Floats, Floats]:
    """How much of its values each unit has (n, u), and how far it is on its way."""
    places, steps = places_of(cascade, units)
    share, far_on = amounts(cascade, places, steps, local)
    if cascade.choice is not None:
        share = share * chosen(cascade.choice, units)
    return share, far_on


def chosen(choice: Choice, units: Units) -> Floats:
    """How strongly each unit takes part (1 | n, u)."""
    if choice.part is not None:
        return units.of_part(choice.part)
    if choice.picked is not None:
        return np.isin(np.arange(units.first.shape[1]), choice.picked).astype(np.float64)[None]
    letter = units.letter.astype(np.float64)
    stop = units.letters if choice.stop is None else np.minimum(choice.stop, units.letters)
    inside = (letter >= choice.start) & (letter < stop)
    edges = [
        np.clip((way + 1.0) / (soft + 1.0), 0.0, 1.0)
        for way, soft in ((letter - choice.start, choice.soft_start), (stop - 1.0 - letter, choice.soft_stop))
    ]
    strength = np.minimum(*(ease_at(choice.curve, edge.reshape(-1)).reshape(edge.shape) for edge in edges))
    return np.asarray(strength * inside)


def _with(before: Moved, cascade: Cascade, values: Values, setting: Setting, units: Units, share: Floats) -> Moved:
    """With another cascade on top, of whose values units have these shares (n, u)."""

    def number(name: str, axis: int = 0) -> Floats:
        """A value of each letter (1 | n, 1 | g)."""
        return units.each_plane(_plane(values, name, axis))

    each = units.each(share)
    matrices, rest = before.matrices, before.rest & (each == 0)
    if any(name in values for name in ("offset", "scale", "turn_x", "turn_y", "turn_z", "skew")):
        own = _matrices(cascade, values, share, units, anchors_of(cascade, units, lambda unit: units_of(setting, unit)))
        matrices = times(tuple(map(units.each_plane, own)), matrices)
    if "tracking" in values:
        aside = spaced(setting, each * number("tracking") / 1000.0)
        matrices, rest = times(aside, matrices), rest & (aside[2] == 0)
    opacity = before.opacity
    if "opacity" in values:
        opacity = opacity * (1.0 + (number("opacity") / 100.0 - 1.0) * each)
    made = replace(before, matrices=matrices, opacity=opacity, rest=rest)
    if "blur" in values:
        made = replace(made, blur=(0.0 if made.blur is None else made.blur) + number("blur") * each)
    if cascade.fill is not None:
        paint = {"": values["fill"]} if "fill" in values else dict(within(values, "fill."))
        made = replace(made, toward=(*made.toward, Toward(cascade.fill, paint, np.clip(each, 0.0, 1.0), units.of)))
    if "stroke_width" in values:
        to = np.broadcast_to(number("stroke_width"), each.shape)
        made = replace(made, stroke_width=(*made.stroke_width, (to, each)))
    if "part" in values:
        made = replace(made, part=(*made.part, (np.broadcast_to(number("part"), each.shape), each)))
    return made


def _matrices(cascade: Cascade, values: Values, share: Floats, units: Units, anchors: Floats) -> Planes:
    """The matrices of units (n, u) about their anchors: scaled, skewed, turned about z, y and x, seen from the
    distance, moved (CSS Transforms Level 2: `translate() perspective() rotateX() rotateY() rotateZ() skewX()
    scale()`)."""

    def part(name: str, rest: float) -> Floats:
        """A number of each unit."""
        return rest + (_plane(values, name) - rest) * share

    def own(channel: int) -> Floats:
        """What a unit's offset or turn is multiplied by (1, u)."""
        if not cascade.scatter:
            return ONE
        drawn = 2.0 * hashed(np.arange(float(share.shape[1])), np.array([float(cascade.seed)]), channel) - 1.0
        return np.asarray(1.0 + (drawn - 1.0) * cascade.scatter / 100.0)[None]

    def turned(name: str) -> tuple[Floats, Floats]:
        """cos and sin of a turn."""
        return turn(own(ord(name[-1])) * part(name, 0.0)) if name in values else (ONE, ZERO)

    def pair(name: str, rest: float) -> tuple[Floats, Floats]:
        if name not in values:
            return (ONE, ONE) if rest else (ZERO, ZERO)
        by = rest or 1.0
        x, y = ((rest + (_plane(values, name, i) - rest) * share) / by for i in (0, 1))
        return x, y

    (cx, sx), (cy, sy), (cz, sz) = (turned(name) for name in ("turn_x", "turn_y", "turn_z"))
    wide, tall = pair("scale", 100.0)
    # Rx · Ry · Rz · the skew · the scale, of which z = 0 goes in; only x and y of it are there without a distance.
    spins = times(
        (ONE, ZERO, ZERO, ZERO, cx, minus(sx), ZERO, sx, cx), (cy, ZERO, sy, ZERO, ONE, ZERO, minus(sy), ZERO, cy)
    )
    lean = np.tan(np.deg2rad(part("skew", 0.0))) if "skew" in values else ZERO
    for one in (in_plane(cz, minus(sz), sz, cz), in_plane(ONE, lean, ZERO, ONE), in_plane(wide, ZERO, ZERO, tall)):
        spins = times(spins, one)
    away = -1.0 / _plane(values, "distance") if "distance" in values else ZERO
    (near_x, near_y) = times(in_plane(away, ZERO, ZERO, ONE), in_plane(spins[6], spins[7], ZERO, ONE))[:2]
    local: Planes = (spins[0], spins[1], ZERO, spins[3], spins[4], ZERO, near_x, near_y, ONE)
    dx, dy = pair("offset", 0.0)
    if dx is not ZERO:
        dx, dy = own(1) * dx, own(2) * dy
    if cascade.offset_in == "%":
        dx, dy = dx / 100.0 * units.box[:, :, 2], dy / 100.0 * units.box[:, :, 3]
    cos, sin = np.moveaxis(units.way, 2, 0)
    if (sin != 0).any() or (cos != 1).any():
        local = times(times(in_plane(cos, -sin, sin, cos), local), in_plane(cos, sin, -sin, cos))
        dx, dy = cos * dx - sin * dy, sin * dx + cos * dy
    x, y = anchors[..., 0], anchors[..., 1]
    return times(moved_by(x + dx, y + dy), times(local, moved_by(-x, -y)))


def items_moved(
    units_by: UnitsOf, cascades: Sequence[Cascade], values: Values, local: Floats, of_units: OfUnits
) -> Moved:
    """Items as cascades move them at frames from the start of their layer (n,), in the pixels of what they lie in."""
    shape = (len(local), units_by("item").first.shape[1])
    matrices, opacity, blur, rest = STILL, np.ones(shape), None, np.ones(shape, dtype=bool)
    for index, cascade in enumerate(cascades):
        if not cascade.on:
            continue
        own = dict(within(values, f"{index}."))
        units = units_by(cascade.unit)
        own |= _of_each(cascade, index, own, units, of_units)
        share, _ = _shares(cascade, units, local)
        each = units.each(share)
        rest = rest & (each == 0)
        moves = _matrices(cascade, own, share, units, anchors_of(cascade, units, units_by))
        matrices = times(tuple(map(units.each_plane, moves)), matrices)
        if "opacity" in own:
            opacity = opacity * (1.0 + (units.each_plane(_plane(own, "opacity")) / 100.0 - 1.0) * each)
        if "blur" in own:
            blur = (0.0 if blur is None else blur) + units.each_plane(_plane(own, "blur")) * each
    return Moved(matrices, np.clip(opacity, 0.0, 1.0), rest, None if blur is None else np.maximum(blur, 0.0))


def columns_of(matrices: Planes, slots: Places | slice) -> Planes:
    """The matrices of some letters."""
    return tuple(plane[:, slots] if plane.shape[1] > 1 else plane for plane in matrices)


def spaced(setting: Setting, gaps: Floats) -> Planes:
    """Matrices (n, g) that move letters aside by what stands behind those before them on their line, gaps (n, g)
    in ems; as the text is aligned."""
    frames, count = gaps.shape
    belongs = np.broadcast_to(setting.belongs, (frames, count, 3))
    x = np.broadcast_to(setting.places.reshape(-1, count, 2)[:, :, 0], (frames, count))
    seen = np.broadcast_to(setting.seen > 0, (frames, count))
    wide = gaps * setting.size
    moved = np.zeros((frames, count))
    along = setting.turns is not None and setting.baselines.size > 0
    share = np.broadcast_to(_aligned(setting), (frames,))
    for row in range(frames):
        letter, line = belongs[row, :, 0], belongs[row, :, 2]
        for number in np.unique(line[seen[row]]):
            there = np.flatnonzero((line == number) & seen[row])
            order = there[np.argsort((letter if along else x[row])[there], kind="stable")]
            fresh = letter[order][1:] != letter[order][:-1]
            run = np.concatenate([[0.0], np.cumsum(np.where(fresh, wide[row, order][:-1], 0.0))])
            moved[row, order] = run - share[row] * run[-1]
    return moved_by(moved, ZERO)


def _aligned(setting: Setting) -> Floats:
    """Which share (1 | n,) of what lines grow by stands at their left: that by which they are aligned."""
    left, wide = setting.box[:, 0], setting.box[:, 2]
    return np.clip(np.where(wide > 0, -left / np.maximum(wide, 1e-9), 0.0), 0.0, 1.0)
