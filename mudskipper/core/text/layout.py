"""Lines of text in units of the text size: shaped by HarfBuzz, aligned, boxed."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import uharfbuzz as hb
from numpy.typing import NDArray

from ..geometry.bezier import Floats
from .fonts import Font, face_for
from .runs import runs_of

AROUND = 8
"""Letters before and after a run that HarfBuzz is told, since letters join across faces."""


@dataclass(frozen=True)
class Glyphs:
    """A shaped text at size 1 with no tracking, before alignment.

    `names` (g) name outlines; `x` (g) pen positions; `order` (g) is the place of each glyph's letter in its line, which
    tracking multiplies; `y` (g) offsets from the baseline; `line` (g) indices; `units` (g) the outlines' units an em;
    `advance` and `gaps` (lines) are each line's width and number of gaps that tracking widens.
    """

    names: tuple[str, ...]
    x: Floats
    y: Floats
    order: Floats
    line: np.ndarray
    units: Floats
    advance: Floats
    gaps: Floats
    ascent: float
    descent: float


@lru_cache(maxsize=2_048)
def shape(text: str, font: Font) -> Glyphs:
    """Shape a text line by line."""
    own = face_for(font)
    names: list[str] = []
    x: list[float] = []
    y: list[float] = []
    order: list[int] = []
    lines: list[int] = []
    units: list[int] = []
    advances: list[float] = []
    gaps: list[int] = []
    for number, line in enumerate(text.split("\n")):
        pen, count = 0.0, -1
        codes = [ord(letter) for letter in line]
        for run in runs_of(line, font):
            face = run.face
            buffer = hb.Buffer()
            first = max(run.start - AROUND, 0)
            buffer.add_codepoints(codes[first : run.stop + AROUND], run.start - first, run.stop - run.start)
            buffer.direction, buffer.script, buffer.language = run.direction, run.script, run.language
            hb.shape(face.hb, buffer)
            cluster = -1
            for info, place in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True):
                # A letter and its marks are widened as one.
                count += info.cluster != cluster
                cluster = info.cluster
                if face.outline(info.codepoint).verbs:
                    names.append(f"{face.key}:{info.codepoint}")
                    x.append(pen + place.x_offset / face.em)
                    y.append(-place.y_offset / face.em)
                    order.append(count)
                    lines.append(number)
                    units.append(face.upem)
                pen += place.x_advance / face.em
        advances.append(pen)
        gaps.append(max(count, 0))
    floats = [np.array(part, dtype=np.float64) for part in (x, y, order, units, advances, gaps)]
    return Glyphs(
        tuple(names), floats[0], floats[1], floats[2], np.array(lines, dtype=np.intp), floats[3], floats[4], floats[5],
        own.ascent, own.descent,
    )  # fmt: skip


@dataclass(frozen=True)
class Setting:
    """A text set in pixels: `names` (g) of its outlines and their `units` an em, `places` (n, 2g) baseline origins of
    the glyphs, the line box (n, 4), and the distance from its top to the first and the last baseline (n, 2). `seen`
    (1 | n, g) is 0 where a glyph is not part of the text of a frame, else 1."""

    names: tuple[str, ...]
    units: Floats
    places: Floats
    box: Floats
    baselines: Floats
    seen: Floats


def set_text(glyphs: Glyphs, align: str, size: Floats, tracking: Floats, line_height: Floats) -> Setting:
    """Set a shaped text: size (n, 1) in px, tracking (n, 1) in thousandths of it, line height (n, 1) in percent.

    Lines follow CSS: the font's ascent and descent are centred in each line's height.
    """
    gap = tracking / 1000.0
    leading = line_height / 100.0
    widths = glyphs.advance + glyphs.gaps * gap
    share = {"left": 0.0, "centre": 0.5, "right": 1.0}[align]
    line_left = -widths * share
    first = (leading - (glyphs.ascent + glyphs.descent)) / 2 + glyphs.ascent
    x = (glyphs.x + glyphs.order * gap + line_left[:, glyphs.line]) * size
    y = (glyphs.y + first + glyphs.line * leading) * size
    places = np.stack([x, np.broadcast_to(y, x.shape)], axis=-1).reshape(x.shape[0], 2 * x.shape[1])
    width = widths.max(axis=1, keepdims=True)
    box = np.concatenate([-width * share, 0 * width, width, leading * len(glyphs.gaps) + 0 * width], axis=1) * size
    last = first + leading * (len(glyphs.gaps) - 1)
    baselines = np.concatenate([first, last], axis=1) * size
    return Setting(glyphs.names, glyphs.units, places, box, baselines, np.ones((1, len(glyphs.names))))


def set_texts(
    texts: Sequence[str], font: Font, align: str, size: Floats, tracking: Floats, line_height: Floats
) -> Setting:
    """As `set_text`, of another text at each frame (n). A glyph of several texts is drawn by the same instance; one
    that a frame has not stands where its first one does, so that it reaches no further."""
    count = len(texts)
    numbers = [np.broadcast_to(one, (count, 1)) for one in (size, tracking, line_height)]
    parts: list[tuple[NDArray[np.intp], Setting]] = []
    frames: dict[str, list[int]] = {}
    for frame, text in enumerate(texts):
        frames.setdefault(text, []).append(frame)
    most: Counter[str] = Counter()
    units: dict[str, float] = {}
    for text, at in frames.items():
        found = np.array(at, dtype=np.intp)
        glyphs = shape(text or " ", font)
        parts.append((found, set_text(glyphs, align, *(one[found] for one in numbers))))
        most |= Counter(glyphs.names)
        units.update(zip(glyphs.names, glyphs.units.tolist(), strict=True))
    names = tuple(most.elements())
    first = {name: names.index(name) for name in most}
    places, seen = np.zeros((count, len(names), 2)), np.zeros((count, len(names)))
    box, baselines = np.zeros((count, 4)), np.zeros((count, 2))
    for rows, one in parts:
        own = one.places.reshape(len(rows), len(one.names), 2)
        box[rows], baselines[rows] = one.box, one.baselines
        used: Counter[str] = Counter()
        if own.shape[1]:
            places[rows] = own[:, :1]
        for index, name in enumerate(one.names):
            slot = first[name] + used[name]
            used[name] += 1
            places[rows, slot] = own[:, index]
            seen[rows, slot] = 1.0
    return Setting(names, np.array([units[name] for name in names]), places.reshape(count, -1), box, baselines, seen)
