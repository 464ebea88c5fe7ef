"""A layer at many frames: its box, anchor and matrix from the values of its tracks."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from itertools import accumulate, pairwise
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..contents.base import Around
from ..document.scene import Layer
from ..draw.inks import EffectInk, MaskInk
from ..effects import effect_inks
from ..formulas.problem import FormulaProblem
from ..geometry.bezier import Floats
from ..geometry.transform import apply, inverse, matrices, multiply
from ..ground.errors import Refused
from ..text.families import INSTALLED, Fonts
from .place import NO_BASELINES, Place, content_values, place


@dataclass(frozen=True)
class ResolvedLayer:
    """A layer at n frames. Arrays are (n, d), or (1, d) where nothing changes; `visible` is (n,).

    `values` holds every track's value by its path, in the track's own unit; `anchor` is in content pixels and
    `fraction` in fractions of the box; `matrix` (CSS order) takes content pixels to scene pixels; `opacity` is 0…1.
    `box` is what masks and crop leave of `content_box`; `framed` is the matrix of the content behind them, None where
    it is not moved, and `masks` and `effects` are they as they are drawn. `carrier` is the matrix (1 | n, 6)
    that takes the space of its position to the scene: that of what carries it, None where nothing does. `baselines`
    (1 | n, 2) are the first and the last, y in content pixels; (1, 0) where it has none. `fonts` are
    those that were at hand.
    """

    layer: Layer
    frames: Floats
    visible: NDArray[np.bool_]
    values: dict[str, Floats]
    box: Floats
    anchor: Floats
    fraction: Floats
    matrix: Floats
    opacity: Floats
    content_box: Floats
    framed: Floats | None = None
    masks: Sequence[MaskInk] = ()
    effects: Sequence[EffectInk] = ()
    carrier: Floats | None = None
    baselines: Floats = field(default_factory=lambda: NO_BASELINES)
    fonts: Fonts = INSTALLED
    problems: Mapping[str, FormulaProblem] = field(default_factory=dict)
    """What is wrong with the formulas of its properties, by their paths."""
    bases: Mapping[str, Floats] = field(default_factory=dict)
    """What its properties with formulas are without them."""

    @property
    def content_matrix(self) -> Floats:
        """The matrix (1 | n, 6) from the content's own pixels to the scene, its framing counted in."""
        return self.matrix if self.framed is None else multiply(self.matrix, self.framed)

    @property
    def place(self) -> Floats:
        """Where its anchor stands in the scene (1 | n, 2)."""
        position = self.values["position"]
        return position if self.carrier is None else apply(self.carrier, position)

    def own_step(self, by: Any, index: int = 0) -> Floats:
        """A step (2,) in the scene as one in the space of its position, at one of its frames; Refused where that has
        collapsed."""
        step = np.asarray(by, dtype=np.float64)
        if self.carrier is None:
            return step
        back = inverse(self.carrier[[index if len(self.carrier) > 1 else 0]])
        if back is None:
            raise Refused(
                f"What carries '{self.layer.name}' has scale 0 here, so nothing in it can be pointed at.",
                mend="Go to a frame where it has a size.",
            )
        a, b, c, d = back[0, :4]
        return np.array([a * step[0] + c * step[1], b * step[0] + d * step[1]])

    def own_point(self, point: Any, index: int = 0) -> Floats:
        """A point (2,) of the scene in the space of its position, at one of its frames; Refused as `own_step`."""
        if self.carrier is None:
            return np.asarray(point, dtype=np.float64)
        origin = self.carrier[index if len(self.carrier) > 1 else 0, 4:]
        return self.own_step(np.asarray(point, dtype=np.float64) - origin, index)

    @property
    def turned_by(self) -> tuple[float, bool]:
        """By how many degrees its carrier turns it at the first of its frames, and whether it mirrors it."""
        if self.carrier is None:
            return 0.0, False
        a, b, c, d = (float(n) for n in self.carrier[0, :4])
        return math.degrees(math.atan2(b, a)), a * d - b * c < 0

    @property
    def inner(self) -> dict[str, Floats]:
        """The values of the content's own tracks, by the path that they have in it."""
        return content_values(self.values)


def in_span(layer: Layer, frames: Floats) -> NDArray[np.bool_]:
    """The frames at which the layer is there, hidden or not."""
    return np.asarray((frames >= layer.span.start) & (frames < layer.span.end))


def placed(
    layers: Sequence[Layer],
    frames: Floats,
    values: Sequence[dict[str, Floats]],
    around: Sequence[Around],
    carriers: Sequence[Floats | None],
) -> list[ResolvedLayer]:
    """Layers with box, anchor and matrix from the values (1 | n, d) of their tracks; these are brought within their
    bounds. `carriers` are the matrices to the scene of those that carry them."""
    places = [place(*one) for one in zip(layers, values, around, strict=True)]
    return [
        ResolvedLayer(
            layer=layer, frames=frames, visible=in_span(layer, frames) & layer.visible,
            values=one.values, box=one.window.box,
            anchor=one.anchor, fraction=one.fraction, carrier=carrier,
            matrix=matrix if carrier is None else multiply(carrier, matrix), opacity=one.values["opacity"] / 100.0,
            content_box=one.content_box, framed=one.window.framed, masks=one.window.masks,
            effects=effect_inks(layer.effects, one.values, one.window.box, frames - layer.span.start),
            baselines=one.baselines, fonts=beside.fonts,
        )
        for layer, one, matrix, carrier, beside in zip(
            layers, places, _all_matrices(places), carriers, around, strict=True
        )
    ]  # fmt: skip


def _all_matrices(placed: list[Place]) -> list[Floats]:
    """The matrices of all layers, computed in one batch."""
    if not placed:
        return []
    sizes = [max(map(len, one.operands)) for one in placed]
    columns = [
        np.concatenate([
            part if len(part) == size else np.broadcast_to(part, (size, part.shape[1]))
            for part, size in zip((one.operands[i] for one in placed), sizes, strict=True)
        ])
        for i in range(4)
    ]  # fmt: skip
    whole = matrices(columns[0], columns[1], columns[2], columns[3][:, 0])
    return [whole[start:end] for start, end in pairwise([0, *accumulate(sizes)])]
