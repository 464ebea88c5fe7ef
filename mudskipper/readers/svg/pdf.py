"""The first page of a PDF (ISO 32000) as SVG: its paths, clips and texts, with the matrices of the forms that they lie
in. What is read so comes in as SVG does."""

from __future__ import annotations

import ctypes
import math
from dataclasses import dataclass, replace
from html import escape
from typing import Any

import pypdfium2 as pdfium
import pypdfium2.raw as raw

from .document import Unreadable

Matrix = tuple[float, float, float, float, float, float]
IDENTITY: Matrix = (1.0, 0.0, 0.0, 1.0, 0.0, 0.0)
MOST_OBJECTS = 20_000
CSS = 96 / 72
"""Pixels of a point."""
NO_PICTURES = "pictures"
NO_SHADINGS = "shadings"


def svg_of_pdf(data: bytes) -> tuple[bytes, list[str]]:
    """SVG of the first page, and what was left out; Unreadable where there is none."""
    try:
        document = pdfium.PdfDocument(data)
    except pdfium.PdfiumError as fault:
        locked = "password" in str(fault).lower()
        raise Unreadable(
            "It is locked by a password." if locked else "It is no PDF that can be read.",
            "Save it again without one." if locked else "Save it again; it may be cut off.",
        ) from None
    if not len(document):
        raise Unreadable("There is no page in it.", "Choose another file.")
    reader = _Page(document)
    notes = [*reader.notes]
    if len(document) > 1:
        notes.append(f"the pages after the first ({len(document) - 1})")
    return reader.svg.encode(), notes


@dataclass(frozen=True)
class _Run:
    """Words that stand in a line: how they look, the matrix of the text, the size of an em and where the ink ends, both
    in the picture."""

    words: str
    look: str
    matrix: Matrix
    em: float
    end: float

    def goes_on(self, other: _Run) -> bool:
        """Whether another run goes on where this one ends."""
        level = self.matrix[1] == self.matrix[2] == 0 and self.matrix[:4] == other.matrix[:4]
        gap = other.matrix[4] - self.end
        near = -0.3 * self.em < gap < 0.7 * self.em
        return level and near and self.look == other.look and abs(self.matrix[5] - other.matrix[5]) < 0.05 * self.em

    def with_next(self, other: _Run) -> _Run:
        """Both as one, a space between where there is room for one."""
        space = " " if other.matrix[4] - self.end > 0.17 * self.em and not self.words.endswith(" ") else ""
        return replace(self, words=self.words + space + other.words, end=other.end)

    def svg(self) -> str:
        # Letters stand upright in a picture whose y goes down.
        upright = _product(self.matrix, (1.0, 0.0, 0.0, -1.0, 0.0, 0.0))
        return f'<text {self.look} transform="{_written(upright)}">{escape(self.words)}</text>'


class _Page:
    def __init__(self, document: Any) -> None:
        page = document[0]
        self.notes: dict[str, None] = {}
        self._clips: list[str] = []
        self._count = 0
        self._text_page = page.get_textpage()
        left, bottom, right, top = page.get_cropbox()
        turned = page.get_rotation()
        wide, high = right - left, top - bottom
        # Up is down in a picture.
        placed: Matrix = {
            0: (1.0, 0.0, 0.0, -1.0, -left, top), 90: (0.0, 1.0, 1.0, 0.0, -bottom, -left),
            180: (-1.0, 0.0, 0.0, 1.0, right, -bottom), 270: (0.0, -1.0, -1.0, 0.0, top, right),
        }[turned]  # fmt: skip
        if turned in (90, 270):
            wide, high = high, wide
        count = raw.FPDFPage_CountObjects(page)
        parts = self._objects([raw.FPDFPage_GetObject(page, at) for at in range(count)], placed)
        self.svg = (
            f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide * CSS:.6g}" height="{high * CSS:.6g}" '
            f'viewBox="0 0 {wide:.6g} {high:.6g}"><defs>{"".join(self._clips)}</defs>{parts}</svg>'
        )

    def _objects(self, objects: list[Any], outer: Matrix) -> str:
        """Back to front; texts that go on where the one before ends are one."""
        found: list[str] = []
        run: _Run | None = None
        for one in objects:
            text = None
            if raw.FPDFPageObj_GetType(one) == raw.FPDF_PAGEOBJ_TEXT:
                text = self._text(one, outer)
                if text is None:
                    continue  # blank
            if run is not None and text is not None and run.goes_on(text):
                run = run.with_next(text)
                continue
            found += [run.svg()] if run else []
            run = text
            if text is None:
                found.append(self._object(one, outer))
        return "".join([*found, *([run.svg()] if run else [])])

    def _object(self, one: Any, outer: Matrix) -> str:
        self._count += 1
        if self._count > MOST_OBJECTS:
            raise Unreadable(f"It holds more than {MOST_OBJECTS:,} things.", "Simplify it.")
        kind = raw.FPDFPageObj_GetType(one)
        own = _matrix_of(one)
        if kind == raw.FPDF_PAGEOBJ_FORM:
            within = [raw.FPDFFormObj_GetObject(one, at) for at in range(raw.FPDFFormObj_CountObjects(one))]
            return self._clipped(one, outer, f"<g>{self._objects(within, _product(outer, own))}</g>")
        if kind == raw.FPDF_PAGEOBJ_PATH:
            return self._clipped(one, outer, self._path(one, _product(outer, own)))
        self.notes[NO_PICTURES if kind == raw.FPDF_PAGEOBJ_IMAGE else NO_SHADINGS] = None
        return ""

    def _path(self, one: Any, matrix: Matrix) -> str:
        fill, stroke = ctypes.c_int(), ctypes.c_int()
        raw.FPDFPath_GetDrawMode(one, fill, stroke)
        if not fill.value and not stroke.value:
            return ""
        count = raw.FPDFPath_CountSegments(one)
        data = _path_data(count, lambda at: raw.FPDFPath_GetPathSegment(one, at))
        said = ""
        if fill.value:
            rule = ' fill-rule="evenodd"' if fill.value == raw.FPDF_FILLMODE_ALTERNATE else ""
            said += _paint("fill", one, raw.FPDFPageObj_GetFillColor) + rule
        else:
            said += ' fill="none"'
        if stroke.value:
            width = ctypes.c_float()
            raw.FPDFPageObj_GetStrokeWidth(one, width)
            cap = {0: "butt", 1: "round", 2: "square"}.get(raw.FPDFPageObj_GetLineCap(one), "butt")
            join = {0: "miter", 1: "round", 2: "bevel"}.get(raw.FPDFPageObj_GetLineJoin(one), "miter")
            said += _paint("stroke", one, raw.FPDFPageObj_GetStrokeColor)
            said += f' stroke-width="{width.value or 1:.6g}" stroke-linecap="{cap}" stroke-linejoin="{join}"'
            said += _dashes(one)
        return f'<path d="{data}"{said} transform="{_written(matrix)}"/>'

    def _text(self, one: Any, outer: Matrix) -> _Run | None:
        """A text object as a run; None where nothing of it is seen."""
        words = self._words(one)
        if not words.strip():
            return None
        matrix = _product(outer, _matrix_of(one))
        size = ctypes.c_float()
        raw.FPDFTextObj_GetFontSize(one, size)
        font = raw.FPDFTextObj_GetFont(one)
        family = _string(lambda buffer, long: raw.FPDFFont_GetFamilyName(font, buffer, long))
        italic = ctypes.c_int()
        raw.FPDFFont_GetItalicAngle(font, italic)
        weight = raw.FPDFFont_GetWeight(font)
        style = ' font-style="italic"' if italic.value else ""
        bold = f' font-weight="{min(max(weight, 100), 900)}"' if weight > 0 else ""
        edges = [ctypes.c_float() for _ in range(4)]
        raw.FPDFPageObj_GetBounds(one, *edges)
        end = outer[0] * edges[2].value + outer[4] if outer[1] == outer[2] == 0 else math.nan
        look = (
            f'font-family="{escape(family or "sans-serif")}" font-size="{size.value:.6g}"{style}{bold}'
            f"{_paint('fill', one, raw.FPDFPageObj_GetFillColor)}"
        )
        return _Run(words, look, matrix, size.value * abs(matrix[0]), end)

    def _words(self, one: Any) -> str:
        long = raw.FPDFTextObj_GetText(one, self._text_page, None, 0)
        buffer = ctypes.create_string_buffer(long + 2)
        raw.FPDFTextObj_GetText(one, self._text_page, ctypes.cast(buffer, ctypes.POINTER(ctypes.c_ushort)), long)
        words = buffer.raw[:long].decode("utf-16-le", "ignore").split("\0")[0]
        return "".join(letter for letter in words if letter.isprintable())

    def _clipped(self, one: Any, outer: Matrix, drawn: str) -> str:
        """What is drawn within the clips of an object, which lie in the pixels of what it lies in."""
        clip = raw.FPDFPageObj_GetClipPath(one)
        count = raw.FPDFClipPath_CountPaths(clip) if clip else 0
        if not drawn or count < 1:
            return drawn
        for at in range(count):
            segments = raw.FPDFClipPath_CountPathSegments(clip, at)
            if segments < 1:
                continue
            data = _path_data(segments, lambda n, at=at: raw.FPDFClipPath_GetPathSegment(clip, at, n))
            name = f"clip{len(self._clips)}"
            self._clips.append(f'<clipPath id="{name}"><path d="{data}" transform="{_written(outer)}"/></clipPath>')
            drawn = f'<g clip-path="url(#{name})">{drawn}</g>'
        return drawn


def _path_data(count: int, segment: Any) -> str:
    x, y = ctypes.c_float(), ctypes.c_float()
    found: list[str] = []
    curve: list[str] = []
    for at in range(count):
        one = segment(at)
        raw.FPDFPathSegment_GetPoint(one, x, y)
        kind = raw.FPDFPathSegment_GetType(one)
        point = f"{x.value:.7g} {y.value:.7g}"
        if not (math.isfinite(x.value) and math.isfinite(y.value)):
            raise Unreadable("It holds numbers that are none.", "Save it again.")
        if kind == raw.FPDF_SEGMENT_BEZIERTO:
            curve.append(point)
            if len(curve) == 3:
                found.append(f"C{' '.join(curve)}")
                curve = []
        else:
            found.append(("M" if kind == raw.FPDF_SEGMENT_MOVETO else "L") + point)
        if raw.FPDFPathSegment_GetClose(one) and not curve:
            found.append("Z")
    return "".join(found)


def _paint(name: str, one: Any, get: Any) -> str:
    red, green, blue, alpha = (ctypes.c_uint() for _ in range(4))
    if not get(one, red, green, blue, alpha):
        return f' {name}="#000000"'
    seen = f' {name}-opacity="{alpha.value / 255:.4g}"' if alpha.value < 255 else ""
    return f' {name}="#{red.value:02x}{green.value:02x}{blue.value:02x}"{seen}'


def _dashes(one: Any) -> str:
    count = raw.FPDFPageObj_GetDashCount(one)
    if count < 1:
        return ""
    lengths, phase = (ctypes.c_float * count)(), ctypes.c_float()
    raw.FPDFPageObj_GetDashArray(one, lengths, count)
    raw.FPDFPageObj_GetDashPhase(one, phase)
    told = " ".join(f"{length:.6g}" for length in lengths)
    return f' stroke-dasharray="{told}" stroke-dashoffset="{phase.value:.6g}"'


def _matrix_of(one: Any) -> Matrix:
    found = raw.FS_MATRIX()
    if not raw.FPDFPageObj_GetMatrix(one, found):
        return IDENTITY
    return found.a, found.b, found.c, found.d, found.e, found.f


def _product(outer: Matrix, inner: Matrix) -> Matrix:
    a, b, c, d, e, f = outer
    g, h, i, j, k, m = inner
    return a * g + c * h, b * g + d * h, a * i + c * j, b * i + d * j, a * k + c * m + e, b * k + d * m + f


def _written(matrix: Matrix) -> str:
    return f"matrix({' '.join(f'{one:.8g}' for one in matrix)})"


def _string(get: Any) -> str:
    long = get(None, 0)
    buffer = ctypes.create_string_buffer(max(long, 1))
    get(buffer, long)
    return buffer.value.decode("utf-8", "replace")
