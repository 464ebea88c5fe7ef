"""The line along an outline: how wide, how it ends and turns, its dashes, and which part of it is drawn."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Annotated, Literal

import numpy as np

from ..draw.inks import StrokeInk
from ..draw.lengths import MOST_DASHES, SOLID, dashed, drawn_spans, length, pattern, subpaths
from ..draw.pen import Pen
from ..geometry.bezier import Floats
from ..geometry.values import Values
from ..ground.base_model import Model
from ..ground.shown import Shown
from ..tracks.kinds import NumberTrack
from .gradient import Paint, ink_of

DASH = "a length in pixels"
DOT = 0.01


class Dashes(Model):
    """Lengths drawn and left out by turns along each part of an outline; a gap of 0 leaves nothing out."""

    dash: Annotated[NumberTrack, Shown("Dash", "px", low=0, high=100_000, what=DASH)] = NumberTrack(rest=20.0)
    gap: Annotated[NumberTrack, Shown("Gap", "px", low=0, high=100_000, what=DASH)] = NumberTrack(rest=12.0)
    offset: Annotated[NumberTrack, Shown("Dash shift", "px")] = NumberTrack(rest=0.0)


class DrawnPart(Model):
    """The part of each outline that is drawn, in percent of its length; `shift` moves it on, round past the end."""

    start: Annotated[NumberTrack, Shown("Part from", "%")] = NumberTrack(rest=0.0)
    end: Annotated[NumberTrack, Shown("Part to", "%")] = NumberTrack(rest=100.0)
    shift: Annotated[NumberTrack, Shown("Part shift", "%")] = NumberTrack(rest=0.0)


class Stroke(Model):
    """A line along the outline, centred on it. `cap` is how open ends and dashes end, `join` how corners turn; a mitred
    corner longer than `mitre` times the width is cut off (SVG 2, 13.5)."""

    colour: Annotated[Paint, Shown("Stroke", inside="Line")]
    width: Annotated[
        NumberTrack, Shown("Line width", "px", step=0.5, low=0, high=10_000, what="a stroke width in pixels")
    ] = NumberTrack(rest=4.0)
    cap: Annotated[Literal["butt", "round", "square"], Shown("Ends")] = "butt"
    join: Annotated[Literal["miter", "round", "bevel"], Shown("Corners")] = "miter"
    mitre: Annotated[NumberTrack, Shown("Mitre", "×", low=1, high=100, what="a mitre limit")] = NumberTrack(rest=10.0)
    dashes: Annotated[Dashes | None, Shown("Dashes")] = None
    part: Annotated[DrawnPart | None, Shown("Drawn part")] = None

    @property
    def in_pieces(self) -> bool:
        """Whether it is drawn in dashes or in part."""
        return self.part is not None or self.dashes is not None

    def draw(self, pen: Pen, verbs: str, points: Floats, values: Values, box: Callable[[], Floats]) -> None:
        """Stroke an outline; `values` are the stroke's own evaluated tracks, `box` gives that of the shape."""
        ink = StrokeInk(
            ink_of(self.colour, values, "colour", box), values["width"], self.cap, self.join, values["mitre"]
        )
        if not self.in_pieces:
            pen.path(verbs, points, None, ink)
            return
        for part, along in subpaths(verbs, points):
            if part == "M":
                continue
            pen.path(part, along, None, self._cut(ink, length(part, along), part.endswith("Z"), values))

    def _cut(self, ink: StrokeInk, whole: Floats, closed: bool, values: Values) -> StrokeInk:
        """The ink with dashes that draw what there is to draw of an outline of a length (n, 1)."""
        begins, ends = np.zeros_like(whole), whole + 1
        # A whole outline that is closed is joined where it ends.
        solid = np.full_like(whole, closed, dtype=bool)
        if self.part:
            start, end, shift = (values[f"part.{name}"] for name in ("start", "end", "shift"))
            begins, ends = drawn_spans(whole, start, end, shift)
            solid = solid & (np.abs(end - start) >= 100)
        if self.dashes:
            dash, gap, offset = (values[f"dashes.{name}"] for name in ("dash", "gap", "offset"))
            # Dashes without a length are dots where their ends are round or square.
            dash = np.maximum(dash, 0.0 if self.cap == "butt" else DOT)
            count = np.where(gap > 0, whole / np.maximum(dash + gap, 1e-9), 0)
            if not self.part and count.max() > MOST_DASHES:
                return self._repeated(ink, dash, gap, offset)
            begins, ends = dashed(begins, ends, dash, gap, offset)
            solid = solid & (gap <= 0)
        lengths, first = pattern(begins, ends, whole)
        width = np.where((ends > begins).any(axis=1, keepdims=True), ink.width, 0)
        return replace(ink, width=width, dash=np.where(solid, SOLID, lengths), dash_offset=first)

    @staticmethod
    def _repeated(ink: StrokeInk, dash: Floats, gap: Floats, offset: Floats) -> StrokeInk:
        """The ink with one dash and one gap that painters repeat: for more dashes than can be named."""
        pair = np.concatenate(np.broadcast_arrays(dash, gap), axis=1)
        # Shorter ones than painters can tell apart keep their ratio.
        pair = pair * np.maximum(DOT / np.maximum(pair.sum(axis=1, keepdims=True), 1e-300), 1.0)
        width = np.where((dash <= 0) & (gap > 0), 0, ink.width)
        return replace(ink, width=width, dash=np.where(gap <= 0, SOLID, pair), dash_offset=offset)
