"""A layer at many frames: its box, anchor and matrix from the values of its tracks."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .bezier import Floats
from .contents.base import Around
from .draw.pen import MaskInk
from .motion import anchor_points, position_values
from .scene import Layer
from .transform import matrices, multiply
from .window import Window, window_on


@dataclass(frozen=True)
class ResolvedLayer:
    """A layer at n frames. Arrays are (n, d), or (1, d) where nothing changes; `visible` is (n,).

    `values` holds every track's value by its path, in the track's own unit; `anchor` is in content pixels and
    `fraction` in fractions of the box; `matrix` (CSS order) takes content pixels to scene pixels; `opacity` is 0…1.
    `box` is what masks and crop leave of `content_box`; `framed` is the matrix of the content behind them, None where
    it is not moved, and `masks` are they as they are drawn.
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

    @property
    def content_matrix(self) -> Floats:
        """The matrix (1 | n, 6) from the content's own pixels to the scene, its framing counted in."""
        return self.matrix if self.framed is None else multiply(self.matrix, self.framed)

    @property
    def inner(self) -> dict[str, Floats]:
        """The values of the content's own tracks, by the path that they have in it."""
        return content_values(self.values)


def in_span(layer: Layer, frames: Floats) -> NDArray[np.bool_]:
    """The frames at which the layer is there, hidden or not."""
    return np.asarray((frames >= layer.span.start) & (frames < layer.span.end))


def placed(
    layers: Sequence[Layer], frames: Floats, values: Sequence[dict[str, Floats]], around: Sequence[Around]
) -> list[ResolvedLayer]:
    """Layers with box, anchor and matrix from the values (1 | n, d) of their tracks; these are brought within their
    bounds."""
    places = [_place(*one) for one in zip(layers, values, around, strict=True)]
    return [
        ResolvedLayer(
            layer=layer, frames=frames, visible=in_span(layer, frames) & layer.visible,
            values=one.values, box=one.window.box,
            anchor=one.anchor, fraction=one.fraction, matrix=matrix, opacity=one.values["opacity"] / 100.0,
            content_box=one.content_box, framed=one.window.framed, masks=one.window.masks,
        )
        for layer, one, matrix in zip(layers, places, _all_matrices(places), strict=True)
    ]  # fmt: skip


def _all_matrices(placed: list[_Placed]) -> list[Floats]:
    """The matrices of all layers, computed in one batch."""
    if not placed:
        return []
    sizes = [max(map(len, one.operands)) for one in placed]
    columns = [
        np.concatenate([
            np.broadcast_to(one.operands[i], (size, one.operands[i].shape[1]))
            for one, size in zip(placed, sizes, strict=True)
        ])
        for i in range(4)
    ]  # fmt: skip
    whole = matrices(columns[0], columns[1], columns[2], columns[3][:, 0])
    return np.split(whole, np.cumsum(sizes)[:-1])


def content_values(values: Mapping[str, Floats]) -> dict[str, Floats]:
    """The values of a content's own tracks, by the path that they have in it."""
    return {name.removeprefix("content."): array for name, array in values.items() if name.startswith("content.")}


@dataclass(frozen=True)
class _Placed:
    """A layer before its matrix; `operands` are anchor (px), position, scale and rotation."""

    values: dict[str, Floats]
    content_box: Floats
    window: Window
    anchor: Floats
    fraction: Floats
    operands: tuple[Floats, Floats, Floats, Floats]


def _place(layer: Layer, values: dict[str, Floats], around: Around) -> _Placed:
    """Bring values within their bounds, and find box and anchor."""
    for name, (low, high) in layer.limits.items():
        values[name] = np.minimum(np.maximum(values[name], low), high)
    values["position"] = position_values(values)
    box = layer.content.box(content_values(values), around)
    window = window_on(layer, values, box)
    anchor, fraction = anchor_points(layer.anchor.pinned, values["anchor"], window.box)
    operands = anchor, values["position"], values["scale"], values["rotation"]
    return _Placed(values, box, window, anchor, fraction, operands)
