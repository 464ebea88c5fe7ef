"""The harbour at dusk: the demo's picture, drawn with skia."""

from __future__ import annotations

import math

import skia

from ..paint.painter import new_surface


def harbour(width: int = 1920, height: int = 1080) -> bytes:
    """A PNG of a low sun over mudflats, sea and rocks."""
    surface = new_surface(width, height)
    canvas = surface.getCanvas()
    canvas.scale(width / 1920, height / 1080)
    sky = skia.GradientShader.MakeLinear(
        [skia.Point(0, 0), skia.Point(0, 640)], [0xFFF7D09A, 0xFFF2B287, 0xFFE8997A], [0.0, 0.55, 1.0]
    )
    canvas.drawRect(skia.Rect.MakeWH(1920, 1080), skia.Paint(AntiAlias=True, Shader=sky))
    glow = skia.GradientShader.MakeRadial(skia.Point(1580, 560), 420, [0x66FCE9BE, 0x00FCE9BE])
    canvas.drawRect(skia.Rect.MakeWH(1920, 700), skia.Paint(AntiAlias=True, Shader=glow))
    canvas.drawCircle(1580, 560, 116, skia.Paint(AntiAlias=True, Color=0xFFFBE4BC))
    _wave(canvas, 592, 14, 900, 0.4, 0xFF1F6069)
    _gulls(canvas)
    _wave(canvas, 706, 20, 1260, 2.2, 0xFF184E59)
    _wave(canvas, 838, 16, 1600, 4.0, 0xFF123E48)
    for left, top, right, colour in ((1120, 800, 2200, 0xFF5C4738), (1240, 910, 2300, 0xFF493329)):
        path = skia.Path()
        path.moveTo(left, 1080)
        path.cubicTo(left + 140, top + 30, left + 300, top - 20, left + 460, top + 20)
        path.cubicTo(left + 620, top + 60, right - 400, top + 40, right, top + 130)
        path.lineTo(right, 1080)
        path.close()
        canvas.drawPath(path, skia.Paint(AntiAlias=True, Color=colour))
    return bytes(surface.makeImageSnapshot().encodeToData(skia.kPNG, 100))


def _wave(canvas: skia.Canvas, level: float, reach: float, length: float, phase: float, colour: int) -> None:
    path = skia.Path()
    path.moveTo(0, 1080)
    for x in range(0, 1921, 12):
        path.lineTo(x, level + reach * math.sin(x / length * math.tau + phase))
    path.lineTo(1920, 1080)
    path.close()
    canvas.drawPath(path, skia.Paint(AntiAlias=True, Color=colour))


def _gulls(canvas: skia.Canvas) -> None:
    paint = skia.Paint(AntiAlias=True, Color=0xFF6B4A45, StrokeWidth=5, Style=skia.Paint.kStroke_Style)
    paint.setStrokeCap(skia.Paint.kRound_Cap)
    for x, y, size in ((1560, 150, 34), (1640, 196, 24), (1484, 214, 20)):
        path = skia.Path()
        path.moveTo(x - size, y)
        path.quadTo(x - size / 2, y - size * 0.6, x, y)
        path.quadTo(x + size / 2, y - size * 0.6, x + size, y)
        canvas.drawPath(path, paint)
