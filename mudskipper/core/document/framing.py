"""Framing: the content moved behind its masks or within its crop, which stay where they are."""

from __future__ import annotations

from typing import Annotated

import numpy as np

from ..draw.inks import MaskInk
from ..draw.pen import filled
from ..geometry.bezier import Floats
from ..geometry.transform import UNMOVED, matrices
from ..geometry.values import Values, within
from ..ground.base_model import Model
from ..ground.shown import Shown
from ..tracks.kinds import NumberTrack, PairTrack

EVERYTHING = np.array([[255.0]])
SHARP = np.array([[0.0]])


class Framing(Model):
    """How the content lies behind its window: `offset` px, `zoom` % and `turn` ° about `about`, % of the content's box.

    The window is what masks and crop leave; without any, the box of the content where it is not moved.
    """

    offset: Annotated[PairTrack, Shown("Framing offset", "px", ("x", "y"), "position")] = PairTrack(rest=(0.0, 0.0))
    zoom: Annotated[
        NumberTrack,
        Shown("Framing zoom", "%", role="scale", low=0, high=100_000, what="a zoom of the content in percent"),
    ] = NumberTrack(rest=100.0)
    turn: Annotated[NumberTrack, Shown("Framing turn", "°", role="rotation")] = NumberTrack(rest=0.0)
    about: Annotated[PairTrack, Shown("Framing anchor", "%", ("x", "y"), "anchor")] = PairTrack(rest=(50.0, 50.0))


class Crop(Model):
    """The part of a layer that is shown, by its edges in the layer's pixels."""

    left: Annotated[NumberTrack, Shown("Crop left", "px")]
    top: Annotated[NumberTrack, Shown("Crop top", "px")]
    right: Annotated[NumberTrack, Shown("Crop right", "px")]
    bottom: Annotated[NumberTrack, Shown("Crop bottom", "px")]

    @classmethod
    def around(cls, box: Floats) -> Crop:
        """The crop that leaves a box (4,) as it is."""
        left, top, width, height = (round(float(n), 3) for n in box)
        ends = {"left": left, "top": top, "right": left + width, "bottom": top + height}
        return cls(**{name: NumberTrack(rest=at) for name, at in ends.items()})


def framing_matrix(values: Values, box: Floats) -> Floats:
    """The matrix (1 | n, 6) that places the content behind its window, in layer pixels; `box` is the content's own.

    >>> still = {"about": [[50, 50]], "offset": [[10, 0]], "zoom": [[200]], "turn": [[0]]}
    >>> framing_matrix({k: np.array(v, float) for k, v in still.items()}, np.array([[0.0, 0.0, 80.0, 60.0]])).tolist()
    [[2.0, 0.0, -0.0, 2.0, -30.0, -30.0]]
    """
    about = box[:, :2] + box[:, 2:] * values["about"] / 100.0
    zoom = np.repeat(values["zoom"], 2, axis=1)
    return matrices(about, about + values["offset"], zoom, values["turn"][:, 0])


def crop_ends(values: Values) -> Floats:
    """left, top, right, bottom (1 | n, 4) of a crop from its values."""
    return np.concatenate(np.broadcast_arrays(*(values[name] for name in Crop.model_fields)), axis=1)


def window_of(ends: Floats) -> MaskInk:
    """A rectangle left, top, right, bottom (1 | n, 4) as the mask that crops to it; nothing where it has no extent."""
    left, top, right, bottom = (ends[:, i : i + 1] for i in range(4))
    right, bottom = np.maximum(right, left), np.maximum(bottom, top)
    points = np.concatenate([left, top, right, top, right, bottom, left, bottom], axis=1)
    return MaskInk(filled("MLLLZ", points), EVERYTHING, SHARP, UNMOVED, "intersect")


def framing_values(values: Values) -> Values:
    """The values of a layer's framing."""
    return within(values, "framing.")


def crop_values(values: Values) -> Values:
    """The values of a layer's crop."""
    return within(values, "crop.")
