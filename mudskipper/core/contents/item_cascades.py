"""Items, copies of them, or the layers of a scene, as cascades move them, painted."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from functools import partial

import numpy as np

from ..draw.bent import Bent
from ..draw.inks import Layering
from ..draw.pen import Pen
from ..effects.base import ResolvedEffect
from ..effects.soft_blur import SoftBlur
from ..geometry.bezier import Floats
from ..geometry.perspective import near
from ..geometry.values import Values, within
from ..shapes.several import Laid
from .base import Around
from .cascade import Cascade
from .cascade_moves import Moved, items_moved
from .cascade_units import Units, UnitsOf, items_as_units, whole_of

DrawLaid = Callable[[Pen, Sequence[Laid]], None]
"""Draws all units on a pen, each laid so; none says that they stand where they are."""


def set_out_items(boxes: Floats, cascades: tuple[Cascade, ...]) -> tuple[UnitsOf, tuple[Cascade, ...]]:
    """Units of boxes (1 | n, u, 4), and the cascades that move them; all of them as one whole, line or word."""
    units = items_as_units(boxes)
    return (lambda unit: whole_of(units) if unit in ("whole", "line", "word") else units), cascades


def units_moved(letters: tuple[UnitsOf, tuple[Cascade, ...]], values: Values, around: Around) -> Moved:
    """Units as cascades move them, by the values of their content."""
    return items_moved(*letters, within(values, "cascades."), around.local, around.of_units)


def draw_units(pen: Pen, places: Moved, units: Units, deep: bool, bend: bool, draw: DrawLaid) -> None:
    """Draw units where they are moved to, seen in perspective where `deep`; what cannot be bent lies as its middle is
    seen."""
    if not deep or not bend:
        draw(pen, [_laid(places, unit, units, deep, None) for unit in range(places.opacity.shape[1])])
        return
    # At rest nothing is cut into pieces.
    still = places.rest.all(axis=1, keepdims=True)
    if still.any():
        with pen.group(Layering(visible=np.asarray(1.0 * still))):
            draw(pen, ())
    if not still.all():
        with pen.group(Layering(visible=np.asarray(1.0 * ~still))):
            draw(pen, [_laid(places, unit, units, True, Bent) for unit in range(places.opacity.shape[1])])


def _laid(places: Moved, unit: int, units: Units, deep: bool, bend: Callable[..., Pen] | None) -> Laid:
    shape = places.opacity.shape
    planes = [np.broadcast_to(plane, shape)[:, unit : unit + 1] for plane in places.matrices]
    effects = []
    if places.blur is not None and places.blur[:, unit].any():
        amount = np.repeat(np.broadcast_to(places.blur, shape)[:, unit : unit + 1], 2, axis=1)
        effects = [ResolvedEffect(SoftBlur(), {"amount": amount})]
    layering = Layering(opacity=np.rint(255.0 * places.opacity[:, unit : unit + 1]), effects=effects)
    nine = np.concatenate(planes, axis=1)
    point = units.anchors("centre", (0.0, 0.0))[:, unit]
    if bend is None:
        matrix = near(nine, point) if deep else nine[:, [0, 3, 1, 4, 2, 5]]
        layering = Layering(matrix, layering.opacity, effects=effects)
    return partial(_on, layering, None if bend is None else lambda pen: bend(pen, nine, point))


@contextmanager
def _on(layering: Layering, bent: Callable[[Pen], Pen] | None, pen: Pen) -> Iterator[Pen]:
    with pen.group(layering):
        yield pen if bent is None else bent(pen)
