"""A card that flips."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from ..geometry.bezier import Floats
from ..geometry.transform import turn
from ..ground.shown import Shown
from ..tracks.kinds import NumberTrack, PairTrack
from .base import Acts, Beneath, Values
from .on_sheet import CENTRE, MIDDLE
from .warp import CORNERS, FURTHEST, Warp


class PerspectiveTurn(Warp):
    """Turned about x and y through a point, seen from a distance, as CSS turns a card (`perspective() rotateX()
    rotateY()`): what comes nearer than a twentieth of it is not seen."""

    label: ClassVar[str] = "perspective turn"
    words: ClassVar[str] = "flip, card, 3d, tilt"
    points: ClassVar[tuple[str, ...]] = ("centre",)

    effect: Literal["perspective-turn"] = "perspective-turn"
    about_x: Annotated[NumberTrack, Shown("Turn about x", "°")] = NumberTrack(rest=0.0)
    about_y: Annotated[NumberTrack, Shown("Turn about y", "°")] = NumberTrack(rest=40.0)
    distance: Annotated[NumberTrack, Shown("Distance", "px", low=1, high=1_000_000, what="a distance in pixels")] = (
        NumberTrack(rest=900.0)
    )
    centre: Annotated[PairTrack, CENTRE] = MIDDLE

    def acts(self, values: Values) -> Acts:
        return np.asarray((values["about_x"] % 360.0 != 0) | (values["about_y"] % 360.0 != 0))

    def corners(self, values: Values, beneath: Beneath) -> Floats:
        centre = beneath.at(values["centre"])[:, None]
        box = beneath.box[:, None]
        away = box[..., :2] + box[..., 2:] * CORNERS - centre
        (cx, sx), (cy, sy) = (turn(values[name]) for name in ("about_x", "about_y"))
        x, y = away[..., 0], away[..., 1]
        # rotateX(rotateY(x, y, 0)).
        across, back = cy * x, -sy * x
        down, near = cx * y - sx * back, sx * y + cx * back
        share = 1.0 / np.maximum(1.0 - near / values["distance"], 0.05)
        return np.asarray(np.clip(centre + np.stack([across * share, down * share], axis=-1), -FURTHEST, FURTHEST))
