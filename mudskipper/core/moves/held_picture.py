"""A layer whose content was changed, its picture where it was.

A pinned anchor goes along with the box, and the position places the anchor: what changes the box from within would move
all the rest. Where nothing of the layer's own moves and the box stands still, the position makes up for it, and the
anchor stays pinned where it was in the box. Where other things than the anchor move, it is pinned elsewhere in the box,
at the pixels where it is; else it is fixed there.
"""

from __future__ import annotations

import numpy as np

from ..document.scene import Layer
from ..geometry.bezier import Floats
from ..geometry.fewest_keys import fitted_keys, plain_value
from ..geometry.transform import linear_part
from ..resolve.context import Context
from ..resolve.layers import ResolvedLayer
from ..tracks.kinds import PairTrack
from . import position_keys as position_of
from .anchor_moves import converted

NEAR = 1e-9
"""Pixels."""
ABOUT = 1e-3
"""Percent of a box by which the point may be off about which content is framed."""
MOST_FRAMES = 2_000
"""Beyond them a longer span is looked at in steps."""


def held(before: Layer, after: Layer, context: Context) -> tuple[Layer, str]:
    """The layer as changed, but at the place where it was, and a sentence where its anchor had to be fixed for it.

    What its own formulas make of its new box they go on making: that is what they say."""
    frames = np.arange(before.span.start, before.span.end, max(1, before.span.length // MOST_FRAMES), dtype=np.float64)
    if before.framing is not None and after.framing is before.framing:
        after = _framed_as_before(before, after, frames, context)
    if not before.anchor.pinned or before.anchor is not after.anchor:
        return after, ""
    old, new = context.resolve([before, after], frames)
    if _stays(old, new):
        return after, ""
    moving = (before.anchor, *position_of.parts_of(before).values(), before.scale, before.rotation)
    if len(old.box) == len(new.box) == 1 and not any(track.moves for track in moving):
        linear = linear_part(old.values["scale"], old.values["rotation"][:, 0])[0]
        return position_of.shifted(after, linear @ (new.anchor[0] - old.anchor[0])), ""
    place, size = old.anchor[0], new.box[0, 2:]
    if len(old.anchor) == len(new.box) == 1 and not before.anchor.moves and (size > 0).all():
        x, y = (place - new.box[0, :2]) / size
        return after.model_copy(update={"anchor": before.anchor.model_copy(update={"rest": (float(x), float(y))})}), ""
    fixed = converted(before, False, context)
    said = f"The anchor of '{after.name}' is fixed now, so that it stays where it is while what it shows changes."
    return after.model_copy(update={"anchor": fixed.anchor}), said


def _framed_as_before(before: Layer, after: Layer, frames: Floats, context: Context) -> Layer:
    """The layer as changed, its content framed about the pixels about which it was: these are a share of its box."""
    framing = after.framing
    assert framing is not None
    old, new = context.resolve([before, after], frames)
    box, now = old.content_box, new.content_box
    if (box.shape == now.shape and np.allclose(box, now, rtol=0, atol=NEAR)) or (now[:, 2:] == 0).any():
        return after
    point = box[:, :2] + box[:, 2:] * old.values["framing.about"] / 100.0
    share = (point - now[:, :2]) / now[:, 2:] * 100.0
    if len(share) == 1:
        about = PairTrack(rest=plain_value(share[0]))
    else:
        keys = fitted_keys(frames - before.span.start, share, ABOUT)
        about = PairTrack.model_validate({"rest": keys[0]["value"], "keys": keys if len(keys) > 1 else ()})
    return after.model_copy(update={"framing": framing.model_copy(update={"about": about})})


def _stays(old: ResolvedLayer, new: ResolvedLayer) -> bool:
    """Whether the anchor stays in place in the content at every frame."""
    return old.anchor.shape == new.anchor.shape and bool(np.allclose(old.anchor, new.anchor, rtol=0, atol=NEAR))
