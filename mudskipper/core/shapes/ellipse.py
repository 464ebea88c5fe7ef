"""An ellipse, or a part of one: a pie, a ring, an arc."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from ..draw.outlines import arc, rounded
from ..geometry.bezier import Floats
from ..geometry.values import Values
from ..ground.shown import Shown
from ..tracks.kinds import NumberTrack
from .base import SizedItem

WHOLE = 360.0


class Ellipse(SizedItem):
    """An ellipse that fills its size, or the part of it that `sweep` degrees from `start` take, clockwise from the top.

    `hole` is the size of a hole about its centre, in percent. A part is closed through the centre (`pie`), by a
    straight line (`chord`), or stays open, with its outer edge alone (`open`).
    """

    label: ClassVar[str] = "ellipse"

    shape: Literal["ellipse"] = "ellipse"
    start: Annotated[NumberTrack, Shown("Start", "°")] = NumberTrack(rest=0.0)
    sweep: Annotated[NumberTrack, Shown("Sweep", "°", low=-WHOLE, high=WHOLE, what="a sweep in degrees")] = NumberTrack(
        rest=WHOLE
    )
    hole: Annotated[NumberTrack, Shown("Hole", "%", low=0, high=100, what="the size of a hole in percent")] = (
        NumberTrack(rest=0.0)
    )
    closing: Annotated[Literal["pie", "chord", "open"], Shown("Closing")] = "pie"

    @property
    def is_whole(self) -> bool:
        """Whether it goes all the way round at every frame."""
        return not self.sweep.moves and abs(self.sweep.rest) == WHOLE

    def outline(self, values: Values) -> tuple[str, Floats]:
        box = self.box(values)
        hollow = self.closing != "open" and bool(self.hole.moves or self.hole.rest)
        if self.is_whole and self.sweep.rest > 0 and not hollow and self.closing != "open":
            return rounded(box, box[:, 2:3] / 2, box[:, 3:4] / 2)
        centre, half = box[:, None, :2] + box[:, None, 2:] / 2, box[:, None, 2:] / 2
        unit = arc(values["start"], values["sweep"])
        outer, inner = centre + half * unit, centre + half * unit[:, ::-1] * (values["hole"] / 100)[:, :, None]
        if hollow:
            return ("MCCCCZMCCCCZ" if self.is_whole else "MCCCCLCCCCZ"), _flat(outer, inner)
        if self.closing == "open":
            return "MCCCC", _flat(outer)
        if self.closing == "chord":
            return "MCCCCZ", _flat(outer)
        # Once round, no line goes to the centre and back.
        closed = np.abs(values["sweep"])[:, :, None] >= WHOLE
        return "MLCCCCZ", _flat(np.where(closed, outer[:, :1], centre), outer)


def _flat(*points: Floats) -> Floats:
    """Points (1 | n, k, 2) one after another as (n, 2k)."""
    count = max(map(len, points))
    return np.concatenate([np.broadcast_to(some, (count, *some.shape[1:])) for some in points], axis=1).reshape(
        count, -1
    )
