"""The harbour at dusk: the demo's picture, and the frames of its film, drawn with skia."""

from __future__ import annotations

import math

import skia

from ..paint.surfaces import new_surface

FLASH = 111
"""The frame of the film in which the lighthouse is brightest."""
FILM_FRAMES = 240


def harbour(width: int = 1920, height: int = 1080) -> bytes:
    """A PNG of a low sun over mudflats, sea and rocks."""
    surface = new_surface(width, height)
    canvas = surface.getCanvas()
    canvas.scale(width / 1920, height / 1080)
    _view(canvas)
    return bytes(surface.makeImageSnapshot().encodeToData(skia.kPNG, 100))


def film_frame(number: int, surface: skia.Surface) -> None:
    """Paint a frame of the film, 1920 × 1080 at 30 a second: out of black, water and a boat that move, and the flash of
    a lighthouse."""
    canvas = surface.getCanvas()
    canvas.save()
    _view(canvas, number / 30)
    canvas.restore()
    light = math.exp(-(((number - FLASH) / 4) ** 2)) if number <= FLASH else math.exp(-(number - FLASH) / 9)
    beam = skia.GradientShader.MakeRadial(
        skia.Point(300, 468), 900, [int(light * 235) << 24 | 0xFFF6DC, 0x00FFF6DC], [0.0, 1.0]
    )
    canvas.drawRect(skia.Rect.MakeWH(1920, 1080), skia.Paint(AntiAlias=True, Shader=beam))
    if number < 15:
        canvas.drawColor(skia.Color(0, 0, 0, round(255 * (1 - number / 15))))


def _view(canvas: skia.Canvas, seconds: float | None = None) -> None:
    sky = skia.GradientShader.MakeLinear(
        [skia.Point(0, 0), skia.Point(0, 640)], [0xFFF7D09A, 0xFFF2B287, 0xFFE8997A], [0.0, 0.55, 1.0]
    )
    canvas.drawRect(skia.Rect.MakeWH(1920, 1080), skia.Paint(AntiAlias=True, Shader=sky))
    glow = skia.GradientShader.MakeRadial(skia.Point(1580, 560), 420, [0x66FCE9BE, 0x00FCE9BE])
    canvas.drawRect(skia.Rect.MakeWH(1920, 700), skia.Paint(AntiAlias=True, Shader=glow))
    canvas.drawCircle(1580, 560, 116, skia.Paint(AntiAlias=True, Color=0xFFFBE4BC))
    moved = seconds or 0.0
    if seconds is not None:
        _lighthouse(canvas)
    _wave(canvas, 592, 14, 900, 0.4 + moved * 0.5, 0xFF1F6069)
    _gulls(canvas, moved)
    if seconds is not None:
        _boat(canvas, seconds)
    _wave(canvas, 706, 20, 1260, 2.2 - moved * 0.6, 0xFF184E59)
    _wave(canvas, 838, 16, 1600, 4.0 + moved * 0.8, 0xFF123E48)
    for left, top, right, colour in ((1120, 800, 2200, 0xFF5C4738), (1240, 910, 2300, 0xFF493329)):
        path = skia.Path()
        path.moveTo(left, 1080)
        path.cubicTo(left + 140, top + 30, left + 300, top - 20, left + 460, top + 20)
        path.cubicTo(left + 620, top + 60, right - 400, top + 40, right, top + 130)
        path.lineTo(right, 1080)
        path.close()
        canvas.drawPath(path, skia.Paint(AntiAlias=True, Color=colour))


def _lighthouse(canvas: skia.Canvas) -> None:
    for points, colour in (
        (((268, 620), (282, 490), (318, 490), (332, 620)), 0xFFE9D9BE),
        (((276, 492), (324, 492), (300, 440)), 0xFF8A3B2E),
    ):
        path = skia.Path()
        path.addPoly([skia.Point(x, y) for x, y in points], True)
        canvas.drawPath(path, skia.Paint(AntiAlias=True, Color=colour))
    canvas.drawRect(skia.Rect.MakeXYWH(288, 458, 24, 26), skia.Paint(AntiAlias=True, Color=0xFFFFF0C4))


def _boat(canvas: skia.Canvas, seconds: float) -> None:
    canvas.save()
    canvas.translate(560 + 70 * seconds, 676 + 9 * math.sin(seconds * 2.1))
    canvas.rotate(2.2 * math.sin(seconds * 1.7))
    for points, colour in (
        (((-92, 0), (96, 0), (70, 40), (-66, 40)), 0xFF3A2A24), (((-8, -8), (-8, -150), (78, -14)), 0xFFF6E7C8),
        (((-20, -8), (-20, -132), (-70, -14)), 0xFFE3B46C),
    ):  # fmt: skip
        path = skia.Path()
        path.addPoly([skia.Point(x, y) for x, y in points], True)
        canvas.drawPath(path, skia.Paint(AntiAlias=True, Color=colour))
    canvas.restore()


def _wave(canvas: skia.Canvas, level: float, reach: float, length: float, phase: float, colour: int) -> None:
    path = skia.Path()
    path.moveTo(0, 1080)
    for x in range(0, 1921, 12):
        path.lineTo(x, level + reach * math.sin(x / length * math.tau + phase))
    path.lineTo(1920, 1080)
    path.close()
    canvas.drawPath(path, skia.Paint(AntiAlias=True, Color=colour))


def _gulls(canvas: skia.Canvas, moved: float = 0.0) -> None:
    paint = skia.Paint(AntiAlias=True, Color=0xFF6B4A45, StrokeWidth=5, Style=skia.Paint.kStroke_Style)
    paint.setStrokeCap(skia.Paint.kRound_Cap)
    for left, y, size in ((1560, 150, 34), (1640, 196, 24), (1484, 214, 20)):
        x = left - moved * 26
        path = skia.Path()
        path.moveTo(x - size, y)
        path.quadTo(x - size / 2, y - size * 0.6, x, y)
        path.quadTo(x + size / 2, y - size * 0.6, x + size, y)
        canvas.drawPath(path, paint)
