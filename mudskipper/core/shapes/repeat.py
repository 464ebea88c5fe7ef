"""Duplicates in a pattern: an item drawn several times, each a step further than the one before."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, ClassVar

import numpy as np

from ..geometry.bezier import Floats
from ..geometry.transform import matrices
from ..geometry.values import Values
from ..ground.base_model import Model
from ..ground.shown import Shown
from ..tracks.kinds import NumberTrack, PairTrack

MOST_COPIES = 500


class Repeat(Model):
    """How often an item is drawn, the first time where it is, and the step from each to the next about its anchor:
    moved and turned by as much, grown and faded by the same percentage."""

    noun: ClassVar[str] = "pattern"

    copies: Annotated[NumberTrack, Shown("Copies", "", low=1, high=MOST_COPIES, what="a number of copies")] = (
        NumberTrack(rest=6.0)
    )
    move: Annotated[PairTrack, Shown("Step", "px", ("x", "y"), "position")] = PairTrack(rest=(0.0, 0.0))
    turn: Annotated[NumberTrack, Shown("Step turn", "°", role="rotation")] = NumberTrack(rest=0.0)
    grow: Annotated[
        PairTrack,
        Shown("Grow to", "%", ("x", "y"), "scale", linked=True, low=0, high=1_000, what="a step of scale in percent"),
    ] = PairTrack(rest=(100.0, 100.0))
    fade: Annotated[
        NumberTrack, Shown("Fade to", "%", role="opacity", low=0, high=100, what="a step of opacity in percent")
    ] = NumberTrack(rest=100.0)


def copies(values: Values, placing: tuple[Floats, Floats, Floats, Floats]) -> Iterator[tuple[Floats, Floats, Floats]]:
    """Of each copy its matrix (1 | n, 6), its opacity as a share of the item's (1 | n, 1), and whether it is there
    (1 | n, 1); from the values of the pattern and anchor (px), position, scale and rotation of the item."""
    anchor, position, scale, rotation = placing
    count = np.rint(values["copies"])
    for step in range(int(count.max())):
        matrix = matrices(
            anchor,
            position + step * values["move"],
            scale * (values["grow"] / 100.0) ** step,
            (rotation + step * values["turn"])[:, 0],
        )
        yield matrix, (values["fade"] / 100.0) ** step, (step < count).astype(np.float64)
