"""Letters that have colours of their own, such as emoji: layers of outlines in a colour or a gradient each (OpenType
1.9, COLR)."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from typing import Any, Literal

import uharfbuzz as hb

Rgba = tuple[float, float, float, float]
"""Red, green, blue and alpha, 0…255."""
Six = tuple[float, float, float, float, float, float]
STILL: Six = (1.0, 0.0, 0.0, 1.0, 0.0, 0.0)
MOST_LAYERS = 1_000
"""Layers of one letter; more are not drawn."""


@dataclass(frozen=True)
class LayerPaint:
    """What a layer is painted with: a colour, or from one to another in a kind of gradient with its `geometry` as
    `draw.operations.GradientPaint` has it, under a matrix in units of the letter, y down. `text` says that a layer that
    has one colour takes that of the text, whose alpha it has."""

    colours: tuple[Rgba, ...]
    offsets: tuple[float, ...] = (0.0,)
    kind: Literal["plain", "linear", "radial", "conic"] = "plain"
    geometry: tuple[float, ...] = ()
    matrix: Six = STILL
    text: bool = False

    @property
    def lightness(self) -> float:
        """How light its first colour is, 0…1 (Rec. 709 luma)."""
        red, green, blue, _ = self.colours[0]
        return (0.2126 * red + 0.7152 * green + 0.0722 * blue) / 255.0


@dataclass(frozen=True)
class Layer:
    """A layer of a letter: a glyph under a matrix in units of its outline, y down, and what it is painted with."""

    glyph: int
    matrix: Six
    paint: LayerPaint


def layers_of(font: hb.Font, glyph: int) -> tuple[Layer, ...]:
    """The layers of a glyph, from below; none where it has no colours. How layers are blended with one another is not
    followed: each lies over what is below."""
    if not font.face.glyph_has_color_paint(glyph) and not font.face.get_glyph_color_layers(glyph):
        return ()
    taken = _Taken(font)
    font.paint_glyph(glyph, FUNCS, taken)
    return tuple(taken.layers[:MOST_LAYERS])


@dataclass
class _Taken:
    """What HarfBuzz paints, y up, on its way to layers: the matrices that it has pushed, and the outlines that clip."""

    font: hb.Font
    layers: list[Layer] = field(default_factory=list)
    matrices: list[Six] = field(default_factory=lambda: [STILL])
    clips: list[tuple[int, Six] | None] = field(default_factory=list)

    def add(self, paint: LayerPaint) -> None:
        clip = next((one for one in reversed(self.clips) if one is not None), None)
        if clip is not None:
            self.layers.append(Layer(clip[0], _flipped(clip[1]), paint))

    def gradient(self, line: Any, kind: Any, geometry: tuple[float, ...], low: float, high: float) -> None:
        """A gradient whose line of colours goes from `low` to `high` of its geometry's, or backwards."""
        stops = sorted(((low + stop.offset * (high - low), _rgba(stop.color)) for stop in line.color_stops), key=_first)
        if not stops:
            return
        offsets, colours = (tuple(part) for part in zip(*stops, strict=True))
        offsets = tuple(min(max(offset, 0.0), 1.0) for offset in offsets)
        self.add(LayerPaint(colours, offsets, kind, geometry, _flipped(self.matrices[-1])))


def _first(stop: tuple[float, Rgba]) -> float:
    return stop[0]


def _rgba(colour: Any) -> Rgba:
    return float(colour.red), float(colour.green), float(colour.blue), float(colour.alpha)


def _flipped(m: Six) -> Six:
    """A matrix of a space with y up as one of the space with y down."""
    a, b, c, d, e, f = m
    return a, -b, -c, d, e, -f


def _times(m: Six, n: Six) -> Six:
    a, b, c, d, e, f = m
    g, h, i, j, k, l = n  # noqa: E741
    return a * g + c * h, b * g + d * h, a * i + c * j, b * i + d * j, a * k + c * l + e, b * k + d * l + f


def _push_transform(*told: Any) -> None:
    *numbers, taken = told
    taken.matrices.append(_times(taken.matrices[-1], tuple(numbers)))


def _linear(line: Any, x0: float, y0: float, x1: float, y1: float, x2: float, y2: float, taken: _Taken) -> None:
    # The lines of one colour go as p0 … p2 does: across them, from p0 to where p1 lies.
    wide, tall = x2 - x0, y2 - y0
    square = wide * wide + tall * tall
    if square > 0:
        share = ((x1 - x0) * wide + (y1 - y0) * tall) / square
        x1, y1 = x1 - share * wide, y1 - share * tall
    taken.gradient(line, "linear", (x0, -y0, x1, -y1), 0.0, 1.0)


def _radial(line: Any, x0: float, y0: float, r0: float, x1: float, y1: float, r1: float, taken: _Taken) -> None:
    radius = max(r0, r1, 1e-3)
    taken.gradient(line, "radial", (x1, -y1, radius), r0 / radius, r1 / radius)


def _sweep(line: Any, x: float, y: float, start: float, end: float, taken: _Taken) -> None:
    # Against the clock from the right in the font; here with it, so colours come in the other order.
    taken.gradient(line, "conic", (x, -y, -math.degrees(end)), (end - start) / (2 * math.pi), 0.0)


def _functions() -> hb.PaintFuncs:
    functions = hb.PaintFuncs()
    functions.set_push_transform_func(_push_transform)
    functions.set_pop_transform_func(lambda taken: taken.matrices.pop())
    functions.set_push_clip_glyph_func(lambda glyph, taken: taken.clips.append((glyph, taken.matrices[-1])))
    functions.set_push_clip_rectangle_func(lambda *told: told[-1].clips.append(None))
    functions.set_pop_clip_func(lambda taken: taken.clips.pop())
    functions.set_color_func(lambda colour, text, taken: taken.add(LayerPaint((_rgba(colour),), text=bool(text))))
    functions.set_linear_gradient_func(_linear)
    functions.set_radial_gradient_func(_radial)
    functions.set_sweep_gradient_func(_sweep)
    return functions


FUNCS = _functions()
