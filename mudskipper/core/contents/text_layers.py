"""Letters of a text that have colours of their own, as emoji have: each of their layers in its own paint."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..draw.inks import GradientInk
from ..draw.pen import Pen
from ..geometry.bezier import Floats
from ..geometry.transform import apply, multiply
from ..text.colour import LayerPaint
from ..text.fonts import layer_paint, outline
from ..text.layout import Setting
from ..text.letters import Letters, matrices_of

BLACK = np.array([[0.0, 0.0, 0.0, 255.0]])


def paint_layers(
    pen: Pen, setting: Setting, slots: Sequence[int], fills: Sequence[Floats | None], tinted: bool,
    drawn: Letters | None = None,
) -> None:  # fmt: skip
    """Paint some layers of a set text, from below; `fills` (1 | n, 4) is that of the text at each of them, None where
    it is a gradient or none. With `tinted` they are painted in it, as light and dark as they are;
    with outlines `drawn` they are painted by these."""
    if not slots:
        return
    matrices = matrices_of(setting, np.array(slots, dtype=np.intp))
    names: list[str] = []
    places: list[Floats] = []
    colours: list[Floats] = []

    def paint() -> None:
        """Paint what has one colour each."""
        if names:
            count = max(map(len, colours))
            fill = np.concatenate([np.broadcast_to(one, (count, 4)) for one in colours], axis=1)
            pen.glyphs(tuple(names), np.concatenate(places, axis=1), fill)
            for told in (names, places, colours):
                told.clear()

    for index, (slot, fill) in enumerate(zip(slots, fills, strict=True)):
        own, lightest = layer_paint(setting.names[slot])
        matrix = matrices[:, index]
        solid = own.kind == "plain" or (tinted and fill is not None)
        if drawn is not None and solid:
            pen.path(drawn.verbs[slot], drawn.points[slot], _colour(own, lightest, fill, tinted))
            continue
        if solid or own.kind == "plain":
            names.append(setting.names[slot])
            places.append(matrix)
            colours.append(_colour(own, lightest, fill, tinted))
            continue
        paint()
        shape = outline(setting.names[slot])
        points = np.repeat(np.array([shape.coordinates]), len(matrix), axis=0)
        for at in range(0, points.shape[1], 2):
            points[:, at : at + 2] = apply(matrix, points[:, at : at + 2])
        ink = GradientInk(
            own.kind, np.array([own.geometry]), np.array([own.offsets]), np.array([own.colours]).reshape(1, -1),
            multiply(matrix, np.array([own.matrix])),
        )  # fmt: skip
        pen.path(shape.verbs, points, ink)
    paint()


def _colour(own: LayerPaint, lightest: float, fill: Floats | None, tinted: bool) -> Floats:
    """What a layer is painted in (1 | n, 4)."""
    if own.text:
        fill = BLACK if fill is None else fill
        return np.rint(fill * [1.0, 1.0, 1.0, own.colours[0][3] / 255.0])
    if not tinted or fill is None:
        return np.array([own.colours[0]])
    light = own.lightness / lightest if lightest else 1.0
    return np.rint(fill * [light, light, light, own.colours[0][3] / 255.0])
