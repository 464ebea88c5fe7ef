"""The letters of a text as its cascades move them, painted."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import TYPE_CHECKING

import numpy as np

from ..draw.inks import Layering
from ..draw.pen import Pen
from ..effects.base import ResolvedEffect
from ..effects.soft_blur import SoftBlur
from ..geometry.bezier import Floats
from ..geometry.perspective import STILL, ZERO, fine, project, times
from ..geometry.values import Values
from ..shapes.gradient import Gradient
from ..text.fonts import is_layer
from ..text.layout import Places, Setting, bare
from ..text.letters import Letters, letters_of, matrices_of
from ..tracks.colour import ColourTrack
from .base import Around
from .cascade_gradients import Toward, becomes, mixed
from .cascade_letters import caret_of, on_axes, scrambled
from .cascade_moves import Moved, columns_of, spaced

if TYPE_CHECKING:
    from .text import Look, TextContent

MOST_BLURRED = 400
"""Units that are blurred each by itself; where there are more, none is."""


def draw_moved(pen: Pen, content: TextContent, setting: Setting, places: Moved, values: Values, around: Around) -> None:
    """Draw a text whose letters are moved: what is at rest as if it were not, what moves unit by unit."""
    # How they are painted goes by what the cascades may do, not by what they do at the frames that are asked for: each
    # frame is the same, whatever is asked for with it.
    other, places = _others(setting, places, around)
    deep = any(one.deep for one in content.cascades)
    apart = _blurs(content) or content.on_axes
    apart = apart or any(one.on and (one.axes or isinstance(one.fill, Gradient)) for one in content.cascades)
    looks, of = content.looks_of(other)
    coloured = any(map(is_layer, other.names))
    plain = all(look.stroke is None and (look.fill is None or isinstance(look.fill, ColourTrack)) for look in looks)
    if plain and not coloured and not apart:
        for number, look in enumerate(looks):
            slots = np.array([slot for slot in _in_turn(content, other) if of[slot] == number], dtype=np.intp)
            if look.fill is not None and len(slots):
                _plainly(pen, other, slots, values[f"{look.start}fill"], places, deep)
    else:
        _unit_by_unit(pen, content, setting, other, places, values, around, deep)
    for told in places.told:
        if told.cascade.caret and isinstance(content.fill, ColourTrack):
            points, there = caret_of(setting, told)
            with pen.group(Layering(visible=there)):
                pen.path("MLLLZ", points, values["fill"])


def _others(setting: Setting, places: Moved, around: Around) -> tuple[Setting, Moved]:
    """A text whose letters are others while they are moved, with how they are moved then."""
    for told in places.told:
        if told.cascade.axes:
            found = on_axes(setting, told)
            if found is not None:
                setting, wider = found
                aside = spaced(setting, wider)
                rest = places.rest & (aside[2] == 0)
                places = replace(places, matrices=times(aside, places.matrices), rest=rest)
    for told in places.told:
        if told.cascade.scramble:
            count = len(setting.names)
            setting, more = scrambled(setting, told, around.local)
            places = places.of(np.concatenate([np.arange(count), more]))
            break
    return setting, places


def _in_turn(content: TextContent, setting: Setting) -> list[int]:
    """In which order letters are painted: as they are read; where a text reflows by their glyphs, which is the same
    order whatever frames it is set for."""
    slots = list(range(len(setting.names)))
    if content.reflows:
        slots.sort(key=lambda slot: (bare(setting.names[slot]), int(setting.parts[slot])))
    return slots


def _blurs(content: TextContent) -> bool:
    """Whether units are blurred, each by itself."""
    some = any(one.on and one.blur is not None for one in content.cascades)
    return some and len(content.text) <= MOST_BLURRED


def _plainly(pen: Pen, setting: Setting, slots: Places, fill: Floats, places: Moved, deep: bool) -> None:
    """Letters of one colour: those at rest as one outline, the others one after another."""
    names = tuple(setting.names[slot] for slot in slots)
    rest = places.rest[:, slots]
    still = matrices_of(setting, slots) * rest[:, :, None]
    if rest.any():
        pen.glyphs(names, still.reshape(len(still), -1), fill)
    a, b, c, d, e, f = np.moveaxis(matrices_of(setting, slots), 2, 0)
    made = times(
        columns_of(places.matrices, slots), (a, c if c.any() else ZERO, e, b if b.any() else ZERO, d, f, *STILL[6:])
    )
    wanted = [made[at] for at in (range(9) if deep else (0, 3, 1, 4, 2, 5))]
    columns = np.empty((len(rest), len(slots), len(wanted)))
    for index, plane in enumerate(wanted):
        columns[:, :, index] = plane
    inks = np.broadcast_to(_fill(fill, slots, places), (len(columns), len(slots), 4)).copy()
    inks[:, :, 3] = np.rint(inks[:, :, 3] * places.opacity[:, slots] * ~rest)
    pen.glyphs(names, columns.reshape(len(columns), -1), inks.reshape(len(inks), -1))


def _fill(fill: Floats, slots: Places, places: Moved) -> Floats:
    """The colours of letters (1 | n, k, 4)."""
    found = fill[:, None]
    for toward in places.toward:
        found = np.rint(found + (toward.colours(slots) - found) * toward.share[:, slots, None])
    return found


def _unit_by_unit(
    pen: Pen, content: TextContent, at_rest: Setting, setting: Setting, places: Moved, values: Values,
    around: Around, deep: bool,
) -> None:  # fmt: skip
    """Whatever letters are painted with: at frames where all are at rest as if there were no cascade, at others each
    unit as a group of its own."""
    # Outlines in one piece differ from place to place on an axis, and from one to another none is drawn.
    drawn = letters_of(setting, content.has_strokes and not any(one.axes for one in content.cascades))
    still = places.rest.all(axis=1, keepdims=True)
    if still.any():
        with pen.group(Layering(visible=np.asarray(1.0 * still))):
            content.draw_some(pen, at_rest, np.arange(len(at_rest.names)), values, around)
    groups: dict[int, list[int]] = {}
    for slot in _in_turn(content, setting):
        # Of a text that reflows a glyph is of one letter here and of another there.
        groups.setdefault(slot if content.reflows else int(setting.belongs[0, slot, 0]), []).append(slot)
    blurred = _blurs(content)
    looks, of = content.looks_of(setting)
    painted = _painted(content, places.toward) if places.toward else content
    for listed in groups.values():
        slots = np.array(listed, dtype=np.intp)
        first = listed[0]
        own = values_at(looks, [int(number) for number in of[slots]], first, values, places)
        effects = []
        if blurred and places.blur is not None and places.blur[:, first].any():
            amount = np.repeat(np.broadcast_to(places.blur[:, first : first + 1], still.shape), 2, axis=1)
            effects = [ResolvedEffect(SoftBlur(), {"amount": amount})]
        planes = columns_of(places.matrices, slice(first, first + 1))
        matrix = np.concatenate([np.broadcast_to(plane, still.shape) for plane in planes], axis=1)
        layering = Layering(
            opacity=np.rint(255.0 * places.opacity[:, first : first + 1]), visible=np.asarray(1.0 * ~still),
            effects=effects,
        )  # fmt: skip
        if not deep:
            layering = replace(layering, matrix=matrix[:, [0, 3, 1, 4, 2, 5]])
            with pen.group(layering):
                painted.draw_some(pen, setting, slots, own, around, drawn)
        else:
            with pen.group(layering):
                painted.draw_some(pen, setting, slots, own, around, bent(drawn, slots, matrix), outlined=True)


def _painted(content: TextContent, towards: Sequence[Toward]) -> TextContent:
    """A text with the kinds of paint that its letters have on their way from one."""
    fill = content.fill and becomes(content.fill, towards)
    parts = tuple(
        part if part.fill is None else part.model_copy(update={"fill": becomes(part.fill, towards)})
        for part in content.parts
    )
    return content.model_copy(update={"fill": fill, "parts": parts})


def values_at(looks: Sequence[Look], of: Sequence[int], first: int, values: Values, places: Moved) -> Values:
    """The values of a text as some of its letters, of the looks `of`, have them on their way, the `first` as all: fill
    and stroke."""
    made = dict(values)
    for look in [looks[number] for number in dict.fromkeys(of)] if places.toward else []:
        if look.fill is not None:
            made |= mixed(look.fill, values, f"{look.start}fill", places.toward, first)
    look = looks[of[0]]
    if look.stroke is not None:
        for name, told, rest in (("width", places.stroke_width, None), ("part.end", places.part, 100.0)):
            path = f"{look.line_start}stroke.{name}"
            if not told or path not in values:
                continue
            now = values[path] if rest is None else np.full((1, 1), rest)
            for to, share in told:
                now = now + (to[:, first : first + 1] - now) * share[:, first : first + 1]
            made[path] = now
    return made


def bent(drawn: Letters, slots: Places, matrix: Floats) -> Letters:
    """Outlines of which some letters are seen in perspective, through matrices (n, 9)."""
    verbs, points = list(drawn.verbs), list(drawn.points)
    nine = matrix[:, None]
    for slot in slots.tolist():
        verbs[slot], cut = fine(drawn.verbs[slot], drawn.points[slot])
        there = project(nine, cut.reshape(len(cut), -1, 2))
        points[slot] = there.reshape(len(there), -1)
    return Letters(tuple(verbs), tuple(points))
