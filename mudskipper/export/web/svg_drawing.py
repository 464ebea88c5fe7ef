"""Drawing operations as SVG 2: at one frame, or over all frames, from frame to frame, by SMIL and CSS."""

from __future__ import annotations

import html
from base64 import b64encode
from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path as FilePath

import numpy as np

from ...core.draw.operations import (
    TAKES,
    Below,
    Column,
    Glyphs,
    GradientPaint,
    Group,
    Image,
    MaskPath,
    Matte,
    Operation,
    Paint,
    Path,
)  # fmt: skip
from ...core.geometry.perspective import fine, project
from ...core.text.fonts import outline
from ...media.files import MediaFiles
from ..media_loader import clip_frame
from .svg_text import TextRuns

IDENTITY = np.array([[1.0, 0.0, 0.0, 1.0, 0.0, 0.0]], dtype=np.float32)
EVERYWHERE = 'x="-100000" y="-100000" width="200000" height="200000"'
NO_EFFECTS = "Effects are left out: SVG has none that are the same."
NO_FILTERS = "Filter layers are left out."
NO_CONIC = "Conic gradients are left out: SVG has none; their first colour is there instead."
NO_MOVING_GRADIENT = "Gradients that are turned or stretched as they move stand still within."
NO_MOVING_BLUR = "Masks whose softness changes keep that of the first frame."
NO_CLIPS = "Clips stand still, at the first frame that is seen of them."
JUMP = "steps(1, jump-end)"


def number(value: float) -> str:
    """A number, short, exact to a thousandth of a pixel and five digits.

    >>> number(0.5), number(-0.0), number(1234.56789)
    ('.5', '0', '1234.568')
    """
    text = f"{value:.3f}" if abs(value) >= 100 else f"{value:.5g}"
    if "e" in text:
        text = f"{value:.6f}"
    if "." in text:
        text = text.rstrip("0").rstrip(".")
    return {"-0": "0", "": "0"}.get(text, text.replace("0.", ".", 1) if text.startswith(("0.", "-0.")) else text)


class Element:
    """An element that is being written: its attributes, and what animates them."""

    def __init__(self, drawing: SvgDrawing, name: str, index: int) -> None:
        self._drawing, self._name, self._index = drawing, name, index
        self._attributes: list[str] = []
        self._inner: list[str] = []

    def add(self, text: str) -> None:
        """Have attributes as they are written."""
        if text:
            self._attributes.append(text if text.startswith(" ") else f" {text}")

    def put(
        self, name: str, column: Column, written: Callable[[Sequence[float]], str], plain: str | None = None
    ) -> None:
        """An attribute by a column, animated where that changes; left out where it is as it is by default."""
        drawing = self._drawing
        if drawing.count == 1 or len(column) == 1:
            text = written(row_of(column, self._index))
            if text != plain:
                self.add(f'{name}="{text}"')
            return
        values, times = drawing.steps([written(row) for row in column.tolist()])
        self.add(f'{name}="{values[0]}"')
        if len(values) > 1:
            self._inner.append(
                f'<animate attributeName="{name}" dur="{drawing.seconds:g}s" calcMode="discrete" fill="freeze" '
                f'repeatCount="{drawing.plays or "indefinite"}" values="{";".join(values)}" '
                f'keyTimes="{";".join(map(str, times))}"/>'
            )

    @property
    def attributes(self) -> tuple[str, ...]:
        """Its attributes as they are written."""
        return tuple(self._attributes)

    @property
    def moves(self) -> bool:
        """Whether any of them is animated."""
        return bool(self._inner)

    @property
    def plain(self) -> bool:
        """Whether it says nothing."""
        return not self._attributes and not self._inner

    def text(self, inner: str = "") -> str:
        """The element, around what lies in it."""
        within = "".join(self._inner) + inner
        head = f"<{self._name}{''.join(self._attributes)}"
        return f"{head}>{within}</{self._name}>" if within else f"{head}/>"


class SvgDrawing:
    """Writes operations as elements; what they share goes into `defs`, animations of CSS into `css`, what cannot be
    told into `lost`. With `count` frames, that last `seconds`, columns that change are animated from frame to frame.
    With `texts` letters are text, where they can be."""

    def __init__(
        self, files: MediaFiles, *, count: int = 1, seconds: float = 1.0, plays: int = 0, texts: bool = False
    ) -> None:
        self.texts = TextRuns() if texts else None
        self.defs: list[str] = []
        self.css: list[str] = []
        self.lost: dict[str, None] = {}
        self._files = files
        self.count, self.seconds, self.plays = count, seconds, plays
        self._named: dict[str, str] = {}
        self._number = 0

    def id(self, of: str) -> str:
        """A name that nothing else has."""
        self._number += 1
        return f"{of}{self._number}"

    def group(self, group: Group, index: int = 0) -> str:
        """A group with all that lies in it; nothing where it is not seen."""
        if any(isinstance(part, Below) for part in group.parts):
            self.lost[NO_FILTERS] = None
            return ""
        inner = "".join(self.part(part, group.matrix, index) for part in group.parts)
        if not inner or (self.count == 1 and not row_of(group.visible, index)[0]):
            return ""
        one = Element(self, "g", index)
        if group.apart:
            one.put("opacity", group.opacity, lambda row: number(row[0] / 255), "1")
        one.put("visibility", group.visible, lambda row: "inherit" if row[0] else "hidden", "inherit")
        if group.blend != "normal":
            one.add(f'style="mix-blend-mode:{group.blend}"')
        inner = self.dressed(group, inner, index)
        return inner if one.plain else one.text(inner)

    def dressed(self, group: Group, inner: str, index: int) -> str:
        """What lies in a group, behind its masks and its matte."""
        if group.effects is not None:
            self.lost[NO_EFFECTS] = None
        if group.masks:
            inner = f'<g mask="url(#{self._masks(group.masks, index)})">{inner}</g>'
        if group.matte is not None:
            inner = f'<g mask="url(#{self._matte(group.matte, index)})">{inner}</g>'
        return inner

    def part(self, part: Operation, matrix: Column, index: int) -> str:
        """An operation, under the matrix of the group that it lies in."""
        if isinstance(part, Group):
            return self.group(part, index)
        if isinstance(part, Path):
            return self._path(part, matrix, index)
        if isinstance(part, Glyphs):
            return self._glyphs(part, matrix, index)
        return self._image(part, matrix, index) if isinstance(part, Image) else ""

    def steps(self, each: list[str]) -> tuple[list[str], list[float]]:
        """Values without those that are as the one before, and when (0…1) each begins."""
        kept = [at for at, value in enumerate(each) if at == 0 or value != each[at - 1]]
        return [each[at] for at in kept], [round(at / self.count, 9) for at in kept]

    def _under(self, matrix: Column, index: int) -> str:
        """The attribute of a matrix, animated by CSS where that changes: SMIL has none."""

        def written(row: Sequence[float]) -> str:
            return f"matrix({','.join(f'{one:.9g}' for one in row)})"

        if self.count == 1 or len(matrix) == 1 or (matrix == matrix[0]).all():
            text = written(row_of(matrix, index if len(matrix) > 1 and self.count == 1 else 0))
            return "" if text == "matrix(1,0,0,1,0,0)" else f' transform="{text}"'
        values, times = self.steps([written(row) for row in matrix.tolist()])
        key = ";".join(values)
        name = self._named.get(key)
        if name is None:
            name = self._named[key] = self.id("k")
            frames = "".join(f"{at * 100:.7g}%{{transform:{value}}}" for at, value in zip(times, values, strict=True))
            self.css.append(f"@keyframes {name}{{{frames}100%{{transform:{values[-1]}}}}}")
        again = "infinite" if self.plays == 0 else str(self.plays)
        return f' style="transform-origin:0 0;animation:{name} {self.seconds:g}s {JUMP} {again} both"'

    def _path(self, part: Path, matrix: Column, index: int, solid: str = "") -> str:
        one = Element(self, "path", index)
        one.put("d", part.points, lambda row: path_data(part.verbs, row))
        if part.rule == "evenodd":
            one.add('fill-rule="evenodd"')
        self._ink(one, "fill", part.fill, index, solid)
        if part.stroke is not None and part.stroke_width is not None:
            self._ink(one, "stroke", part.stroke, index, solid)
            one.put("stroke-width", part.stroke_width, lambda row: number(max(row[0], 0)))
            one.add("" if part.cap == "butt" else f'stroke-linecap="{part.cap}"')
            one.add("" if part.join == "miter" else f'stroke-linejoin="{part.join}"')
            if part.mitre is not None:
                one.put("stroke-miterlimit", part.mitre, lambda row: number(row[0]))
            if part.dash is not None and part.dash_offset is not None:
                one.put("stroke-dasharray", part.dash, _dashes, "none")
                one.put("stroke-dashoffset", part.dash_offset, lambda row: number(row[0]))
        one.add(self._under(matrix, index))
        return one.text()

    def _ink(self, one: Element, name: str, paint: Paint | None, index: int, solid: str = "") -> None:
        if isinstance(paint, GradientPaint) and paint.kind == "conic" and not solid:
            self.lost[NO_CONIC] = None
            paint = paint.colours[:, :4]
        if solid or paint is None:
            one.add(f'{name}="{solid if paint is not None else "none"}"')
        elif isinstance(paint, GradientPaint):
            one.add(f'{name}="{self._gradient(paint, index)}"')
        else:
            one.put(name, paint, _hex)
            one.put(f"{name}-opacity", paint, lambda row: number(row[3] / 255), "1")

    def _gradient(self, paint: GradientPaint, index: int) -> str:
        name = self.id("g")
        whole = Element(self, f"{paint.kind}Gradient", index)
        whole.add(f'id="{name}" gradientUnits="userSpaceOnUse"')
        fields = ("x1", "y1", "x2", "y2") if paint.kind == "linear" else ("cx", "cy", "r")
        for place, field in enumerate(fields):
            whole.put(field, paint.geometry[:, [place]], lambda row: number(row[0]))
        if paint.matrix is not None:
            if self.count > 1 and (paint.matrix != paint.matrix[0]).any():
                self.lost[NO_MOVING_GRADIENT] = None
            row = row_of(paint.matrix, index)
            whole.add(f'gradientTransform="matrix({",".join(f"{one:.9g}" for one in row)})"')
        stops = []
        for place in range(paint.offsets.shape[1]):
            stop = Element(self, "stop", index)
            stop.put("offset", paint.offsets[:, [place]], lambda row: number(row[0]))
            colour = paint.colours[:, 4 * place : 4 * place + 4]
            stop.put("stop-color", colour, _hex)
            stop.put("stop-opacity", colour, lambda row: number(row[3] / 255), "1")
            stops.append(stop.text())
        self.defs.append(whole.text("".join(stops)))
        return f"url(#{name})"

    def _glyphs(self, part: Glyphs, matrix: Column, index: int) -> str:
        """Letters as outlines, each under a matrix of its own; those in perspective are projected at each frame."""
        if self.texts is not None and part.names:
            one = Element(self, "g", index)
            one.add(self._under(matrix, index))
            ink = Element(self, "text", index)
            self._ink(ink, "fill", part.fill, index)
            told = self.texts.written(part, "".join(ink.attributes)) if part.single and not ink.moves else None
            if told is not None:
                return one.text(told)
        many = part.matrices.shape[1] // max(len(part.names), 1)
        found = []
        for place, name in enumerate(part.names):
            one = Element(self, "path", index)
            own = part.matrices[:, many * place : many * place + many]
            self._ink(one, "fill", part.fill if part.single else part.fill[:, 4 * place : 4 * place + 4], index)
            shape = outline(name)
            if many == 9:
                verbs, points = fine(shape.verbs, np.array([shape.coordinates]))
                rows = [project(row, points.reshape(-1, 2)).reshape(-1) for row in own.astype(np.float64)]
                one.put("d", np.array(rows, dtype=np.float32), partial(path_data, verbs))
                one.add(self._under(matrix, index))
            else:
                one.add(f'd="{path_data(shape.verbs, shape.coordinates)}"')
                one.add(self._under(product(matrix, own), index))
            found.append(one.text())
        return "".join(found)

    def _image(self, part: Image, matrix: Column, index: int) -> str:
        href = self._picture(part, index)
        if not href:
            return ""
        one = Element(self, "image", index)
        one.add(f'href="{href}" preserveAspectRatio="none"')
        for place, field in enumerate(("x", "y", "width", "height")):
            one.put(field, part.box[:, [place]], lambda row: number(row[0]))
        one.put("opacity", part.opacity, lambda row: number(row[0] / 255), "1")
        one.add(self._under(matrix, index))
        return one.text()

    def _picture(self, part: Image, index: int) -> str:
        if part.frame is None:
            path = FilePath(self._files.pictures[part.source])
            return data_url(path.read_bytes())
        seen = part.frame[part.frame >= 0]
        if not seen.size:
            return ""
        here = int(row_of(part.frame, index)[0]) if self.count == 1 else -1
        if len(part.frame) > 1 and self.count > 1:
            self.lost[NO_CLIPS] = None
        return data_url(clip_frame(self._files, part.source, here if here >= 0 else int(seen[0])))

    def _masks(self, masks: tuple[MaskPath, ...], index: int) -> str:
        """Masks as one mask of SVG by brightness: white where the group is shown."""
        ground = "#fff" if masks[0].mode != "add" else "#000"
        shown = f'<rect {EVERYWHERE} fill="{ground}"/>'
        for mask in masks:
            coverage = self.id("m")
            inside, outside = ("#000", "#fff") if mask.inverted else ("#fff", "#000")
            parts = "".join(self._path(part, mask.matrix, index, inside) for part in mask.parts)
            blur = row_of(mask.blur, index)[0]
            if self.count > 1 and (mask.blur != mask.blur[0]).any():
                self.lost[NO_MOVING_BLUR] = None
            if blur > 0:
                soft = self.id("f")
                self.defs.append(
                    f'<filter id="{soft}" filterUnits="userSpaceOnUse" {EVERYWHERE} color-interpolation-filters="sRGB">'
                    f'<feGaussianBlur stdDeviation="{number(blur)}"/></filter>'
                )
                parts = f'<g filter="url(#{soft})">{parts}</g>'
            self._mask(coverage, f'<rect {EVERYWHERE} fill="{outside}"/>{parts}')
            if mask.mode == "intersect":
                one = Element(self, "g", index)
                one.add(f'mask="url(#{coverage})"')
                one.put("opacity", mask.strength, lambda row: number(row[0] / 255), "1")
                shown = one.text(shown)
            else:
                one = Element(self, "rect", index)
                one.add(f'{EVERYWHERE} fill="{"#fff" if mask.mode == "add" else "#000"}" mask="url(#{coverage})"')
                one.put("opacity", mask.strength, lambda row: number(row[0] / 255), "1")
                shown += one.text()
        name = self.id("m")
        self._mask(name, shown)
        return name

    def _matte(self, matte: Matte, index: int) -> str:
        parts = "".join(self.part(part, IDENTITY, index) for part in matte.parts)
        name = self.id("m")
        brightness = matte.by == "brightness"
        if brightness:
            parts = f'<rect {EVERYWHERE} fill="#000"/>{parts}'
        if matte.inverted:
            other = self.id("f")
            channel = "RGB" if brightness else "A"
            turned = "".join(f'<feFunc{one} type="table" tableValues="1 0"/>' for one in channel)
            self.defs.append(
                f'<filter id="{other}" filterUnits="userSpaceOnUse" {EVERYWHERE} color-interpolation-filters="sRGB">'
                f"<feComponentTransfer>{turned}</feComponentTransfer></filter>"
            )
            parts = f'<g filter="url(#{other})">{parts}</g>'
        self._mask(name, parts, alpha=not brightness)
        return name

    def _mask(self, name: str, inner: str, alpha: bool = False) -> None:
        kind = ' style="mask-type:alpha"' if alpha else ""
        self.defs.append(f'<mask id="{name}" maskUnits="userSpaceOnUse" {EVERYWHERE}{kind}>{inner}</mask>')


def document(drawing: SvgDrawing, body: str, width: float, height: float, name: str, background: str = "") -> str:
    """A whole SVG file."""
    ground = ""
    if background and not background.endswith("00"):
        alpha = "" if background.endswith("ff") else f' fill-opacity="{number(int(background[7:], 16) / 255)}"'
        ground = f'<rect width="{number(width)}" height="{number(height)}" fill="{background[:7]}"{alpha}/>'
    rules = [*(drawing.texts.css() if drawing.texts else []), *drawing.css]
    css = f"<style>{''.join(rules)}</style>" if rules else ""
    defs = f"<defs>{''.join(drawing.defs)}</defs>" if drawing.defs else ""
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{number(width)}" height="{number(height)}" '
        f'viewBox="0 0 {number(width)} {number(height)}" role="img" aria-label="{html.escape(name, quote=True)}">'
        f"{css}{defs}{ground}{body}</svg>\n"
    )


def path_data(verbs: str, numbers: Sequence[float]) -> str:
    """An outline as the `d` of a path."""
    found, place = [], 0
    for verb in verbs:
        count = 2 * TAKES[verb]
        found.append(verb + " ".join(map(number, numbers[place : place + count])))
        place += count
    return "".join(found)


def data_url(data: bytes) -> str:
    """A picture's file as an address that holds it."""
    kinds = {b"\x89PNG": "png", b"\xff\xd8\xff": "jpeg", b"GIF8": "gif", b"RIFF": "webp"}
    kind = next((kind for head, kind in kinds.items() if data.startswith(head)), "png")
    return f"data:image/{kind};base64,{b64encode(data).decode()}"


def row_of(column: Column, index: int) -> list[float]:
    row: list[float] = column[index if len(column) > 1 else 0].tolist()
    return row


def _hex(row: Sequence[float]) -> str:
    return "#" + bytes(int(one) for one in row[:3]).hex()


def _dashes(row: Sequence[float]) -> str:
    return "none" if row[0] < 0 else " ".join(map(number, row))


def product(outer: Column, inner: Column) -> Column:
    """Matrices (1 | n, 6) one after another: first the inner one."""
    a, b, c, d, e, f = np.asarray(outer, dtype=np.float64).T
    g, h, i, j, k, m = np.asarray(inner, dtype=np.float64).T
    return np.stack(
        [a * g + c * h, b * g + d * h, a * i + c * j, b * i + d * j, a * k + c * m + e, b * k + d * m + f], axis=1
    )
