"""The exporter's painter against closed forms: areas, centres, turns, and the formulas of W3C Compositing Level 1."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
import skia
from fontTools.pens.areaPen import AreaPen
from fontTools.ttLib import TTFont
from fontTools.varLib.instancer import instantiateVariableFont
from hypothesis import given
from hypothesis import strategies as st

from mudskipper.core.contents.assets import NO_MEDIA, Assets, PictureInfo
from mudskipper.core.document.scene import Scene
from mudskipper.core.resolve.drawing import draw_list
from mudskipper.core.resolve.resolved import resolve
from mudskipper.core.text.families import installed
from mudskipper.paint.painter import BLENDS, Painter
from tests.conftest import cases, layer, scene

Rgb = np.ndarray


def painted(made: Scene, frame: int = 0, picture: np.ndarray | None = None, scale: float = 1) -> np.ndarray:
    """A frame, (height, width, 4) bytes r g b a, not premultiplied."""
    info, images = NO_MEDIA, None
    if picture is not None:
        info = Assets({"p": PictureInfo(id="p", width=picture.shape[1], height=picture.shape[0])})
        images = skia.Image.fromarray(np.ascontiguousarray(picture), skia.kRGBA_8888_ColorType)
    drawing = draw_list(resolve(made, np.array([float(frame)]), info))
    painter = Painter(made.width, made.height, lambda *_: images, scale)
    painter.paint(drawing, 0)
    return painter.pixels()


def one(item: dict[str, Any], **tracks: Any) -> dict[str, Any]:
    return layer("One", content={"kind": "shape", "items": [item]}, **tracks)


def coverage(made: Scene) -> tuple[float, np.ndarray]:
    """The area that is painted, in pixels, and its centre."""
    alpha = painted(made)[..., 3] / 255
    y, x = np.mgrid[: made.height, : made.width] + 0.5
    return float(alpha.sum()), np.array([(alpha * x).sum(), (alpha * y).sum()]) / alpha.sum()


AREAS: dict[str, tuple[dict[str, Any], Callable[[float, float], float]]] = {
    "rectangle": ({"shape": "rectangle", "fill": "#ffffff"}, lambda w, h: w * h),
    "ellipse": ({"shape": "ellipse", "fill": "#ffffff"}, lambda w, h: math.pi / 4 * w * h),
    "rounded": (
        {"shape": "rectangle", "corners": 12, "fill": "#ffffff"},
        lambda w, h: w * h - (4 - math.pi) * min(12, w / 2, h / 2) ** 2,
    ),
    "frame": (
        {"shape": "rectangle", "fill": None, "stroke": {"colour": "#ffffff", "width": 6}},
        lambda w, h: (w + 6) * (h + 6) - (w - 6) * (h - 6),
    ),
}


@pytest.mark.parametrize("name", AREAS)
@cases(20)
@given(
    size=st.tuples(st.floats(50, 120), st.floats(50, 120)),
    scale=st.tuples(st.floats(60, 130), st.floats(60, 130)),
    flip=st.sampled_from([(1, 1), (-1, 1), (1, -1), (-1, -1)]),
    angle=st.floats(-720, 720),
    anchor=st.tuples(st.floats(0.3, 0.7), st.floats(0.3, 0.7)),
)
def test_a_shape_covers_what_its_formula_says(
    name: str, size: tuple[float, float], scale: Any, flip: Any, angle: float, anchor: tuple[float, float]
) -> None:
    """Turned, flipped and stretched about any anchor: the area is that of the form times the scale, its centre Q(0)."""
    item, area = AREAS[name]
    sx, sy = (a * b for a, b in zip(scale, flip, strict=True))
    made = scene(
        one(item | {"size": list(size)}, scale=[sx, sy], rotation=angle, anchor=list(anchor)), background="#00000000"
    )
    got, centre = coverage(made)
    # What smoothing of edges may lose or gain: a tenth of a pixel along each.
    around = 2 * (size[0] * abs(sx) + size[1] * abs(sy)) / 100
    slack = around / 10 * (2 if name == "frame" else 1)
    assert got == pytest.approx(area(*size) * abs(sx * sy) / 1e4, abs=slack)
    x, y = ((0.5 - anchor[0]) * size[0] * sx / 100, (0.5 - anchor[1]) * size[1] * sy / 100)
    turn = math.radians(angle)
    # position 320, 180 is where the anchor lies; clockwise turns are positive, y goes down
    wanted = (320 + x * math.cos(turn) - y * math.sin(turn), 180 + x * math.sin(turn) + y * math.cos(turn))
    # A frame's own two sides weigh on its centre by how each was smoothed.
    assert centre == pytest.approx(wanted, abs=0.7 if name == "frame" else 0.25)


def lum(colour: Rgb) -> float:
    return float(colour @ [0.3, 0.59, 0.11])


def clipped(colour: Rgb) -> Rgb:
    light, low, high = lum(colour), colour.min(), colour.max()
    if low < 0:
        colour = light + (colour - light) * light / (light - low)
    if high > 1:
        colour = light + (colour - light) * (1 - light) / (high - light)
    return colour


def with_lum(colour: Rgb, light: float) -> Rgb:
    return clipped(colour + light - lum(colour))


def with_sat(colour: Rgb, wanted: float) -> Rgb:
    low, high = colour.min(), colour.max()
    return (colour - low) * wanted / (high - low) if high > low else np.zeros(3)


def sat(colour: Rgb) -> float:
    return float(colour.max() - colour.min())


def soft(b: Rgb, s: Rgb) -> Rgb:
    d = np.where(b <= 0.25, ((16 * b - 12) * b + 4) * b, np.sqrt(b))
    return np.where(s <= 0.5, b - (1 - 2 * s) * b * (1 - b), b + (2 * s - 1) * (d - b))


def hard(b: Rgb, s: Rgb) -> Rgb:
    return np.where(s <= 0.5, b * 2 * s, b + (2 * s - 1) - b * (2 * s - 1))


def dodge(b: Rgb, s: Rgb) -> Rgb:
    return np.where(b == 0, 0, np.where(s == 1, 1, np.minimum(1, b / np.maximum(1 - s, 1e-9))))


def burn(b: Rgb, s: Rgb) -> Rgb:
    return np.where(b == 1, 1, np.where(s == 0, 0, 1 - np.minimum(1, (1 - b) / np.maximum(s, 1e-9))))


# B(backdrop, source) of Compositing and Blending Level 1, sections 10.1 and 10.2.
FORMULAS: dict[str, Callable[[Rgb, Rgb], Rgb]] = {
    "normal": lambda b, s: s,
    "multiply": lambda b, s: b * s,
    "screen": lambda b, s: b + s - b * s,
    "overlay": lambda b, s: hard(s, b),
    "darken": np.minimum,
    "lighten": np.maximum,
    "color-dodge": dodge,
    "color-burn": burn,
    "hard-light": hard,
    "soft-light": soft,
    "difference": lambda b, s: np.abs(b - s),
    "exclusion": lambda b, s: b + s - 2 * b * s,
    "hue": lambda b, s: with_lum(with_sat(s, sat(b)), lum(b)),
    "saturation": lambda b, s: with_lum(with_sat(b, sat(s)), lum(b)),
    "color": lambda b, s: with_lum(s, lum(b)),
    "luminosity": lambda b, s: with_lum(b, lum(s)),
}


def test_every_blend_has_its_formula() -> None:
    assert set(BLENDS) == {*FORMULAS, "plus-lighter"}


COLOURS = st.lists(st.sampled_from([0, 20, 64, 100, 128, 190, 235, 255]), min_size=3, max_size=3).map(np.array)


@pytest.mark.parametrize("blend", BLENDS)
@cases(15)
@given(below=COLOURS, above=COLOURS, opacity=st.sampled_from([100, 60, 25]), alpha=st.sampled_from([255, 128]))
def test_blends_are_those_of_the_standard(blend: str, below: Rgb, above: Rgb, opacity: int, alpha: int) -> None:
    """One layer on another, both in part transparent: premultiplied, within 3 of 255 of the formula."""

    def plate(name: str, rgb: Rgb, **more: Any) -> dict[str, Any]:
        hexes = "".join(f"{int(n):02x}" for n in rgb)
        alone = {"shape": "rectangle", "size": [640, 360], "fill": f"#{hexes}{alpha if name == 'A' else 255:02x}"}
        return layer(name, content={"kind": "shape", "items": [alone]}, **more)

    made = scene(plate("A", below), plate("B", above, blend=blend, opacity=opacity), background="#00000000")
    got = painted(made, scale=0.05)[9, 16] / 255
    b, s, ab, a = below / 255, above / 255, alpha / 255, round(opacity * 2.55) / 255
    if blend == "plus-lighter":
        whole, cover = np.minimum(1, s * a + b * ab), min(1, a + ab)
    else:
        whole = a * (1 - ab) * s + a * ab * FORMULAS[blend](b, s) + (1 - a) * ab * b
        cover = a + ab - a * ab
    assert got[3] == pytest.approx(cover, abs=2.01 / 255)
    assert got[:3] * got[3] == pytest.approx(whole, abs=3.01 / 255)


def test_a_layer_fades_as_one() -> None:
    """Two shapes that overlap at half opacity: where they do, the upper one alone shows, at half."""
    items = [
        {"shape": "rectangle", "size": [200, 100], "fill": "#ff0000"},
        {"shape": "ellipse", "size": [100, 60], "fill": "#0000ff"},
    ]
    made = scene(layer("Both", content={"kind": "shape", "items": items}, opacity=50), background="#00000000")
    got = painted(made)
    assert got[180, 320].tolist() == [0, 0, 255, 128]
    assert got[180, 235].tolist() == [255, 0, 0, 128]


@pytest.mark.parametrize("scale", [[100, 100], [-100, 100], [100, -100]])
def test_a_picture_comes_pixel_for_pixel(scale: list[int]) -> None:
    """At its own size on whole pixels, and flipped: not one of them differs."""
    picture = np.random.default_rng(5).integers(0, 256, (80, 120, 4), dtype=np.uint8)
    picture[..., 3] = 255
    made = scene(layer("P", content={"kind": "picture", "asset": "p"}, scale=scale), background="#00000000")
    got = painted(made, picture=picture)[140:220, 260:380]
    assert (got == picture[:: scale[1] // 100, :: scale[0] // 100]).all()


def test_letters_cover_the_area_of_their_outlines() -> None:
    """Against the outlines' own areas as fontTools computes them, at two sizes."""
    file = installed()["Figtree"].file(500, False).path
    font = instantiateVariableFont(TTFont(file), {"wght": 500})
    glyphs, units = font.getGlyphSet(), font["head"].unitsPerEm
    for size in (60, 150):
        area = 0.0
        for letter in "HILO":
            pen = AreaPen(glyphs)
            glyphs[font.getBestCmap()[ord(letter)]].draw(pen)
            area += abs(pen.value) * (size / units) ** 2
        face = {"family": "Figtree", "weight": 500}
        content = {"kind": "text", "text": "HILO", "font": face, "size": size, "fill": "#ffffff"}
        got, _ = coverage(scene(layer("Text", content=content), background="#00000000"))
        assert got == pytest.approx(area, rel=6e-3)
