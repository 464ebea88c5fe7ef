"""The gradients of cascades: what letters are painted with while their colours are on the way from one."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..geometry.bezier import Floats
from ..geometry.values import Values, within
from ..shapes.gradient import Gradient
from ..text.layout import Places
from ..tracks.colour import ColourTrack

Fill = ColourTrack | Gradient


@dataclass(frozen=True)
class Toward:
    """A paint that letters have a share of (n, g), by its values: those of a colour (1 | n, 4), or of a gradient by
    their names; another for each unit (n, u, d) by the numbers `of` their units (1 | n, g)."""

    paint: Fill
    values: Values
    share: Floats
    of: Places

    def to(self, slots: Places) -> Toward:
        """Of other letters, by the numbers of those that they are painted as."""
        return replace(self, share=self.share[:, slots], of=self.of[:, slots])

    def own(self, slot: int) -> dict[str, Floats]:
        """The values of a letter (1 | n, d)."""
        found = {}
        for name, value in self.values.items():
            if value.ndim == 3:
                rows = max(len(value), len(self.of))
                of = np.broadcast_to(self.of, (rows, self.of.shape[1]))[:, slot]
                value = np.broadcast_to(value, (rows, *value.shape[1:]))[np.arange(rows), of]
            found[name] = value
        return found

    def colours(self, slots: Places) -> Floats:
        """The colours of letters (1 | n, 1 | k, 4), where it is one."""
        value = self.values[""]
        if value.ndim < 3:
            return value[:, None]
        rows = max(len(value), len(self.of))
        of = np.broadcast_to(self.of, (rows, self.of.shape[1]))[:, slots]
        return np.asarray(np.broadcast_to(value, (rows, *value.shape[1:]))[np.arange(rows)[:, None], of])


def becomes(rest: Fill, towards: Sequence[Toward]) -> Fill:
    """What a letter is painted with on its way between a paint and others: the first gradient among them, or the colour
    that it has at rest."""
    paints = [rest, *(one.paint for one in towards)]
    return next((paint for paint in paints if isinstance(paint, Gradient)), rest)


def mixed(rest: Fill, values: Values, name: str, towards: Sequence[Toward], slot: int) -> dict[str, Floats]:
    """The values of what a letter `becomes`, by the paths of the fill `name`: of each paint in turn as much as the
    letter has of it; `values` are those at rest."""
    now, own = rest, dict(values) if isinstance(rest, ColourTrack) else _named(within(values, f"{name}."), name)
    for toward in towards:
        share, to = toward.share[:, slot : slot + 1], toward.own(slot)
        if isinstance(now, Gradient):
            for index in range(len(now.stops)):
                path = f"{name}.stops.{index}.colour"
                plain = isinstance(toward.paint, ColourTrack)
                own[path] = _mix(own[path], to[""] if plain else _colour_at(to, own[f"{name}.stops.{index}.at"]), share)
        elif isinstance(toward.paint, ColourTrack):
            own[name] = _mix(own[name], to[""], share)
        else:
            colour, now = own[name], toward.paint
            own |= _named(to, name)
            for index in range(len(now.stops)):
                path = f"{name}.stops.{index}.colour"
                own[path] = _mix(colour, own[path], share)
    return own


def _named(values: Values, name: str) -> dict[str, Floats]:
    return {f"{name}.{path}": value for path, value in values.items()}


def _mix(rest: Floats, to: Floats, share: Floats) -> Floats:
    return np.rint(rest + (to - rest) * share)


def _colour_at(values: Values, place: Floats) -> Floats:
    """The colour (1 | n, 4) of a gradient at a place along it (1 | n, 1), in percent."""
    count = sum(1 for name in values if name.endswith(".at"))
    ats = [values[f"stops.{index}.at"] for index in range(count)]
    colours = [values[f"stops.{index}.colour"] for index in range(count)]
    found = colours[0]
    for before, after, first, second in zip(ats, ats[1:], colours, colours[1:], strict=False):
        share = np.clip((place - before) / np.maximum(after - before, 1e-9), 0.0, 1.0)
        found = np.where(place >= before, first + (second - first) * share, found)
    return np.asarray(found)
