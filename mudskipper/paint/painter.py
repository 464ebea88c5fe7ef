"""The exporter's painter: a draw list on a skia canvas, operation for operation as the stage paints it."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
import skia

from ..core.draw.blurs import REACH, SMALL_BLUR
from ..core.draw.operations import (
    TAKES,
    Below,
    Column,
    DrawList,
    Effects,
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
from ..core.geometry.bezier import Floats
from ..core.geometry.perspective import fine, project
from ..core.text.fonts import outline
from .effects import PAINTERS
from .kept_sheets import KeptSheets
from .surfaces import SAMPLING, new_surface, summed

Media = Callable[[str, int | None], skia.Image | None]
"""Gives a picture by its id, or a frame of a clip by its number; None where there is none."""

BLENDS = {
    "normal": skia.BlendMode.kSrcOver, "multiply": skia.BlendMode.kMultiply, "screen": skia.BlendMode.kScreen,
    "overlay": skia.BlendMode.kOverlay, "darken": skia.BlendMode.kDarken, "lighten": skia.BlendMode.kLighten,
    "color-dodge": skia.BlendMode.kColorDodge, "color-burn": skia.BlendMode.kColorBurn,
    "hard-light": skia.BlendMode.kHardLight, "soft-light": skia.BlendMode.kSoftLight,
    "difference": skia.BlendMode.kDifference, "exclusion": skia.BlendMode.kExclusion, "hue": skia.BlendMode.kHue,
    "saturation": skia.BlendMode.kSaturation, "color": skia.BlendMode.kColor,
    "luminosity": skia.BlendMode.kLuminosity, "plus-lighter": skia.BlendMode.kPlus,
}  # fmt: skip


CAPS = {"butt": skia.Paint.kButt_Cap, "round": skia.Paint.kRound_Cap, "square": skia.Paint.kSquare_Cap}
RULES = {"nonzero": skia.PathFillType.kWinding, "evenodd": skia.PathFillType.kEvenOdd}
MASKS = {"add": skia.BlendMode.kSrcOver, "subtract": skia.BlendMode.kDstOut, "intersect": skia.BlendMode.kDstIn}
JOINS = {"miter": skia.Paint.kMiter_Join, "round": skia.Paint.kRound_Join, "bevel": skia.Paint.kBevel_Join}


class Painter:
    """Paints frames of draw lists on one surface; glyph paths are kept between frames."""

    def __init__(self, width: int, height: int, media: Media, scale: float = 1.0) -> None:
        self.surface = new_surface(max(round(width * scale), 1), max(round(height * scale), 1))
        self._scale = scale
        # What takes scene pixels to those of the surface that is painted on, and the size of that.
        self._place = skia.Matrix.Scale(scale, scale)
        self._size = self.surface.width(), self.surface.height()
        self._media = media
        self._paths: dict[str, skia.Path] = {}
        self._cut: dict[str, tuple[str, Floats]] = {}
        self._sheets = KeptSheets()
        self._on = self.surface
        """What is painted on, where nothing lies between."""

    def paint(self, drawing: DrawList, index: int) -> None:
        """Paint the frame at `index` of the draw list's frames."""
        canvas = self.surface.getCanvas()
        canvas.resetMatrix()
        red, green, blue, alpha = drawing.background
        canvas.clear(skia.Color(red, green, blue, alpha))
        for group in drawing.groups:
            self._group(canvas, group, index)

    def pixels(self, premultiplied: bool = False) -> np.ndarray:
        """The frame as (height, width, 4) bytes, r g b a; premultiplied, its colours are those over black, which is how
        it is seen where there is no alpha."""
        width, height = self.surface.width(), self.surface.height()
        alpha = skia.kPremul_AlphaType if premultiplied else skia.kUnpremul_AlphaType
        info = skia.ImageInfo.Make(width, height, skia.kRGBA_8888_ColorType, alpha)
        out = np.empty((height, width, 4), dtype=np.uint8)
        self.surface.readPixels(skia.Pixmap(info, out, width * 4), 0, 0)
        return out

    def png(self) -> bytes:
        """The frame as a PNG file."""
        return bytes(self.surface.makeImageSnapshot().encodeToData(skia.kPNG, 100))

    def _group(self, canvas: skia.Canvas, group: Group, index: int) -> None:
        opacity = int(_row(group.opacity, index)[0])
        if not _row(group.visible, index)[0] or not opacity:
            return
        depth = canvas.save()
        blend = BLENDS[group.blend]
        if any(isinstance(part, Below) for part in group.parts):
            self._filter(canvas, group, opacity, blend, index)
            return
        sheet = None if group.effects is None else _row(group.effects.sheet, index)
        effects = group.effects if sheet is not None and sheet[12] > 0 else None
        whole = group.masks or effects is not None or group.matte is not None
        apart = group.apart and (opacity < 255 or group.blend != "normal" or whole)
        if apart and _filters(group):
            # What is filtered in it is read again, which a layer of a canvas cannot be.
            own = new_surface(*self._size)
            outer, self._on = self._on, own
            self._laid(own.getCanvas(), group, effects, sheet, index)
            self._on = outer
            if group.matte is not None:
                self._matte(own.getCanvas(), group.matte, index)
            canvas.resetMatrix()
            canvas.drawImage(
                own.makeImageSnapshot(), 0, 0, skia.SamplingOptions(), skia.Paint(Alpha=opacity, BlendMode=blend)
            )
            canvas.restoreToCount(depth)
            return
        if apart:
            canvas.saveLayer(None, skia.Paint(Alpha=opacity, BlendMode=blend))
            blend = skia.BlendMode.kSrcOver
        self._laid(canvas, group, effects, sheet, index, blend)
        if group.matte is not None:
            self._matte(canvas, group.matte, index)
        canvas.restoreToCount(depth)

    def _laid(
        self, canvas: skia.Canvas, group: Group, effects: Effects | None, sheet: list[float] | None, index: int,
        blend: skia.BlendMode = skia.BlendMode.kSrcOver,
    ) -> None:  # fmt: skip
        if effects is None or sheet is None:
            self._parts(canvas, group, blend, index)
        else:
            self._effected(canvas, group, effects, sheet, index)

    def _filter(self, canvas: skia.Canvas, group: Group, opacity: int, blend: skia.BlendMode, index: int) -> None:
        """Run the effects of a group on what has been painted so far, and put that in its place, as far as its masks
        and its opacity let it."""
        sheet = [0.0] * 14 if group.effects is None else _row(group.effects.sheet, index)
        if group.effects is None or not sheet[12]:
            return
        there, back, size = self._sheet(sheet)
        surface = new_surface(*size)
        on, before = surface.getCanvas(), skia.Matrix()
        if _straight(there, self._scale) and _straight(self._place, self._scale):
            x, y = there.getTranslateX(), there.getTranslateY()
            on.translate(x - self._place.getTranslateX(), y - self._place.getTranslateY())
        elif self._place.invert(before):
            on.setMatrix(skia.Matrix.Concat(there, before))
        image = self._on.makeImageSnapshot()
        # Beyond its edges it goes on as it ends there, so that no blur lets the ground through.
        for source, target in _beyond(*self._size):
            on.drawImageRect(image, skia.Rect.MakeXYWH(*source), skia.Rect.MakeXYWH(*target), skia.SamplingOptions())
        on.drawImage(image, 0, 0, SAMPLING, skia.Paint(AntiAlias=True))
        for step in group.effects.steps:
            if _row(step.acts, index)[0]:
                surface = PAINTERS[step.kind](surface, _row(step.numbers, index), self._scale)
        made, cover = new_surface(*self._size), new_surface(*self._size)
        made.getCanvas().setMatrix(back)
        made.getCanvas().drawImage(surface.makeImageSnapshot(), 0, 0, SAMPLING, skia.Paint(AntiAlias=True))
        cover.getCanvas().clear(skia.ColorBLACK)
        if group.masks:
            self._masked(made.getCanvas(), group.masks, index)
            self._masked(cover.getCanvas(), group.masks, index)
        canvas.save()
        canvas.resetMatrix()
        if group.blend == "normal":
            ink = skia.Paint(Alpha=opacity, BlendMode=skia.BlendMode.kDstOut)
            canvas.drawImage(cover.makeImageSnapshot(), 0, 0, skia.SamplingOptions(), ink)
            blend = skia.BlendMode.kPlus
        ink = skia.Paint(Alpha=opacity, BlendMode=blend)
        canvas.drawImage(made.makeImageSnapshot(), 0, 0, skia.SamplingOptions(), ink)
        canvas.restore()

    def _parts(self, canvas: skia.Canvas, group: Group, blend: skia.BlendMode, index: int) -> None:
        """Paint the parts of a group, and lay its masks into them."""
        canvas.setMatrix(self._place)
        canvas.concat(_matrix(_row(group.matrix, index)))
        for part in group.parts:
            self._part(canvas, part, blend, index)
        if group.masks:
            self._masked(canvas, group.masks, index)

    def _effected(self, canvas: skia.Canvas, group: Group, effects: Effects, sheet: list[float], index: int) -> None:
        """Paint the parts of a group on a sheet, run its effects there, and draw that where it belongs."""
        there, back, size = self._sheet(sheet)
        place = (*(there.get(number) for number in range(9)), *size)
        kept = self._sheets.find(group, index, place)
        if kept is not None:
            canvas.setMatrix(back)
            canvas.drawImage(kept, 0, 0, SAMPLING, skia.Paint(AntiAlias=True))
            return
        outer = self._place, self._size, self._on
        surface = new_surface(*size)
        self._place, self._size, self._on = there, size, surface
        self._parts(surface.getCanvas(), group, skia.BlendMode.kSrcOver, index)
        self._place, self._size, self._on = outer
        for step in effects.steps:
            if _row(step.acts, index)[0]:
                surface = PAINTERS[step.kind](surface, _row(step.numbers, index), self._scale)
        image = surface.makeImageSnapshot()
        self._sheets.keep(group, index, place, image)
        canvas.setMatrix(back)
        canvas.drawImage(image, 0, 0, SAMPLING, skia.Paint(AntiAlias=True))

    def _sheet(self, sheet: list[float]) -> tuple[skia.Matrix, skia.Matrix, tuple[int, int]]:
        """What takes scene pixels to those of a sheet, and these to the surface that is painted on; and its size.

        A sheet of the scene's own pixels is moved by whole pixels of the surface, so that nothing is drawn between.
        """
        place, scale = self._place, self._scale
        wide, high = (max(math.ceil(side * scale), 1) for side in sheet[12:14])
        if sheet[:4] == [1, 0, 0, 1] and _straight(place, scale):
            x, y = place.getTranslateX(), place.getTranslateY()
            left, top = math.ceil(sheet[4] * scale - x), math.ceil(sheet[5] * scale - y)
            there = skia.Matrix.Concat(skia.Matrix.Translate(left, top), place)
            return there, skia.Matrix.Translate(-left, -top), (wide + 1, high + 1)
        larger, smaller = skia.Matrix.Scale(scale, scale), skia.Matrix.Scale(1 / scale, 1 / scale)
        there = skia.Matrix.Concat(larger, _matrix(sheet[:6]))
        back = skia.Matrix.Concat(skia.Matrix.Concat(place, _matrix(sheet[6:12])), smaller)
        return there, back, (wide, high)

    def _masked(self, canvas: skia.Canvas, masks: tuple[MaskPath, ...], index: int) -> None:
        """Lay the coverage of masks into what was painted on the layer."""
        canvas.resetMatrix()
        canvas.saveLayer(None, skia.Paint(BlendMode=skia.BlendMode.kDstIn))
        if masks[0].mode != "add":
            canvas.clear(skia.ColorBLACK)
        for mask in masks:
            strength = int(_row(mask.strength, index)[0])
            canvas.saveLayer(None, skia.Paint(Alpha=strength, BlendMode=MASKS[mask.mode]))
            if mask.inverted:
                canvas.clear(skia.ColorBLACK)
                canvas.saveLayer(None, skia.Paint(BlendMode=skia.BlendMode.kDstOut))
            self._mask(canvas, mask, index)
            if mask.inverted:
                canvas.restore()
            canvas.restore()
        canvas.restore()

    def _mask(self, canvas: skia.Canvas, mask: MaskPath, index: int) -> None:
        """Paint the outlines of a mask, blurred in the pixels of the surface whatever its matrix."""
        blur = _row(mask.blur, index)[0] * _scale_of(self._place)
        if 0 < blur < SMALL_BLUR and self._exact and mask.weights is not None:
            wide, high = self._size[0] + 2 * REACH, self._size[1] + 2 * REACH
            surface = new_surface(wide, high)
            surface.getCanvas().translate(REACH, REACH)
            self._covered(surface.getCanvas(), mask, index)
            weights = _row(mask.weights, index)
            for along in ((1, 0), (0, 1)):
                surface = summed(surface, weights, along)
            canvas.drawImage(surface.makeImageSnapshot(), -REACH, -REACH)
            return
        sheet = None if mask.sheet is None else _row(mask.sheet, index)
        if sheet is not None and sheet[12] > 0:
            self._uneven(canvas, mask, sheet, index)
            return
        depth = canvas.save()
        if blur > 0:
            canvas.saveLayer(None, skia.Paint(ImageFilter=skia.ImageFilters.Blur(blur, blur)))
        self._covered(canvas, mask, index)
        canvas.restoreToCount(depth)

    def _uneven(self, canvas: skia.Canvas, mask: MaskPath, sheet: list[float], index: int) -> None:
        """Paint and blur the outlines of a mask on its sheet, and draw that into the scene."""
        surface = new_surface(int(sheet[12]), int(sheet[13]))
        on, blur = surface.getCanvas(), _row(mask.blur, index)[0]
        on.saveLayer(None, skia.Paint(ImageFilter=skia.ImageFilters.Blur(blur, blur)))
        for matrix in (sheet[:6], _row(mask.matrix, index)):
            on.concat(_matrix(matrix))
        for part in mask.parts:
            self._path(on, part, skia.BlendMode.kSrcOver, index)
        on.restore()
        canvas.save()
        canvas.concat(self._place)
        canvas.concat(_matrix(sheet[6:12]))
        canvas.drawImage(surface.makeImageSnapshot(), 0, 0, SAMPLING, skia.Paint(AntiAlias=True))
        canvas.restore()

    @property
    def _exact(self) -> bool:
        """Whether scene pixels are painted one to one."""
        x, y = self._place.getTranslateX(), self._place.getTranslateY()
        return self._scale == 1 and _straight(self._place, 1) and x == round(x) and y == round(y)

    def _covered(self, canvas: skia.Canvas, mask: MaskPath, index: int) -> None:
        canvas.concat(self._place)
        canvas.concat(_matrix(_row(mask.matrix, index)))
        for part in mask.parts:
            self._path(canvas, part, skia.BlendMode.kSrcOver, index)

    def _matte(self, canvas: skia.Canvas, matte: Matte, index: int) -> None:
        """Leave of what was painted on the layer only what lies where a matte is, or where it is not."""
        canvas.resetMatrix()
        how = skia.BlendMode.kDstOut if matte.inverted else skia.BlendMode.kDstIn
        ink = skia.Paint(BlendMode=how)
        if matte.by == "brightness":
            ink.setColorFilter(skia.LumaColorFilter.Make())
        canvas.saveLayer(None, ink)
        if matte.by == "brightness":
            canvas.clear(skia.ColorBLACK)
        for part in matte.parts:
            self._part(canvas, part, skia.BlendMode.kSrcOver, index)
        canvas.restore()

    def _part(self, canvas: skia.Canvas, part: Operation, blend: skia.BlendMode, index: int) -> None:
        if isinstance(part, Group):
            self._group(canvas, part, index)
        elif isinstance(part, Path):
            self._path(canvas, part, blend, index)
        elif isinstance(part, Below):
            return  # its group is painted by `_filter`
        elif isinstance(part, Glyphs):
            self._glyphs(canvas, part, blend, index)
        else:
            self._image(canvas, part, blend, index)

    def _path(self, canvas: skia.Canvas, part: Path, blend: skia.BlendMode, index: int) -> None:
        path = _built(part.verbs, _row(part.points, index))
        path.setFillType(RULES[part.rule])
        if part.fill is not None:
            self._painted(canvas, path, part.fill, skia.Paint(AntiAlias=True), blend, index)
        if part.stroke is not None and part.stroke_width is not None:
            width = _row(part.stroke_width, index)[0]
            if width > 0:
                ink = skia.Paint(AntiAlias=True)
                ink.setStyle(skia.Paint.kStroke_Style)
                ink.setStrokeWidth(width)
                ink.setStrokeCap(CAPS[part.cap])
                ink.setStrokeJoin(JOINS[part.join])
                if part.mitre is not None:
                    ink.setStrokeMiter(_row(part.mitre, index)[0])
                dash = None if part.dash is None else _row(part.dash, index)
                if dash is not None and part.dash_offset is not None and dash[0] >= 0:
                    ink.setPathEffect(skia.DashPathEffect.Make(dash, _row(part.dash_offset, index)[0]))
                self._painted(canvas, path, part.stroke, ink, blend, index)

    def _painted(
        self, canvas: skia.Canvas, path: skia.Path, paint: Paint, ink: skia.Paint, blend: skia.BlendMode, index: int
    ) -> None:
        """Fill or stroke a path with a colour or a gradient, `ink` saying how."""
        ink.setBlendMode(blend)
        if not isinstance(paint, GradientPaint):
            ink.setColor(_colour(_row(paint, index)))
            canvas.drawPath(path, ink)
            return
        if paint.matrix is None:
            ink.setShader(_shader(paint, index))
            ink.setDither(True)
            canvas.drawPath(path, ink)
            return
        # Coverage first, and the gradient under its matrix into that: canvases know no matrix of a gradient.
        canvas.saveLayer(None, skia.Paint(BlendMode=blend))
        ink.setBlendMode(skia.BlendMode.kSrcOver)
        ink.setColor(skia.ColorBLACK)
        canvas.drawPath(path, ink)
        canvas.concat(_matrix(_row(paint.matrix, index)))
        back = skia.Matrix()
        if canvas.getTotalMatrix().invert(back):
            wide, high = self._size[0] + 9, self._size[1] + 9
            corners = [skia.Point(-9, -9), skia.Point(wide, -9), skia.Point(wide, high), skia.Point(-9, high)]
            all_of_it = skia.Path.Polygon(back.mapPoints(corners), True)
            # A canvas composites through a layer as well.
            canvas.saveLayer(None, skia.Paint(BlendMode=skia.BlendMode.kSrcIn))
            canvas.drawPath(all_of_it, skia.Paint(AntiAlias=True, Shader=_shader(paint, index), Dither=True))
            canvas.restore()
        canvas.restore()

    def _glyphs(self, canvas: skia.Canvas, part: Glyphs, blend: skia.BlendMode, index: int) -> None:
        matrices, fill = _row(part.matrices, index), _row(part.fill, index)
        whole = skia.Path()
        many = len(matrices) // max(len(part.names), 1)
        for number, name in enumerate(part.names):
            matrix = matrices[many * number : many * number + many]
            if not part.single and not fill[4 * number + 3]:
                continue
            if many == 9:
                glyph, place = self._bent(name, matrix), skia.Matrix()
            else:
                glyph, place = self._glyph(name), _matrix(matrix)
            if part.single:
                whole.addPath(glyph, place)
                continue
            one = skia.Path()
            one.addPath(glyph, place)
            # On the general way, as what is painted as one: a part without a length is no short cut.
            at = matrix[2:6:3] if many == 9 else matrix[4:]
            one.moveTo(*at)
            one.lineTo(*at)
            canvas.drawPath(one, _ink(fill[4 * number : 4 * number + 4], blend))
        if part.single:
            canvas.drawPath(whole, _ink(fill, blend))

    def _glyph(self, name: str) -> skia.Path:
        path = self._paths.get(name)
        if path is None:
            shape = outline(name)
            path = self._paths[name] = _built(shape.verbs, list(shape.coordinates))
        return path

    def _bent(self, name: str, matrix: list[float]) -> skia.Path:
        """A glyph in perspective."""
        cut = self._cut.get(name)
        if cut is None:
            shape = outline(name)
            cut = self._cut[name] = fine(shape.verbs, np.array([shape.coordinates]))
        verbs, points = cut
        there = project(np.array(matrix), points.reshape(-1, 2)).astype(np.float32)
        return _built(verbs, there.reshape(-1).tolist())

    def _image(self, canvas: skia.Canvas, part: Image, blend: skia.BlendMode, index: int) -> None:
        image = self._media(part.source, None if part.frame is None else int(_row(part.frame, index)[0]))
        if image is None:
            return
        ink = skia.Paint(AntiAlias=True, Alpha=int(_row(part.opacity, index)[0]), BlendMode=blend)
        canvas.drawImageRect(image, skia.Rect.MakeXYWH(*_row(part.box, index)), SAMPLING, ink)


FAR = 8_192


def _beyond(wide: int, high: int) -> list[tuple[tuple[int, ...], tuple[int, ...]]]:
    """The pixels along the edges of a surface, and what lies beyond each: left, top, width, height."""
    across = ((0, 1, -FAR, FAR), (0, wide, 0, wide), (wide - 1, 1, wide, FAR))
    down = ((0, 1, -FAR, FAR), (0, high, 0, high), (high - 1, 1, high, FAR))
    return [
        ((x, y, w, h), (to_x, to_y, to_w, to_h))
        for y, h, to_y, to_h in down
        for x, w, to_x, to_w in across
        if w == 1 or h == 1
    ]


def _filters(group: Group) -> bool:
    """Whether anything in a group is made of what lies below it."""
    return any(isinstance(part, Below) or (isinstance(part, Group) and _filters(part)) for part in group.parts)


def _matrix(numbers: list[float]) -> skia.Matrix:
    a, b, c, d, e, f = numbers
    return skia.Matrix.MakeAll(a, c, e, b, d, f, 0, 0, 1)


def _scale_of(place: skia.Matrix) -> float:
    """How many pixels of a surface one of the scene is."""
    a, b, c, d = place.getScaleX(), place.getSkewY(), place.getSkewX(), place.getScaleY()
    return float(a if (b, c) == (0, 0) and a == d else math.sqrt(abs(a * d - b * c)))


def _straight(place: skia.Matrix, scale: float) -> bool:
    """Whether a matrix is that scale, moved."""
    own = place.getScaleX(), place.getSkewY(), place.getSkewX(), place.getScaleY()
    return own == (scale, 0, 0, scale)


def _ink(colour: list[float], blend: skia.BlendMode) -> skia.Paint:
    return skia.Paint(AntiAlias=True, Color=_colour(colour), BlendMode=blend)


def _colour(colour: list[float]) -> int:
    red, green, blue, alpha = map(int, colour)
    return int(skia.Color(red, green, blue, alpha))


def _shader(paint: GradientPaint, index: int) -> skia.Shader:
    """A gradient as canvases make it; they dither it, too."""
    geometry, offsets, numbers = (_row(part, index) for part in (paint.geometry, paint.offsets, paint.colours))
    colours = [_colour(numbers[i : i + 4]) for i in range(0, len(numbers), 4)]
    if paint.kind == "linear":
        x0, y0, x1, y1 = geometry
        return skia.GradientShader.MakeLinear([skia.Point(x0, y0), skia.Point(x1, y1)], colours, offsets)
    x, y, third = geometry
    if paint.kind == "radial":
        return skia.GradientShader.MakeRadial(skia.Point(x, y), third, colours, offsets)
    turned = skia.Matrix()
    turned.setRotate(third, x, y)
    return skia.GradientShader.MakeSweep(x, y, colours, offsets, skia.TileMode.kClamp, 0, 360, 0, turned)


def _built(verbs: str, numbers: list[float]) -> skia.Path:
    """An outline as a path, call for call as the stage builds it."""
    path = skia.Path()
    calls = {"M": path.moveTo, "L": path.lineTo, "Q": path.quadTo, "C": path.cubicTo, "Z": path.close}
    index = 0
    for verb in verbs:
        count = 2 * TAKES[verb]
        calls[verb](*numbers[index : index + count])
        index += count
    return path


def _row(column: Column, index: int) -> list[float]:
    row: list[float] = column[index if len(column) > 1 else 0].tolist()
    return row
