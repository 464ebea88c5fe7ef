"""The cascades of a layer as an interface shows them: their times, their units, and where the anchors of these are."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..contents.cascade_moves import chosen, places_of
from ..contents.cascade_times import begins, times_of
from ..contents.cascade_units import anchors_of
from ..document.scene import Layer
from .context import Context

MOST_TOLD = 600
"""Units of a cascade that are told one by one."""


def cascades_at(layer: Layer, frame: float, context: Context) -> list[dict[str, Any]]:
    """Each cascade of a layer at a scene frame: how many units it has, its `stagger`, `overlap` (None where all move at
    once) and `total` in frames, and of each unit, in reading order, when it `begins`, in frames from the layer's start,
    its `place` in the order, its box (left, top, width, height) and its anchor in the layer's pixels, and how strongly
    it takes part."""
    one = context.one(layer, frame)
    letters = layer.content.set_out(one.inner, context.around(layer, np.array([float(frame)])))
    if letters is None:
        return []
    units_by, cascades = letters
    found = []
    for cascade in cascades:
        units = units_by(cascade.unit)
        count = int(units.count[0])
        told: list[dict[str, Any]] = []
        steps = max(count - 1, 0)
        if count:
            places, gaps = places_of(cascade, units)
            steps = int(gaps[0])
            when = begins(cascade, places, gaps)
            strength = np.ones((1, 1)) if cascade.choice is None else chosen(cascade.choice, units)
            strength = np.broadcast_to(strength, (1, units.first.shape[1]))
            anchors = np.broadcast_to(anchors_of(cascade, units, units_by), (1, units.first.shape[1], 2))
            left, top, width, height = np.moveaxis(units.box, 2, 0)
            ends = [units.placed(np.stack(one, axis=2)) for one in ((left, top), (left + width, top + height))]
            for index in range(min(count, MOST_TOLD)):
                (ax, ay), (bx, by) = ends[0][0, index].tolist(), ends[1][0, index].tolist()
                told.append(
                    {
                        "begins": float(when[0, index]), "place": float(places[0, index]),
                        "box": (min(ax, bx), min(ay, by), abs(bx - ax), abs(by - ay)),
                        "anchor": tuple(anchors[0, index].tolist()), "strength": float(strength[0, index]),
                    }
                )  # fmt: skip
        stagger, overlap, total = times_of(cascade, steps + 1)
        finite = None if np.isinf(overlap) else overlap
        found.append({"count": count, "stagger": stagger, "overlap": finite, "total": total, "units": told})
    return found
