"""A pen that draws in perspective on another one."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import replace
from functools import partial
from typing import Any

import numpy as np

from ..geometry.bezier import Floats
from ..geometry.perspective import fine, near, project
from ..geometry.transform import UNMOVED, apply, multiply
from .inks import GradientInk, Ink, Layering, MaskInk, StrokeInk
from .operations import Rule
from .pen import Pen


class Bent(Pen):
    """Draws outlines through matrices of nine numbers (n, 9) on a pen. Lines along them are as wide, and gradients lie,
    as at the point (1 | n, 2) that they are seen from there."""

    def __init__(self, pen: Pen, matrix: Floats, point: Floats, inner: Floats = UNMOVED) -> None:
        self._pen, self._matrix, self._point, self._inner = pen, matrix, point, inner
        self._near = near(matrix, point)
        self._flat = False

    def path(
        self, verbs: str, points: Floats, fill: Ink | None, stroke: StrokeInk | None = None, rule: Rule = "nonzero"
    ) -> None:
        if self._flat:
            self._pen.path(verbs, points, fill, stroke, rule)
            return
        verbs, cut = fine(verbs, points)
        frames = max(len(cut), len(self._inner))
        own = apply(self._inner[:, None], np.broadcast_to(cut, (frames, cut.shape[1])).reshape(frames, -1, 2))
        seen = project(self._matrix[:, None], own)
        whole = multiply(self._near, self._inner)
        if stroke is not None:
            grown = _grown(whole)
            dash, offset = (None if one is None else _longer(one, grown) for one in (stroke.dash, stroke.dash_offset))
            stroke = replace(
                stroke, colour=_laid(stroke.colour, whole), width=stroke.width * grown, dash=dash, dash_offset=offset
            )
        there = seen.reshape(len(seen), -1)
        self._pen.path(verbs, there, None if fill is None else _laid(fill, whole), stroke, rule)

    def glyphs(self, names: tuple[str, ...], matrices: Floats, fill: Floats) -> None:
        raise TypeError("letters are seen in perspective by matrices of their own")

    def image(self, source: str, box: Floats, frame: Floats | None = None) -> None:
        raise TypeError("pictures are not drawn in perspective")

    def below(self, box: Floats) -> None:
        raise TypeError("what lies below is not drawn in perspective")

    @contextmanager
    def group(self, layering: Layering) -> Iterator[Any]:
        inner, flat = self._inner, self._flat
        if flat or layering.effects:
            # Effects run along the axes of what they lie on: it is laid as its middle is seen.
            matrix = layering.matrix if flat else multiply(multiply(self._near, inner), layering.matrix)
            self._flat = True
            with self._pen.group(replace(layering, matrix=matrix)):
                yield
            self._flat = flat
            return
        self._inner = multiply(inner, layering.matrix)
        masks: Sequence[MaskInk] = [self._masked(mask) for mask in layering.masks]
        with self._pen.group(replace(layering, matrix=UNMOVED, masks=masks)):
            yield
        self._inner = inner

    def _masked(self, mask: MaskInk) -> MaskInk:
        inner = multiply(self._inner, mask.matrix)

        def draw(into: Bent, pen: Pen) -> None:
            mask.draw(Bent(pen, into._matrix, into._point, inner))

        blur = mask.blur * _grown(multiply(self._near, inner)) if mask.blur.any() else mask.blur
        return replace(mask, draw=partial(draw, self), matrix=UNMOVED, blur=blur)


def _grown(matrix: Floats) -> Floats:
    """By how much lengths grow under matrices, on average (n, 1)."""
    return np.sqrt(np.abs(matrix[:, 0] * matrix[:, 3] - matrix[:, 1] * matrix[:, 2]))[:, None]


def _longer(lengths: Floats, by: Floats) -> Floats:
    """Dashes with lengths by a factor; those that leave nothing out, below 0, as they are."""
    return np.where(lengths < 0, lengths, lengths * by)


def _laid(ink: Ink, matrix: Floats) -> Ink:
    """A colour, or a gradient under a matrix."""
    if not isinstance(ink, GradientInk):
        return ink
    return replace(ink, matrix=matrix if ink.matrix is None else multiply(matrix, ink.matrix))
