"""Lines of text."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import Annotated, ClassVar, Literal, Self

import numpy as np
from pydantic import AfterValidator, Field

from ..draw.inks import Ink
from ..draw.pen import Pen
from ..formulas.texts import texts_of
from ..geometry.bezier import Floats
from ..geometry.values import within
from ..ground.base_model import Flag, Id
from ..ground.shown import Shown
from ..shapes.gradient import Gradient, Paint
from ..shapes.stroke import Stroke
from ..text.breaking import Line, typed_lines
from ..text.families import Fonts
from ..text.features import tags_of
from ..text.fonts import Font, Style, is_layer
from ..text.layout import Looks, Places, Setting, set_texts, stood
from ..text.letters import Letters, ink_box, inks, letters_of, matrices_of
from ..text.written import SMALL, Case, Written, written
from ..tracks.colour import ColourTrack
from ..tracks.kinds import NumberTrack, TextTrack
from ..tracks.walk import tracks_in
from .base import Around, Content, Painted, Values
from .cascade import MOST_CASCADES, Cascade, in_time
from .cascade_moves import Moved, moved
from .cascade_units import UnitsOf, units_of
from .font_axes import FontAxis
from .text_block import TextBlock, lines_in_block, set_in_block
from .text_cascades import draw_moved
from .text_layers import paint_layers
from .text_parts import MOST_PARTS, Axes, Features, TextPart
from .text_path import TextPath, course_of, laid
from .text_style import TextStyle, restyled, style_of, styled

PAINTS = ("fill", "stroke", "cascades.")
"""How the paths of values begin that no place of a letter depends on."""


def _readable(text: str) -> str:
    cleaned = text.replace("\r\n", "\n").replace("\r", "\n").replace("\t", " ")
    if not cleaned.strip():
        raise ValueError("a text needs at least one character that shows; delete the layer to remove it")
    if any(ord(c) < 32 and c != "\n" for c in cleaned):
        raise ValueError("a text may hold no control characters but line breaks")
    return cleaned


class TextContent(Content):
    """Lines of text. Without a block the origin is the top of the first line's box, at the edge or middle that `align`
    names; with one it is so of the block."""

    longest_name: ClassVar[int] = 40

    kind: Literal["text"] = "text"
    text: Annotated[str, Field(strict=True, max_length=5_000), AfterValidator(_readable), Shown("Text")]
    font: Annotated[Font, Shown("Font")] = Font()
    axes: Annotated[Axes, Shown("Axes")] = ()
    features: Annotated[Features, Shown("Features")] = ()
    case: Annotated[Case, Shown("Case")] = "typed"
    size: Annotated[NumberTrack, Shown("Text size", "px", low=0.1, high=10_000, what="a text size in pixels")] = (
        NumberTrack(rest=72.0)
    )
    tracking: Annotated[
        NumberTrack,
        Shown("Tracking", "‰ em", low=-1_000, high=10_000, what="tracking in thousandths of the text size"),
    ] = NumberTrack(rest=0.0)
    line_height: Annotated[NumberTrack, Shown("Leading", "%", low=10, high=1_000, what="a line height in percent")] = (
        NumberTrack(rest=120.0)
    )
    leading: Annotated[
        NumberTrack | None, Shown("Leading", "px", low=0.1, high=100_000, what="a line height in pixels")
    ] = None
    """How high lines are whatever the size is, in place of `line_height`."""
    align: Annotated[Literal["left", "centre", "right", "justify"], Shown("Alignment")] = "left"
    """`justify` widens the spaces of lines in a block, but of the last of each paragraph; without one it is `left`."""
    direction: Annotated[Literal["auto", "left to right", "right to left"], Shown("Reads")] = "auto"
    """From where paragraphs are read; by themselves by their first letter that has a direction (UAX 9)."""
    vertical: Annotated[Flag, Shown("Vertical")] = False
    """Whether its lines run down, the first of them at the right; in a block they break where that has a height. Along
    a path they do not."""
    block: Annotated[TextBlock | None, Shown("Block")] = None
    path: Annotated[TextPath | None, Shown("Path")] = None
    """The outline that it runs along; where that is not there it stands straight."""
    measure: Annotated[Literal["lines", "ink", "capitals"], Shown("Box by")] = "lines"
    """What its box is: the lines, or the block; what is seen of the letters; or from the top of capitals down to the
    last baseline."""
    fill: Annotated[Paint | None, Shown("Fill")] = ColourTrack(rest="#1b2628ff")
    stroke: Annotated[Stroke | None, Shown("Stroke")] = None
    stroke_behind: Annotated[Flag, Shown("Stroke behind")] = False
    tinted: Annotated[Flag, Shown("Emoji in the fill")] = False
    """Whether letters with colours of their own are painted in the fill, as light and dark as they are."""
    spread: Annotated[Literal["text", "line", "letter"], Shown("Gradient over")] = "text"
    """What a gradient goes across."""
    parts: Annotated[tuple[TextPart, ...], Field(max_length=MOST_PARTS), Shown("Parts")] = ()
    """Letters of it that differ from the rest."""
    cascades: Annotated[tuple[Cascade, ...], Field(max_length=MOST_CASCADES), Shown("Cascades")] = ()
    """Its letters, words or lines moved one after another; each on top of those before it."""
    style: Id | None = None
    """The style of the project that it follows, by its id, in all that is still as that one has it."""
    written: Annotated[TextTrack | None, Shown("Text")] = None
    """A formula that writes the text, frame by frame; `text` is `base` in it."""

    @property
    def look(self) -> TextStyle:
        return style_of(self)

    def in_style(self, name: str, look: TextStyle) -> tuple[Self, list[str]]:
        return styled(self, name, look)

    def restyled(self, was: TextStyle, look: TextStyle) -> Self:
        return restyled(self, was, look)

    @property
    def _turned(self) -> bool | None:
        """Whether its paragraphs are read from the right; None where they say it themselves."""
        return None if self.direction == "auto" else self.direction == "right to left"

    @property
    def _runs_down(self) -> bool:
        return self.vertical and self.path is None

    def _block(self, values: Values) -> tuple[TextBlock, Values] | None:
        """The block that lines break in, with the values of its tracks; those of lines that run down are as long as it
        is high."""
        if self.block is None:
            return None
        own = within(values, "block.")
        if not self._runs_down:
            return self.block, own
        if self.block.height is None:
            return None
        return self.block, {**own, "width": own["height"], "height": own["width"]}

    @property
    def default_name(self) -> str:
        return self.text.split("\n")[0].strip()[: self.longest_name] or "Text"

    @property
    def words(self) -> str:
        return self.text

    @property
    def text_parts(self) -> tuple[TextPart, ...]:
        return self.parts

    def painted(self, part: int | None) -> tuple[Painted, str] | None:
        if part is None:
            return self, ""
        return (self.parts[part], f"parts.{part}.") if part < len(self.parts) else None

    def shifted(self, by: float, fps: float) -> Self:
        return in_time(self, lambda frame: frame + by, 1.0)

    def at_rate(self, old_start: int, start: int, old: Fraction, rate: Fraction) -> Self:
        ratio = float(rate / old)
        return in_time(self, lambda frame: (frame + old_start) * ratio - start, ratio)

    @property
    def families(self) -> tuple[str, ...]:
        return (self.font.family, *(part.font.family for part in self.parts if part.font))

    def wholes(self, values: Values, fonts: Fonts) -> list[Written]:
        """The text with the marks and styles of its parts: at each frame where it is written by a formula or axes of a
        font move, else once."""
        codes = values.get("written")
        texts = [self.text] if codes is None or not codes.shape[1] else texts_of(codes)
        stretches = tuple((part.start, part.stop) for part in self.parts)
        cases = (self.case, *(part.case or self.case for part in self.parts))
        styles = [self._styles(self.font, self.axes, self.features, "axes.", values, fonts)]
        for index, part in enumerate(self.parts):
            start = f"parts.{index}.axes." if part.axes is not None else "axes."
            axes = self.axes if part.axes is None else part.axes
            features = self.features if part.features is None else part.features
            own = self._styles(part.font or self.font, axes, features, start, values, fonts)
            styles.append([replace(one, sized=index + 1) for one in own] if part.size is not None else own)
        if self._runs_down:
            styles = [[replace(one, vertical=True) for one in own] for own in styles]
        count = max(len(texts), *map(len, styles))
        return [
            written(
                texts[row if len(texts) > 1 else 0], stretches, cases,
                tuple(each[row if len(each) > 1 else 0] for each in styles),
            )
            for row in range(count)
        ]  # fmt: skip

    @staticmethod
    def _styles(
        font: Font, axes: tuple[FontAxis, ...], features: tuple[str, ...], start: str, values: Values, fonts: Fonts
    ) -> list[Style]:
        """How letters are shaped: at each frame where axes of the font move, else once."""
        tags = tags_of(features)
        if not axes:
            return [Style(font, fonts, (), tags)]
        known = {axis.tag: axis for axis in fonts.family_of(font.family).file(font.weight, font.italic).axes}
        columns = [
            (axis.tag, values[f"{start}{index}.value"][:, 0].tolist())
            for index, axis in enumerate(axes)
            if axis.tag in known
        ]
        count = max((len(column) for _, column in columns), default=1)
        return [
            Style(
                font, fonts,
                tuple((tag, known[tag].kept(column[row if len(column) > 1 else 0])) for tag, column in columns), tags,
            )
            for row in range(count)
        ]  # fmt: skip

    def looks(self, values: Values, count: int) -> Looks:
        """How large its parts are: the rest, each part, and small capitals that are made of large ones."""
        size, tracking = values["size"], values["tracking"]
        sizes, trackings, raised = [size], [tracking], [np.zeros((1, 1))]
        for index, part in enumerate(self.parts):
            own = within(values, f"parts.{index}.")
            sizes.append(size * own["size"] / 100.0 if part.size is not None else size)
            trackings.append(own["tracking"] if part.tracking is not None else tracking)
            raised.append(own["raised"] if part.raised is not None else np.zeros((1, 1)))
        if count > len(sizes):
            sizes, trackings, raised = [*sizes, *(one * SMALL for one in sizes)], trackings * 2, raised * 2
        columns = [np.concatenate(np.broadcast_arrays(*part), axis=1) for part in (sizes, trackings, raised)]
        if self.leading is not None:
            return Looks(columns[0], columns[1], columns[2], values["leading"], fixed=True)
        return Looks(columns[0], columns[1], columns[2], values["line_height"])

    def setting(self, values: Values, around: Around) -> Setting:
        """The text set at its size, tracking and line height; once for what asks with the very same values."""
        used = [values[name] for name in sorted(values) if not name.startswith(PAINTS)]
        kept = around.kept.get("setting")
        if kept and len(kept) == len(used) + 1 and all(a is b for a, b in zip(kept[1:], used, strict=True)):
            assert isinstance(kept[0], Setting)
            return kept[0]
        made = self._laid(self.set_with(values, around.fonts), values, around)
        around.kept["setting"] = (made, *used)
        return made

    def _laid(self, setting: Setting, values: Values, around: Around) -> Setting:
        """The text along its path, where it has one that is there."""
        found = around.outline(self.path.layer) if self.path is not None and setting.names else None
        if self.path is None or found is None:
            return setting
        course = course_of(*found, self.path.side == "inside")
        if course is None:
            return setting
        capitals = self.wholes(values, around.fonts)[0].styles[0].face.capitals * values["size"]
        return laid(setting, self.path, within(values, "path."), course, capitals)

    @property
    def needs(self) -> tuple[str, ...]:
        return () if self.path is None else (self.path.layer,)

    def relinked(self, ids: Mapping[str, str | None]) -> Self:
        if self.path is None or self.path.layer not in ids:
            return self
        other = ids[self.path.layer]
        return self.model_copy(update={"path": other and self.path.model_copy(update={"layer": other})})

    def lines(self, values: Values, fonts: Fonts) -> list[tuple[Line, ...]]:
        """Its lines as they are broken: at each frame where they change, else once."""
        wholes = self.wholes(values, fonts)
        block = self._block(values)
        if block is None:
            return [typed_lines(one.text, one.marks, self._turned) for one in wholes]
        looks = self.looks(values, len(wholes[0].styles))
        return lines_in_block(*block, wholes, looks, self._turned)[0]

    def set_with(self, values: Values, fonts: Fonts) -> Setting:
        """The text set at its size, tracking and line height with the fonts that are at hand."""
        wholes = self.wholes(values, fonts)
        looks = self.looks(values, len(wholes[0].styles))
        block = self._block(values)
        if block is None:
            setting = set_texts(wholes, self.align, looks, turned=self._turned)
        else:
            setting = set_in_block(*block, wholes, self.align, looks, self._turned)
        if any(part.name for part in self.parts):
            setting = replace(setting, called=(None, *(part.name for part in self.parts)))
        return stood(setting) if self._runs_down else setting

    def box(self, values: Values, around: Around) -> Floats:
        return self._box(self.setting(values, around), values, around)

    def _box(self, setting: Setting, values: Values, around: Around) -> Floats:
        if self.measure == "ink":
            return ink_box(setting)
        if setting.turns is not None or not setting.baselines.size:
            return setting.box
        if self.measure == "capitals":
            capitals = self.wholes(values, around.fonts)[0].styles[0].face.capitals
            top = setting.box[:, 1:2] + setting.baselines[:, :1] - capitals * values["size"]
            bottom = setting.box[:, 1:2] + setting.baselines[:, -1:]
            wide = setting.box if self.block is None else setting.inside
            return np.concatenate(np.broadcast_arrays(wide[:, :1], top, wide[:, 2:3], bottom - top), axis=1)
        return setting.box

    def baselines(self, values: Values, around: Around) -> Floats:
        setting = self.setting(values, around)
        return np.asarray(setting.box[:, 1:2] + setting.baselines)

    def draw(self, pen: Pen, values: Values, around: Around) -> None:
        setting = self.setting(values, around)
        if not setting.names:
            return  # a formula may write a text of which nothing is seen
        places = self._moved(setting, values, around) if self.cascades else None
        if places is None:
            self.draw_some(pen, setting, np.arange(len(setting.names)), values, around)
        else:
            draw_moved(pen, self, setting, places, values, around)

    @property
    def on_axes(self) -> bool:
        """Whether any of its letters may be elsewhere on the axes of its font from frame to frame."""
        return bool(self.axes) or any(part.axes for part in self.parts)

    @property
    def reflows(self) -> bool:
        """Whether its letters may stand on other lines, or be others, from frame to frame."""
        if self.written is not None:
            return True
        moving = (track.moves for path, track in tracks_in(self) if not path.startswith(PAINTS))
        return (self.block is not None or bool(self.axes)) and any(moving)

    def _moved(self, setting: Setting, values: Values, around: Around) -> Moved | None:
        return moved(setting, self.cascades, within(values, "cascades."), around.local, around.of_units)

    def set_out(self, values: Values, around: Around) -> tuple[UnitsOf, tuple[Cascade, ...]] | None:
        setting = self.setting(values, around)
        return (lambda unit: units_of(setting, unit), self.cascades) if self.cascades else None

    def looks_of(self, setting: Setting) -> tuple[list[Look], Places]:
        """What its parts are painted with, and the number of the look of each letter."""
        of = setting.parts % (len(self.parts) + 1)
        looks = [Look(self.fill, self.stroke, "")]
        for index, part in enumerate(self.parts):
            start = f"parts.{index}."
            fill, at = (part.fill, start) if part.fill is not None else (self.fill, "")
            stroke, line_at = (part.stroke, start) if part.stroke is not None else (self.stroke, "")
            looks.append(Look(fill, None if part.bare else stroke, at, line_at))
        first = np.array([looks.index(look) for look in looks])
        return looks, first[of]

    def draw_some(
        self, pen: Pen, setting: Setting, slots: Places, values: Values, around: Around, drawn: Letters | None = None,
        outlined: bool = False,
    ) -> None:  # fmt: skip
        """Draw some letters; `drawn` are the outlines of all, where they are known, and all are drawn by them where
        `outlined`."""
        looks, of = self.looks_of(setting)
        layers = [slot for slot in slots.tolist() if is_layer(setting.names[slot])]
        bare = set(layers)
        # Parts that are painted alike are painted as one.
        alike: dict[int, list[int]] = {}
        for slot in slots.tolist():
            if slot not in bare:
                alike.setdefault(int(of[slot]), []).append(slot)
        for number, listed in alike.items():
            look, some = looks[number], np.array(listed, dtype=np.intp)
            if not outlined and look.stroke is None and not isinstance(look.fill, Gradient) and not setting.styled:
                if look.fill is not None:
                    _plain(pen, setting, some, values[f"{look.start}fill"])
                continue
            if drawn is None:
                drawn = letters_of(setting, any(look.stroke is not None for look in looks))
            paints = [self._fill, self._stroke]
            for paint in reversed(paints) if self.stroke_behind else paints:
                paint(pen, setting, drawn, some, look, values, around)
        fills = [values[f"{look.start}fill"] if isinstance(look.fill, ColourTrack) else None for look in looks]
        inks = [fills[number] for number in of[layers].tolist()]
        paint_layers(pen, setting, layers, inks, self.tinted, drawn if outlined else None)

    @property
    def has_strokes(self) -> bool:
        """Whether any of its letters has a stroke."""
        return self.stroke is not None or any(part.stroke is not None for part in self.parts)

    def _fill(
        self, pen: Pen, setting: Setting, drawn: Letters, slots: Places, look: Look, values: Values, around: Around
    ) -> None:
        if look.fill is None:
            return
        for some, box in self._spread(look.fill, setting, slots, values, around):
            verbs, points = drawn.joined(some)
            name = f"{look.start}fill"
            ink: Ink = (
                look.fill.ink(within(values, f"{name}."), box) if isinstance(look.fill, Gradient) else values[name]
            )
            pen.path(verbs, points, ink)

    def _stroke(
        self, pen: Pen, setting: Setting, drawn: Letters, slots: Places, look: Look, values: Values, around: Around
    ) -> None:
        if look.stroke is None:
            return
        own = within(values, f"{look.line_start}stroke.")
        own["width"] = own["width"] * (setting.seen[:, slots] > 0).any(axis=1, keepdims=True)
        for some, box in self._spread(look.stroke.colour, setting, slots, values, around):
            verbs, points = drawn.joined(some)
            look.stroke.draw(pen, verbs, points, own, lambda box=box: box)  # type: ignore[misc]

    def _spread(
        self, paint: ColourTrack | Gradient, setting: Setting, slots: Places, values: Values, around: Around
    ) -> Iterator[tuple[Places, Floats]]:
        """What is painted in one go, by the numbers of its letters, and the box of each."""
        if not isinstance(paint, Gradient) or self.spread == "text":
            yield slots, self._box(setting, values, around)
        elif self.spread == "letter":
            each = inks(setting)
            for slot in slots.tolist():
                yield (
                    np.array([slot]),
                    np.concatenate([each[:, slot, :2], each[:, slot, 2:] - each[:, slot, :2]], axis=1),
                )
        else:
            lines = setting.lines.reshape(len(setting.lines), len(setting.names), 4)
            same: dict[bytes, list[int]] = {}
            for slot in slots.tolist():
                same.setdefault(np.ascontiguousarray(lines[:, slot]).tobytes(), []).append(slot)
            for some in same.values():
                yield np.array(some), lines[:, some[0]]


@dataclass(frozen=True)
class Look:
    """What letters are painted with, and how the paths of the values begin of their fill and of their stroke."""

    fill: ColourTrack | Gradient | None
    stroke: Stroke | None
    start: str
    line_start: str = ""


def _plain(pen: Pen, setting: Setting, slots: Places, fill: Floats) -> None:
    """Paint letters in one colour."""
    matrices = matrices_of(setting, slots)
    pen.glyphs(tuple(setting.names[slot] for slot in slots), matrices.reshape(len(matrices), -1), fill)
