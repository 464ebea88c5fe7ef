"""A block that a text is set in: its lines are broken where they no longer fit its width."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache
from typing import Annotated, Literal

import numpy as np

from ..geometry.bezier import Floats
from ..geometry.values import Values
from ..ground.base_model import Flag, Model
from ..ground.shown import Shown
from ..text.breaking import Line, Measured, broken, measured
from ..text.layout import Block, Looks, Setting, metrics_of, set_texts, shape
from ..text.runs import Marks
from ..text.written import Written, cut, paragraphs
from ..tracks.kinds import NumberTrack

STANDS = {"top": 0.0, "middle": 0.5, "bottom": 1.0}
STEPS = 20
"""Halvings after which the size that fits is known to a millionth."""
Row = tuple[float, ...]
"""What the lines of a text in a block depend on at one frame."""


class TextBlock(Model):
    """A box of a width, and of a height or as high as its lines, in pixels; `stands` is where the lines stand in its
    height. With `least` the text is set smaller, down to that size, until it fits."""

    width: Annotated[NumberTrack, Shown("Width", "px", low=1, high=100_000, what="the width of a block in pixels")] = (
        NumberTrack(rest=800.0)
    )
    height: Annotated[
        NumberTrack | None, Shown("Height", "px", low=1, high=100_000, what="the height of a block in pixels")
    ] = None
    gap: Annotated[
        NumberTrack, Shown("Gap below", "px", low=0, high=10_000, what="the space between paragraphs in pixels")
    ] = NumberTrack(rest=0.0)
    indent: Annotated[NumberTrack, Shown("Indent", "px", low=-10_000, high=10_000, what="an indent in pixels")] = (
        NumberTrack(rest=0.0)
    )
    stands: Annotated[Literal["top", "middle", "bottom"], Shown("Stands at")] = "top"
    hanging: Annotated[Flag, Shown("Hanging marks")] = False
    least: Annotated[
        NumberTrack | None, Shown("Smallest size", "px", low=0.1, high=10_000, what="a text size in pixels")
    ] = None


def lines_in_block(
    block: TextBlock, values: Values, wholes: Sequence[Written], looks: Looks, turned: bool | None = None
) -> tuple[list[tuple[Line, ...]], Floats]:
    """The lines of a text, or of another one at each frame (1 | n), in a block whose tracks have these values; and the
    share (1 | n, 1) of their size at which they are set; `turned` as in `is_turned`."""
    width, gap, indent = values["width"], values["gap"], values["indent"]
    bounded = block.height is not None
    height = values["height"] if bounded else np.zeros((1, 1))
    least = values["least"] if block.least is not None else np.zeros((1, 1))
    columns = [width, height, gap, indent, least, looks.line_height, looks.size, looks.tracking, looks.raised]
    count = max(len(wholes), *map(len, columns))
    table = np.concatenate([np.broadcast_to(column, (count, column.shape[1])) for column in columns], axis=1)
    fitted = [
        _fitted(wholes[at if len(wholes) > 1 else 0], tuple(row), block.least is not None, bounded, turned, looks.fixed)
        for at, row in enumerate(table.tolist())
    ]
    lines = [found for found, _ in fitted]
    shares = np.array([[share] for _, share in fitted])
    same = all(one is lines[0] or one == lines[0] for one in lines)
    return lines[:1] if same else lines, shares[:1] if (shares == shares[0]).all() else shares


def set_in_block(
    block: TextBlock, values: Values, wholes: Sequence[Written], align: str, looks: Looks, turned: bool | None = None
) -> Setting:
    """Set a text, or another one at each frame, in a block whose tracks have these values."""
    lines, shares = lines_in_block(block, values, wholes, looks, turned)
    if (shares != 1).any():
        looks = looks.shrunk(shares)
    height = None if block.height is None else values["height"]
    box = Block(values["width"], height, values["gap"], values["indent"], STANDS[block.stands], block.hanging)
    return set_texts(wholes, align, looks, box, lines)


@lru_cache(maxsize=8_192)
def _fitted(
    whole: Written, row: Row, fits: bool, bounded: bool, turned: bool | None, fixed: bool
) -> tuple[tuple[Line, ...], float]:
    """The lines of a text at one frame, and the share of its size at which they are set."""
    width, _, _, indent, least, _, size = row[:7]
    tables = _measured(whole, row[6:])
    hyphen = _hyphen(whole)
    share = 1.0
    if fits and least < size and not _fit(whole, tables, row, 1.0, bounded, fixed):
        low, high = least / size, 1.0
        for _ in range(STEPS):
            middle = (low + high) / 2
            if _fit(whole, tables, row, middle, bounded, fixed):
                low = middle
            else:
                high = middle
        share = low
    # At a smaller size lines end where they would in a wider block.
    return broken(tables, width / share, indent / share, hyphen, turned), share


def _hyphen(whole: Written) -> str:
    return "\u2010" if 0x2010 in whole.styles[0].face.letters else "-"


@lru_cache(maxsize=512)
def _measured(whole: Written, numbers: Row) -> tuple[Measured, ...]:
    """The paragraphs of a text whose parts are of these sizes, trackings and raisings."""
    size, tracking, _ = np.array(numbers).reshape(3, -1)
    gaps = size * tracking / 1000.0

    def reach(line: str, marks: Marks) -> tuple[Floats, Floats]:
        found = shape(line, marks, whole.styles)
        return found.letters * size[found.letter_parts], found.counts * gaps[found.letter_parts]

    hyphen = _hyphen(whole)
    return tuple(measured(one, marks, reach, hyphen) for one, marks in paragraphs(whole.text, whole.marks))


def _fit(whole: Written, tables: tuple[Measured, ...], row: Row, share: float, bounded: bool, fixed: bool) -> bool:
    """Whether a text fits its block at a share of its size."""
    width, height, gap, indent = row[:4]
    tall = gap * (len(tables) - 1)
    for one in tables:
        ends, widest = one.ends(width / share, indent / share)
        if widest * share > width + 1e-6:
            return False
        tall += sum(_heights(whole, one, ends, row, fixed)) * share
        if bounded and tall > height + 1e-6:
            return False
    return True


def _heights(whole: Written, one: Measured, ends: list[int], row: Row, fixed: bool) -> list[float]:
    """How high lines are: by the parts that each of them has."""
    size, _, raised = np.array(row[6:]).reshape(3, -1)
    ascent, descent = metrics_of(whole.styles)[0].T
    leading = row[5] + 0.0 * size if fixed else row[5] / 100.0 * size
    above = (leading - (ascent + descent) * size) / 2 + ascent * size
    below = leading - above - raised
    above = above + raised
    if len(size) == 1:
        return [float(above[0] + below[0])] * len(ends)
    found, start = [], 0
    for stop in ends:
        parts = [0, *(part for _, part in cut(one.marks, start, stop))]
        found.append(float(above[parts].max() + below[parts].max()))
        start = stop
    return found


def spills(setting: Setting) -> Floats:
    """By how many pixels lines stand out of their block, (1 | n, 2): beside it, and above and below it."""
    return np.concatenate(
        np.broadcast_arrays(
            *(np.maximum(setting.inside[:, i : i + 1] - setting.box[:, i : i + 1], 0.0) for i in (2, 3))
        ),
        axis=1,
    )
