"""Lines of text: shaped by HarfBuzz, aligned, boxed; at each frame by itself where the text, its style or its lines
change."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property, lru_cache

import numpy as np
import uharfbuzz as hb
from numpy.typing import NDArray

from ..geometry.bezier import Floats
from .breaking import Line, typed_lines
from .fonts import Style
from .optical import SCRIPTS, kerns
from .runs import UNSPACED, Marks, runs_of
from .units import unit_numbers
from .written import Written, part_at

AROUND = 8
"""Letters before and after a run that HarfBuzz is told, since letters join across faces."""
SPACES = " \u00a0"
"""What is made wider where lines are justified."""
Places = NDArray[np.intp]


@dataclass(frozen=True)
class ShapedLine:
    """A line from its left end to its right, in ems of the size of each part.

    Of all its glyphs (g): how far they go on (`advance`), where their outlines stand from there (`dx`, and `dy` down),
    their `part`, whether they begin a letter that tracking keeps from the one before (`fresh`), and how many gaps stand
    before them that are made wider in a justified line (`wider`), which has `holes` of them. Of those that have an
    outline, and of each layer of those in colours of their own (s): their number among all (`shown`), their `names`,
    `units`, the outlines' an em, and whether they stand `upright` in a line that runs down, and the
    numbers of their `letter` and `word` in it (`text.units`). Of the code points (c), as
    they are read: what each adds to the width (`letters`), and whether tracking follows it (`counts`).
    """

    names: tuple[str, ...]
    shown: Places
    units: Floats
    upright: Floats
    letter: Places
    word: Places
    advance: Floats
    dx: Floats
    dy: Floats
    part: Places
    fresh: Floats
    wider: Floats
    holes: int
    letters: Floats
    counts: Floats
    letter_parts: Places


@lru_cache(maxsize=8_192)
def shape(line: str, marks: Marks, styles: tuple[Style, ...], turned: bool | None = None) -> ShapedLine:
    """Shape a line of a paragraph that is read from the right, or from the left; None where it is all of it."""
    names: list[str] = []
    shown: list[int] = []
    units: list[float] = []
    upright: list[float] = []
    belongs: list[tuple[int, int]] = []
    units_of = unit_numbers(line)
    glyphs: list[tuple[float, float, float, int, int, int]] = []
    holes = 0
    codes = [ord(letter) for letter in line]
    letters, counts = np.zeros(len(line)), np.zeros(len(line))
    parts = np.zeros(len(line), dtype=np.intp)
    before = 0
    for end, part in marks:
        parts[before:end], before = part, end
    # Where there are no spaces to widen, as in Japanese, all gaps are.
    everywhere = UNSPACED.search(line) is not None and not any(letter in line.strip() for letter in SPACES)
    for run in runs_of(line, marks, styles, None if turned is None else int(turned)):
        face = run.face
        buffer = hb.Buffer()
        first = max(run.start - AROUND, 0)
        buffer.add_codepoints(codes[first : run.stop + AROUND], run.start - first, run.stop - run.start)
        buffer.direction, buffer.script, buffer.language = run.direction, run.script, run.language
        hb.shape(face.hb, buffer, dict(run.features))
        cluster = -1
        key, upem, coloured, stands = face.key, face.upem, face.coloured, float(run.upright)
        infos, positions = buffer.glyph_infos, buffer.glyph_positions
        wides = [(-place.y_advance if run.upright else place.x_advance) / face.em for place in positions]
        if run.optical and run.script in SCRIPTS:
            more = kerns(face, tuple(info.codepoint for info in infos), tuple(wides))
            wides = [wide + by for wide, by in zip(wides, more, strict=True)]
        for info, place, advance in zip(infos, positions, wides, strict=True):
            at = first + info.cluster
            fresh = info.cluster != cluster
            if fresh:
                # A letter and its marks are widened as one.
                cluster = info.cluster
                counts[at] = 1
                holes += everywhere or line[at] in SPACES
            layers = len(face.layers(info.codepoint)) if coloured else 0
            if layers or face.outline(info.codepoint).verbs:
                name = f"{key}:{info.codepoint}"
                names += [f"{name}.{layer}" for layer in range(layers)] or [name]
                for _ in range(layers or 1):
                    shown.append(len(glyphs))
                    units.append(upem)
                    upright.append(stands)
                    belongs.append(units_of[at])
            letters[at] += advance
            dx, dy = place.x_offset / face.em, -place.y_offset / face.em
            if run.upright:
                dy = face.hangs if face.hangs is not None else dy
                # The middle of the column is that of the letters which lie in it.
                own = styles[0].face
                dx, dy = dy, -dx - (own.ascent - own.descent) / 2
            glyphs.append((advance, dx, dy, parts[at], fresh, holes))
    advances, dxs, dys, part_of, new, wider = np.array(glyphs, dtype=np.float64).reshape(-1, 6).T
    if len(new):
        new[0] = 0.0
    letter, word = (np.unique(column, return_inverse=True)[1] for column in np.array(belongs).reshape(-1, 2).T)
    if everywhere:
        wider, holes = wider - 1, max(holes - 1, 0)
    return ShapedLine(
        tuple(names), np.array(shown, dtype=np.intp), np.array(units, dtype=np.float64),
        np.array(upright, dtype=np.float64), letter, word, advances, dxs, dys, part_of.astype(np.intp), new, wider,
        holes, letters, counts, parts,
    )  # fmt: skip


def plain(line: str, style: Style, turned: bool | None = None) -> ShapedLine:
    """Shape a line that is of one part."""
    return shape(line, ((len(line), 0),) if line else (), (style,), turned)


@dataclass(frozen=True)
class Glyphs:
    """Shaped lines one below another: as `ShapedLine`, all of them one after another, with the `line` (g) of each
    glyph; per line (l) the numbers of its first glyph and of the one behind its last, its `holes`, and which parts it
    has (l, p)."""

    names: tuple[str, ...]
    shown: Places
    units: Floats
    upright: Floats
    letter: Places
    word: Places
    advance: Floats
    dx: Floats
    dy: Floats
    part: Places
    fresh: Floats
    wider: Floats
    line: Places
    start: Places
    stop: Places
    holes: Floats
    has: NDArray[np.bool_]

    @cached_property
    def shape(self) -> tuple[object, ...]:
        """What must be equal for glyphs of other styles to differ from these in numbers alone."""
        columns = (self.shown, self.upright, self.letter, self.part, self.fresh, self.wider, self.line, self.stop)
        return tuple(map(bare, self.names)), *(column.tobytes() for column in columns)


@lru_cache(maxsize=2_048)
def shaped(lines: tuple[Line, ...], styles: tuple[Style, ...]) -> Glyphs:
    """Shape lines."""
    each = [shape(line.text, line.marks, styles, line.turned) for line in lines]
    advance, dx, dy, part, fresh, wider, units, upright, letter, word = (
        np.concatenate([getattr(one, name) for one in each])
        for name in ("advance", "dx", "dy", "part", "fresh", "wider", "units", "upright", "letter", "word")
    )
    counts = np.array([len(one.advance) for one in each], dtype=np.intp)
    stop = np.cumsum(counts)
    for name, column in (("letter", letter), ("word", word)):
        before = np.cumsum([0, *(getattr(one, name).max(initial=-1) + 1 for one in each)])
        column += np.repeat(before[:-1], [len(one.shown) for one in each])
    has = np.zeros((len(each), len(styles)), dtype=bool)
    has[:, 0] = True
    for index, one in enumerate(each):
        has[index, one.letter_parts] = True
    return Glyphs(
        tuple(name for one in each for name in one.names),
        np.concatenate([one.shown + start for one, start in zip(each, stop - counts, strict=True)]), units, upright,
        letter, word, advance, dx, dy, part, fresh, wider, np.repeat(np.arange(len(each)), counts), stop - counts, stop,
        np.array([one.holes for one in each], dtype=np.float64), has,
    )  # fmt: skip


SHARES = {"left": 0.0, "centre": 0.5, "right": 1.0, "justify": 0.0}
"""Which share of what a line leaves of the width stands at its left."""


@dataclass(frozen=True)
class Looks:
    """How large the parts of a text are, (1 | n, p) each: `size` in pixels, `tracking` in thousandths of it, `raised`
    in pixels above the baseline; and the `line_height` (1 | n, 1) in percent of the size, in pixels where `fixed`."""

    size: Floats
    tracking: Floats
    raised: Floats
    line_height: Floats
    fixed: bool = False

    def rows(self, at: Places) -> Looks:
        """At some frames."""
        size, tracking, raised, line_height = (
            rows(one, at) for one in (self.size, self.tracking, self.raised, self.line_height)
        )
        return Looks(size, tracking, raised, line_height, self.fixed)

    @property
    def leading(self) -> Floats:
        """How high the lines of each part are, in pixels."""
        return self.line_height + 0.0 * self.size if self.fixed else self.line_height / 100.0 * self.size

    def shrunk(self, shares: Floats) -> Looks:
        """Set at shares (1 | n, 1) of the size: what is raised, and how high lines are, shrinks with the letters."""
        line_height = self.line_height * shares if self.fixed else self.line_height
        return Looks(self.size * shares, self.tracking, self.raised * shares, line_height, self.fixed)

    @property
    def gaps(self) -> Floats:
        """The tracking in pixels."""
        return self.size * self.tracking / 1000.0


@dataclass(frozen=True)
class Block:
    """A box that a text is set in, in pixels (1 | n, 1): its `width`, its `height` or None where it is as high as its
    lines, the `gap` between paragraphs and the `indent` of their first lines. `stands` (0…1) is the share of what the
    lines leave of the height that stands above them; `hanging` lets marks at the ends of lines stand out."""

    width: Floats
    height: Floats | None
    gap: Floats
    indent: Floats
    stands: float = 0.0
    hanging: bool = False

    def rows(self, at: Places) -> Block:
        """At some frames."""
        height = None if self.height is None else rows(self.height, at)
        return replace(
            self, width=rows(self.width, at), height=height, gap=rows(self.gap, at), indent=rows(self.indent, at)
        )


def rows(column: Floats, at: Places) -> Floats:
    """An array (1 | n, k) at some frames."""
    return column if len(column) == 1 else column[at]


@dataclass(frozen=True)
class Setting:
    """A text set in pixels: `names` (g) of its outlines, their `units` an em and their `parts`, `places` (n, 2g) the
    origins of the glyphs, `size` (1 | n, g) theirs, the box (n, 4) and that of the lines themselves (n, 4), and the
    distances from the top of the box to the baselines of its lines (n, l). `lines` (1 | n, 4g) is for each glyph
    the box of its line. `seen` (1 | n, g) is 0 where a glyph is not part of the text of a frame, else 1. Where the
    style changes, `styled` holds the frames and the names of the glyphs in each style. `widths` (1 | n, g) is how far
    the glyphs go on, and `turns` (n, 2g), where they are turned, the direction in which each does. `cells` (1 | n, 4g)
    is what each takes up of its line, from its origin and along that: left, top, width, height; `belongs` (1 | n, g, 3)
    the numbers of its letter, its word and its line, of those of which something is seen, in reading order."""

    names: tuple[str, ...]
    units: Floats
    parts: Places
    places: Floats
    size: Floats
    box: Floats
    inside: Floats
    baselines: Floats
    lines: Floats
    seen: Floats
    widths: Floats
    cells: Floats
    belongs: Places
    styled: tuple[tuple[Places, tuple[str, ...]], ...] = field(default=())
    turns: Floats | None = None
    called: tuple[str | None, ...] = ()
    """The names of its parts, part 0 that of the rest."""


def widths_of(glyphs: Glyphs, looks: Looks) -> tuple[Floats, Floats]:
    """Where glyphs stand from the left ends of their lines (1 | n, g), and how wide the lines are (1 | n, l)."""
    if not len(glyphs.part):
        return np.zeros((1, 0)), np.zeros((1, len(glyphs.start)))
    steps: Floats = glyphs.advance * looks.size[:, glyphs.part]
    if looks.tracking.any():
        # What follows a letter is its own.
        steps = steps + glyphs.fresh * looks.gaps[:, np.concatenate([glyphs.part[:1], glyphs.part[:-1]])]
        gaps = glyphs.fresh * looks.gaps[:, np.concatenate([glyphs.part[:1], glyphs.part[:-1]])]
    else:
        gaps = np.zeros((1, 1))
    ends = np.cumsum(steps, axis=1)
    pens = ends - steps + gaps
    full = glyphs.stop > glyphs.start
    first = np.where(full, pens[:, np.minimum(glyphs.start, len(glyphs.part) - 1)], 0.0)
    last = np.where(full, ends[:, np.maximum(glyphs.stop - 1, 0)], 0.0)
    return pens - first[:, glyphs.line], last - first


def heights_of(glyphs: Glyphs, metrics: Floats, looks: Looks) -> tuple[Floats, Floats]:
    """How far lines (1 | n, l) reach above their baselines, and how high they are: in each the part that reaches
    furthest. `metrics` are the ascent and the descent of the parts (1 | n, p, 2); as in CSS they are centred in the
    line height."""
    ascent, descent = metrics[:, :, 0], metrics[:, :, 1]
    leading = looks.leading
    above = (leading - (ascent + descent) * looks.size) / 2 + ascent * looks.size
    below = leading - above - looks.raised
    above = above + looks.raised
    if metrics.shape[1] == 1:
        count = len(glyphs.start)
        return np.repeat(above, count, axis=1), np.repeat(above + below, count, axis=1)
    most = np.where(glyphs.has, above[:, None], -np.inf).max(axis=2)
    least = np.where(glyphs.has, below[:, None], -np.inf).max(axis=2)
    return most, most + least


@lru_cache(maxsize=4_096)
def metrics_of(styles: tuple[Style, ...]) -> Floats:
    """The ascent and the descent of styles (1, p, 2) in ems."""
    return np.array([[(style.face.ascent, style.face.descent) for style in styles]])


def set_lines(
    lines: tuple[Line, ...], styles: Sequence[tuple[Style, ...]], align: str, looks: Looks, block: Block | None = None
) -> Setting | None:
    """Set lines in styles, or in others at each frame (1 | n); None where they have other glyphs at some of them."""
    each = [shaped(lines, one) for one in styles]
    glyphs = each[0]
    if len(each) > 1:
        if (block is not None and block.hanging) or any(one.shape != glyphs.shape for one in each):
            return None
        advance, dx, dy = (np.stack([getattr(one, name) for one in each]) for name in ("advance", "dx", "dy"))
        glyphs = replace(glyphs, advance=advance, dx=dx, dy=dy)
    pens, widths = widths_of(glyphs, looks)
    above, heights = heights_of(glyphs, np.concatenate([metrics_of(one) for one in styles]), looks)
    share = SHARES[align]
    down = np.cumsum(heights, axis=1) - heights
    wide = 0.0 * widths
    width: Floats = widths.max(axis=1, keepdims=True)
    if block is None:
        left = -widths * share
    else:
        width = block.width
        into = block.indent * np.array([line.first for line in lines], dtype=np.float64)
        shares = np.array([[_share(line, align) for line in lines]])
        if align == "justify":
            open_ = np.array([[not line.last for line in lines]]) & (glyphs.holes > 0)
            wide = np.where(open_, np.maximum(width - into - widths, 0.0) / np.maximum(glyphs.holes, 1.0), 0.0)
        left = (width - into - widths - wide * glyphs.holes) * shares - width * share + into * (shares < 1)
        down = down + block.gap * np.array([[line.paragraph for line in lines]], dtype=np.float64)
        if block.hanging:
            left, wide = _hung(lines, styles[0], looks, left, wide, glyphs.holes, shares)
    tall = down[:, -1:] + heights[:, -1:]
    height = tall if block is None or block.height is None else block.height
    top = 0.0 * tall if block is None else (height - tall) * block.stands
    of, shown = glyphs.line[glyphs.shown], glyphs.shown
    part = glyphs.part[shown]
    size = looks.size[:, part]
    x = pens[:, shown] + left[:, of] + wide[:, of] * glyphs.wider[shown] + glyphs.dx[..., shown] * size
    y = (down + above + top)[:, of] - looks.raised[:, part] + glyphs.dy[..., shown] * size
    count = max(len(x), len(y))
    places = np.stack(np.broadcast_arrays(x, y), axis=-1).reshape(count, 2 * len(of))
    ends = widths + wide * glyphs.holes
    far = left.min(axis=1, keepdims=True)
    boxes = np.stack(np.broadcast_arrays(left, down + top, ends, heights), axis=-1)[:, of]
    wides = glyphs.advance[..., shown] * size
    cells = np.stack(
        np.broadcast_arrays(-glyphs.dx[..., shown] * size, (down + top)[:, of] - y, wides, heights[:, of]), axis=-1
    )
    rows_of = np.unique(of, return_inverse=True)[1]
    # In line coordinates, which are turned with the line, what stands upright is turned back.
    turns = np.stack([1 - glyphs.upright, -glyphs.upright], axis=1).reshape(1, -1) if glyphs.upright.any() else None
    names, styled = glyphs.names, [(np.array([row]), one.names) for row, one in enumerate(each)]
    if len(each) > 1:
        names = tuple(map(bare, names))
    return Setting(
        names, glyphs.units, part, places, size,
        _joined(-width * share, 0 * width, width, height),
        _joined(far, top, (left + ends).max(axis=1, keepdims=True) - far, tall),
        _joined(down + above + top), boxes.reshape(len(boxes), -1),
        np.ones((1, len(glyphs.names))), wides, cells.reshape(len(cells), -1),
        np.stack([glyphs.letter, glyphs.word, rows_of], axis=-1)[None], tuple(styled) if len(each) > 1 else (),
        turns,
    )  # fmt: skip


def _joined(*columns: Floats) -> Floats:
    return np.concatenate(np.broadcast_arrays(*columns), axis=1)


def _share(line: Line, align: str) -> float:
    """Which share of what a line leaves stands at its left; a justified paragraph's last line begins where it is read
    from."""
    return 1.0 if align == "justify" and line.turned else SHARES[align]


HANGS = {"left": "“‘\"'«‹(", "right": ".,;:!?-‐–—”’\"'»›)·…。、，．"}
"""What hangs outside of a block at its left and its right."""


def _hung(
    lines: tuple[Line, ...], styles: tuple[Style, ...], looks: Looks, left: Floats, wide: Floats, holes: Floats,
    shares: Floats,
) -> tuple[Floats, Floats]:  # fmt: skip
    """The left ends of lines, and what their gaps are widened by, with marks at their ends outside of the block."""
    count = len(looks.size)
    before, behind = np.zeros((count, len(lines))), np.zeros((count, len(lines)))
    for index, line in enumerate(lines):
        text = line.text.rstrip()
        if line.turned or not text:
            continue
        letters = shape(line.text, line.marks, styles, line.turned).letters
        for column, at, marks in ((before, 0, HANGS["left"]), (behind, len(text) - 1, HANGS["right"])):
            if text[at] in marks:
                column[:, index] = letters[at] * looks.size[:, part_at(line.marks, at)]
    full = wide > 0
    more = np.where(full, (before + behind) / np.maximum(holes, 1.0), 0.0)
    return left - np.where(full, before, before * (1 - shares) - behind * shares), wide + more


def set_texts(
    wholes: Sequence[Written], align: str, looks: Looks, block: Block | None = None,
    lines: Sequence[tuple[Line, ...]] | None = None, turned: bool | None = None,
) -> Setting:  # fmt: skip
    """Set a text, or another one at each frame (1 | n); `lines` (1 | n) are they as they were broken, else as typed,
    `turned` as in `is_turned`. A glyph of several texts is drawn by the same instance; one that a frame has not stands
    where its first one does, so that it reaches no further."""
    if lines is None:
        lines = [typed_lines(one.text, one.marks, turned) for one in wholes]
        if all(one == lines[0] for one in lines):
            lines = lines[:1]
    if len(lines) == 1:
        together = set_lines(lines[0], [one.styles for one in wholes], align, looks, block)
        if together is not None:
            return together
    count = max(len(lines), len(wholes))
    frames: dict[tuple[tuple[Line, ...], tuple[Style, ...]], list[int]] = {}
    for frame in range(count):
        key = lines[frame if len(lines) > 1 else 0], wholes[frame if len(wholes) > 1 else 0].styles
        frames.setdefault(key, []).append(frame)
    parts = []
    for (found, styles), listed in frames.items():
        at = np.array(listed, dtype=np.intp)
        one = set_lines(found, [styles], align, looks.rows(at), None if block is None else block.rows(at))
        assert one is not None
        parts.append((at, one))
    return parts[0][1] if len(parts) == 1 else _united(parts, count)


def stood(setting: Setting) -> Setting:
    """A text whose lines run to the right as one whose lines run down, the first of them at the right."""
    count = len(setting.names)
    places = setting.places.reshape(len(setting.places), count, 2)
    ways = np.tile([1.0, 0.0], (1, count)) if setting.turns is None else setting.turns
    return replace(
        setting, places=_quarter(places), turns=_quarter(ways.reshape(len(ways), count, 2)), box=_stood(setting.box),
        inside=_stood(setting.inside), lines=_stood(setting.lines), baselines=np.zeros((1, 0)),
    )  # fmt: skip


def _quarter(points: Floats) -> Floats:
    """Points (n, g, 2) turned by a quarter, one after another."""
    return np.stack([-points[:, :, 1], points[:, :, 0]], axis=2).reshape(len(points), -1)


def _stood(boxes: Floats) -> Floats:
    """Boxes (n, 4g) turned by a quarter."""
    left, top, width, height = np.moveaxis(boxes.reshape(len(boxes), -1, 4), 2, 0)
    return np.stack([-(top + height), left, height, width], axis=2).reshape(len(boxes), -1)


def bare(name: str) -> str:
    """The name of a glyph without the place on the axes at which it is drawn."""
    front, _, glyph = name.rpartition(":")
    return f"{front.partition('@')[0]}:{glyph}"


def _united(settings: list[tuple[Places, Setting]], count: int) -> Setting:
    """Settings of some frames each as one of all."""
    most: Counter[tuple[str, int]] = Counter()
    units: dict[tuple[str, int], float] = {}
    keys = [list(zip(map(bare, one.names), one.parts.tolist(), strict=True)) for _, one in settings]
    for mine, (_, one) in zip(keys, settings, strict=True):
        most |= Counter(mine)
        units.update(zip(mine, one.units.tolist(), strict=True))
    slots = list(most.elements())
    first: dict[tuple[str, int], int] = {}
    for slot, key in enumerate(slots):
        first.setdefault(key, slot)
    places, seen = np.zeros((count, len(slots), 2)), np.zeros((count, len(slots)))
    size, lines = np.ones((count, len(slots))), np.zeros((count, len(slots), 4))
    widths, cells = np.zeros((count, len(slots))), np.zeros((count, len(slots), 4))
    belongs = np.zeros((count, len(slots), 3), dtype=np.intp)
    turned = any(one.turns is not None for _, one in settings)
    turns = np.tile([1.0, 0.0], (count, len(slots), 1))
    box, inside = np.zeros((count, 4)), np.zeros((count, 4))
    baselines = np.zeros((count, max(one.baselines.shape[1] for _, one in settings)))
    styled = []
    for mine, (at, one) in zip(keys, settings, strict=True):
        own = one.places.reshape(len(one.places), len(one.names), 2)
        boxes = one.lines.reshape(len(one.lines), len(one.names), 4)
        box[at], inside[at] = one.box, one.inside
        # A text of fewer lines has its last baseline several times.
        lowest = [*range(one.baselines.shape[1])] + [-1] * (baselines.shape[1] - one.baselines.shape[1])
        baselines[at] = one.baselines[:, lowest]
        if own.shape[1]:
            places[at] = own[:, :1]
        used: dict[tuple[str, int], int] = {}
        taken = []
        for key in mine:
            slot = used.get(key, first[key])
            used[key] = slot + 1
            taken.append(slot)
        into = np.ix_(at, np.array(taken, dtype=np.intp))
        places[into], lines[into], belongs[into] = own, boxes, one.belongs
        cells[into] = one.cells.reshape(len(one.cells), -1, 4)
        if one.turns is not None:
            turns[into] = one.turns.reshape(1, -1, 2)
        size[into], widths[into], seen[into] = one.size, one.widths, 1.0
        names = [""] * len(slots)
        for slot, name in zip(taken, one.names, strict=True):
            names[slot] = name
        styled.append((at, tuple(names)))
    # Of a style that stays the name of a glyph is the same at all frames.
    known: list[set[str]] = [{names[slot] for _, names in styled} - {""} for slot in range(len(slots))]
    found = [name for name, _ in slots]
    if all(len(one) == 1 for one in known):
        found, styled = [one.pop() for one in known], []
    return Setting(
        tuple(found), np.array([units[key] for key in slots]), np.array([part for _, part in slots], dtype=np.intp),
        places.reshape(count, -1), size, box, inside, baselines, lines.reshape(count, -1), seen, widths,
        cells.reshape(count, -1), belongs, tuple(styled), turns.reshape(count, -1) if turned else None,
    )  # fmt: skip
