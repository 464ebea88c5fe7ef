"""The exporter's painter: a draw list on a skia canvas, operation for operation as the stage paints it."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import skia

from ..core.drawlist import (
    Column,
    DrawList,
    EllipseOp,
    GlyphsOp,
    Operation,
    PictureOp,
    Pop,
    Push,
    RectangleOp,
)
from ..core.text.fonts import outline

Pictures = Callable[[str], skia.Image]

SAMPLING = skia.SamplingOptions(skia.FilterMode.kLinear)
ARC = 0.5522847498307936  # the handle of a cubic quarter circle: 4/3 (√2 - 1)
BLENDS = {
    "normal": skia.BlendMode.kSrcOver, "multiply": skia.BlendMode.kMultiply, "screen": skia.BlendMode.kScreen,
    "overlay": skia.BlendMode.kOverlay, "darken": skia.BlendMode.kDarken, "lighten": skia.BlendMode.kLighten,
    "color-dodge": skia.BlendMode.kColorDodge, "color-burn": skia.BlendMode.kColorBurn,
    "hard-light": skia.BlendMode.kHardLight, "soft-light": skia.BlendMode.kSoftLight,
    "difference": skia.BlendMode.kDifference, "exclusion": skia.BlendMode.kExclusion, "hue": skia.BlendMode.kHue,
    "saturation": skia.BlendMode.kSaturation, "color": skia.BlendMode.kColor,
    "luminosity": skia.BlendMode.kLuminosity, "plus-lighter": skia.BlendMode.kPlus,
}  # fmt: skip


def new_surface(width: int, height: int) -> skia.Surface:
    """A transparent surface, 8 bits a channel, premultiplied, in the byte order (BGRA) that browsers paint in.

    In any other order Skia blends edges on another way, and they differ from the stage by 1 of 255.
    """
    info = skia.ImageInfo.Make(width, height, skia.kBGRA_8888_ColorType, skia.kPremul_AlphaType)
    return skia.Surface.MakeRaster(info)


class Painter:
    """Paints frames of draw lists on one surface; glyph paths are kept between frames."""

    def __init__(self, width: int, height: int, pictures: Pictures, scale: float = 1.0) -> None:
        self.surface = new_surface(max(round(width * scale), 1), max(round(height * scale), 1))
        self._scale = scale
        self._pictures = pictures
        self._paths: dict[str, skia.Path] = {}

    def paint(self, drawing: DrawList, index: int) -> None:
        """Paint the frame at `index` of the draw list's frames."""
        canvas = self.surface.getCanvas()
        canvas.resetMatrix()
        red, green, blue, alpha = drawing.background
        canvas.clear(skia.Color(red, green, blue, alpha))
        canvas.scale(self._scale, self._scale)
        operations = iter(drawing.operations)
        for operation in operations:
            if isinstance(operation, Push) and not _row(operation.visible, index)[0]:
                while not isinstance(next(operations), Pop):
                    pass
                continue
            self._do(canvas, operation, index)

    def pixels(self, opaque: bool = False) -> np.ndarray:
        """The frame as (height, width, 4) bytes, r g b a, not premultiplied; `opaque` gives it laid over black."""
        width, height = self.surface.width(), self.surface.height()
        alpha = skia.kPremul_AlphaType if opaque else skia.kUnpremul_AlphaType
        info = skia.ImageInfo.Make(width, height, skia.kRGBA_8888_ColorType, alpha)
        out = np.empty((height, width, 4), dtype=np.uint8)
        self.surface.readPixels(skia.Pixmap(info, out, width * 4), 0, 0)
        return out

    def png(self) -> bytes:
        """The frame as a PNG file."""
        return bytes(self.surface.makeImageSnapshot().encodeToData(skia.kPNG, 100))

    def _do(self, canvas: skia.Canvas, operation: Operation, index: int) -> None:
        if isinstance(operation, Push):
            self._push(canvas, operation, index)
        elif isinstance(operation, Pop):
            canvas.restoreToCount(self._depth)
        elif isinstance(operation, RectangleOp):
            left, top, width, height = _row(operation.box, index)
            radius = _row(operation.corners, index)[0]
            path = _rounded(left, top, width, height, radius, radius)
            self._fill_and_stroke(canvas, path, operation, index)
        elif isinstance(operation, EllipseOp):
            left, top, width, height = _row(operation.box, index)
            path = _rounded(left, top, width, height, width / 2, height / 2)
            self._fill_and_stroke(canvas, path, operation, index)
        elif isinstance(operation, GlyphsOp):
            self._glyphs(canvas, operation, index)
        else:
            self._picture(canvas, operation, index)

    def _push(self, canvas: skia.Canvas, push: Push, index: int) -> None:
        self._depth = canvas.save()
        a, b, c, d, e, f = _row(push.matrix, index)
        opacity = _row(push.opacity, index)[0]
        self._blend = BLENDS[push.blend]
        if push.grouped and (opacity < 255 or push.blend != "normal"):
            paint = skia.Paint(Alpha=int(opacity), BlendMode=self._blend)
            canvas.saveLayer(None, paint)
            self._blend = skia.BlendMode.kSrcOver
        canvas.concat(skia.Matrix.MakeAll(a, c, e, b, d, f, 0, 0, 1))

    def _fill_and_stroke(
        self, canvas: skia.Canvas, path: skia.Path, operation: RectangleOp | EllipseOp, index: int
    ) -> None:
        if operation.fill is not None:
            canvas.drawPath(path, self._paint(operation.fill, index))
        if operation.stroke is not None and operation.stroke_width is not None:
            width = _row(operation.stroke_width, index)[0]
            if width > 0:
                paint = self._paint(operation.stroke, index)
                paint.setStyle(skia.Paint.kStroke_Style)
                paint.setStrokeWidth(width)
                paint.setStrokeMiter(10)
                canvas.drawPath(path, paint)

    def _glyphs(self, canvas: skia.Canvas, operation: GlyphsOp, index: int) -> None:
        whole = skia.Path()
        places, scales = _row(operation.places, index), _row(operation.scale, index)
        for number, name in enumerate(operation.names):
            scale = scales[number]
            matrix = skia.Matrix.MakeAll(scale, 0, places[2 * number], 0, scale, places[2 * number + 1], 0, 0, 1)
            whole.addPath(self._glyph(name), matrix)
        canvas.drawPath(whole, self._paint(operation.fill, index))

    def _glyph(self, name: str) -> skia.Path:
        path = self._paths.get(name)
        if path is None:
            path = self._paths[name] = skia.Path()
            shape = outline(name)
            numbers = iter(shape.coordinates)
            for verb in shape.verbs:
                take = [next(numbers) for _ in range({"M": 2, "L": 2, "Q": 4, "C": 6, "Z": 0}[verb])]
                {"M": path.moveTo, "L": path.lineTo, "Q": path.quadTo, "C": path.cubicTo, "Z": path.close}[verb](*take)
        return path

    def _picture(self, canvas: skia.Canvas, operation: PictureOp, index: int) -> None:
        paint = skia.Paint(AntiAlias=True, Alpha=int(_row(operation.opacity, index)[0]), BlendMode=self._blend)
        rect = skia.Rect.MakeXYWH(*_row(operation.box, index))
        canvas.drawImageRect(self._pictures(operation.asset), rect, SAMPLING, paint)

    def _paint(self, colour: Column, index: int) -> skia.Paint:
        red, green, blue, alpha = _row(colour, index)
        return skia.Paint(
            AntiAlias=True, Color=skia.Color(int(red), int(green), int(blue), int(alpha)), BlendMode=self._blend
        )


def _rounded(x: float, y: float, width: float, height: float, rx: float, ry: float) -> skia.Path:
    """A rectangle with corners as cubic quarter arcs, call for call as the stage builds it."""
    path = skia.Path()
    right, bottom = x + width, y + height
    if rx <= 0 or ry <= 0:
        path.moveTo(x, y)
        path.lineTo(right, y)
        path.lineTo(right, bottom)
        path.lineTo(x, bottom)
        path.close()
        return path
    kx, ky = rx * (1 - ARC), ry * (1 - ARC)
    path.moveTo(x + rx, y)
    path.lineTo(right - rx, y)
    path.cubicTo(right - kx, y, right, y + ky, right, y + ry)
    path.lineTo(right, bottom - ry)
    path.cubicTo(right, bottom - ky, right - kx, bottom, right - rx, bottom)
    path.lineTo(x + rx, bottom)
    path.cubicTo(x + kx, bottom, x, bottom - ky, x, bottom - ry)
    path.lineTo(x, y + ry)
    path.cubicTo(x, y + ky, x + kx, y, x + rx, y)
    path.close()
    return path


def _row(column: Column, index: int) -> list[float]:
    row: list[float] = column[index if len(column) > 1 else 0].tolist()
    return row
