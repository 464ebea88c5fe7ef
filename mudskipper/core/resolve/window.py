"""The window of a layer: what its masks and its crop leave of it, and how its content lies behind them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from ..document.framing import crop_ends, crop_values, framing_matrix, framing_values, window_of
from ..draw.inks import MaskInk
from ..geometry.bezier import Floats
from ..shapes.masked import common_box, mask_inks, masked_box

if TYPE_CHECKING:
    from collections.abc import Mapping

    from ..document.scene import Layer


@dataclass(frozen=True)
class Window:
    """left, top, width, height (1 | n, 4) of what is left of a layer; its masks and its crop as they are drawn; and the
    matrix (1 | n, 6) of the content behind them, None where it is not moved."""

    box: Floats
    masks: Sequence[MaskInk] = ()
    framed: Floats | None = None


def window_on(layer: Layer, values: Mapping[str, Floats], box: Floats) -> Window:
    """A layer's window, from the values of its tracks and the box of its content where it is not moved.

    The box does not follow the content behind the window: else a pinned anchor would move whenever that does.
    """
    if not layer.masks and layer.crop is None and layer.framing is None:
        return Window(box)
    masks = mask_inks(layer.masks, values)
    ends = masked_box(layer.masks, values)
    if layer.crop is not None:
        crop = crop_ends(crop_values(values))
        masks.append(window_of(crop))
        ends = np.concatenate([np.maximum(ends[:, :2], crop[:, :2]), np.minimum(ends[:, 2:], crop[:, 2:])], axis=1)
    if layer.framing is None:
        return Window(common_box(box, ends), masks)
    framed = framing_matrix(framing_values(values), box)
    if not masks:
        own = np.concatenate([box[:, :2], box[:, :2] + box[:, 2:]], axis=1)
        return Window(box, [window_of(own)], framed)
    # Without an end of its own the window ends where the content would.
    closed = np.where(np.isfinite(ends), ends, np.concatenate([box[:, :2], box[:, :2] + box[:, 2:]], axis=1))
    low = closed[:, :2]
    return Window(np.concatenate([low, np.maximum(closed[:, 2:] - low, 0.0)], axis=1), masks, framed)
