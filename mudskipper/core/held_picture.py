"""A layer whose content was changed, its picture where it was.

A pinned anchor goes along with the box, and the position places the anchor: what changes the box from within would move
all the rest. Where nothing of the layer's own is keyed and the box stands still, the position makes up for it, and the
anchor stays pinned; else the anchor is fixed at the content pixels where it is.
"""

from __future__ import annotations

import numpy as np

from . import position_keys as position_of
from .anchor_moves import converted
from .context import Context
from .scene import Layer
from .transform import linear_part

MOST_FRAMES = 2_000
"""Beyond them a longer span is looked at in steps."""


def held(before: Layer, after: Layer, context: Context) -> tuple[Layer, str]:
    """The layer as changed, but at the place where it was, and a sentence where its anchor had to be fixed for it."""
    if not before.anchor.pinned or before.anchor is not after.anchor:
        return after, ""
    frames = np.arange(before.span.start, before.span.end, max(1, before.span.length // MOST_FRAMES), dtype=np.float64)
    old, new = context.resolve([before, after], frames)
    if old.box.shape == new.box.shape and np.array_equal(old.box, new.box):
        return after, ""
    moving = (before.anchor, *position_of.parts_of(before).values(), before.scale, before.rotation)
    if len(old.box) == len(new.box) == 1 and not any(track.keys for track in moving):
        linear = linear_part(old.values["scale"], old.values["rotation"][:, 0])[0]
        return position_of.shifted(after, linear @ (new.anchor[0] - old.anchor[0])), ""
    fixed = converted(before, False, context)
    said = f"The anchor of '{after.name}' is fixed now, so that it stays where it is while what it shows changes."
    return after.model_copy(update={"anchor": fixed.anchor}), said
