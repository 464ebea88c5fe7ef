"""Letters in colours of their own: emoji, and fonts whose layers are gradients, as Chromium paints them."""

from __future__ import annotations

import base64
import io
from itertools import product
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from fontTools.colorLib.builder import buildCOLR, buildCPAL
from fontTools.fontBuilder import FontBuilder
from fontTools.pens.ttGlyphPen import TTGlyphPen
from PIL import Image
from playwright.sync_api import Browser

from mudskipper.core.checks import check_scene
from mudskipper.core.contents.assets import NO_MEDIA, Assets
from mudskipper.core.document.scene import Scene
from mudskipper.core.resolve.drawing import draw_list
from mudskipper.core.resolve.resolved import resolve
from mudskipper.core.text.families import INSTALLED, Family, FontFile, Fonts
from mudskipper.core.text.fonts import Style
from mudskipper.core.text.runs import missing_in
from mudskipper.paint.painter import Painter
from tests.conftest import layer, scene

EMOJI = "Tide 🙂👍🏽 🇳🇴👩‍🚀❤️ in"


def painted(made: Scene, assets: Assets = NO_MEDIA) -> np.ndarray:
    painter = Painter(made.width, made.height, lambda *_: None)
    painter.paint(draw_list(resolve(made, np.zeros(1), assets)), 0)
    return painter.pixels()[:, :, :3].astype(int)


BASELINE = 80


def sign(words: str, family: str = "Figtree", assets: Assets = NO_MEDIA, **fields: Any) -> Scene:
    """A text whose baseline is on a whole pixel."""
    content = {
        "kind": "text", "text": words, "size": 64, "fill": "#1b2628ff", "font": {"family": family, "weight": 400},
    } | fields  # fmt: skip

    def at(y: float) -> Scene:
        sign = layer("Sign", content=content, anchor=[0, 0], position=[20, y])
        return scene(sign, width=760, height=120, background="#fff8eaff")

    return at(BASELINE - float(resolve(at(0), np.zeros(1), assets).layers["sign"].baselines[0, 0]))


def of_chromium(browser: Browser, words: str, faces: dict[str, Path]) -> np.ndarray:
    page = browser.new_page(viewport={"width": 760, "height": 120})
    page.set_content("<canvas width=760 height=120 style='position:absolute;left:0;top:0'></canvas>")
    data = [(name, base64.b64encode(path.read_bytes()).decode()) for name, path in faces.items()]
    page.evaluate(
        """async ([words, faces, baseline]) => {
          for (const [name, data] of faces) {
            const face = new FontFace(name, `url(data:font/ttf;base64,${data})`, {weight: '1 1000'});
            document.fonts.add(face); await face.load();
          }
          const c = document.querySelector('canvas').getContext('2d');
          c.fillStyle = '#fff8ea'; c.fillRect(0, 0, 760, 120);
          c.fillStyle = '#1b2628';
          c.textRendering = 'geometricPrecision';
          c.font = `400 64px ${faces.map(([name]) => `"${name}"`).join(',')}`;
          c.fillText(words, 20, baseline);
        }""",
        [words, data, BASELINE],
    )
    picture = np.asarray(Image.open(io.BytesIO(page.screenshot())).convert("RGB")).astype(int)
    page.close()
    return picture


def alike(mine: np.ndarray, other: np.ndarray, most: float = 0.001) -> None:
    """Pictures of which each pixel of one is, but for how edges are smoothed, in the other, at most a pixel away."""
    for one, two in ((mine, other), (other, mine)):
        moved = [np.roll(two, by, axis=(0, 1)) for by in product((-1, 0, 1), repeat=2)]
        apart = np.min([np.abs(one - there).max(axis=2) for there in moved], axis=0)
        assert (apart > 64).mean() < most, f"{(apart > 64).sum()} pixels differ"
        assert apart.mean() < 0.8, apart.mean()


def test_emoji_are_those_that_chromium_paints(browser: Browser) -> None:
    made = sign(EMOJI)
    faces = {name: INSTALLED.family_of(name).files[0].path for name in ("Figtree", "Twemoji Mozilla")}
    alike(painted(made), of_chromium(browser, EMOJI, faces))
    assert not [one for one in check_scene(made, NO_MEDIA) if one.check == "font"]
    assert not missing_in(EMOJI + "1️⃣☺︎", Style())


def test_emoji_in_the_fill_have_its_hue_and_keep_light_and_dark() -> None:
    own, tinted = painted(sign("🙂")), painted(sign("🙂", tinted=True, fill="#d24b1eff"))
    assert (own != tinted).any()
    shown = tinted[(np.abs(tinted - [0xFF, 0xF8, 0xEA]).max(axis=2) > 200)]
    # The disc is in the fill, eyes and mouth are darker by as much as they are.
    colours = {tuple(one) for one in shown.tolist()}
    assert len(colours) > 1
    assert (210, 75, 30) in {tuple(one) for one in tinted.reshape(-1, 3).tolist()}


@pytest.fixture(scope="module")
def gradients(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A font whose letters a, b, c and d are squares in gradients of each kind, moved and turned, and in the text's
    own colour."""
    builder = FontBuilder(1000, isTTF=True)
    names = [".notdef", "a", "b", "c", "d", "square"]
    builder.setupGlyphOrder(names)
    builder.setupCharacterMap({ord(one): one for one in "abcd"})
    pen = TTGlyphPen(None)
    pen.moveTo((100, 0)), pen.lineTo((100, 800)), pen.lineTo((900, 800)), pen.lineTo((900, 0)), pen.closePath()
    square, empty = pen.glyph(), TTGlyphPen(None).glyph()
    builder.setupGlyf({name: square if name == "square" else empty for name in names})
    builder.setupHorizontalMetrics({name: (1000, 0) for name in names})
    builder.setupHorizontalHeader(ascent=900, descent=-100)
    builder.setupNameTable({"familyName": "Painted Squares", "styleName": "Regular"})
    builder.setupOS2(sTypoAscender=900, sTypoDescender=-100, usWinAscent=900, usWinDescent=100)
    builder.setupPost()
    stops = {"Extend": "pad", "ColorStop": [(0.0, 0), (0.4, 1), (1.0, 2)]}
    linear = {"Format": 4, "ColorLine": stops, "x0": 200, "y0": 100, "x1": 800, "y1": 500, "x2": 100, "y2": 300}
    radial = {"Format": 6, "ColorLine": stops, "x0": 500, "y0": 400, "r0": 100, "x1": 500, "y1": 400, "r1": 450}
    sweep = {
        "Format": 8, "ColorLine": stops, "centerX": 500, "centerY": 400, "startAngle": 0.0, "endAngle": 359.9,
    }  # fmt: skip

    def filled(paint: dict[str, Any]) -> dict[str, Any]:
        return {"Format": 10, "Paint": paint, "Glyph": "square"}

    turned = {"Format": 26, "Paint": filled(radial), "angle": 20, "centerX": 500, "centerY": 400}
    plain = {"Format": 2, "PaletteIndex": 0xFFFF, "Alpha": 0.5}
    builder.font["COLR"] = buildCOLR(
        {
            "a": filled(linear), "b": turned, "c": filled(sweep),
            "d": (1, [filled(linear), {"Format": 14, "Paint": filled(plain), "dx": 60, "dy": 90}]),
        }
    )  # fmt: skip
    builder.font["CPAL"] = buildCPAL([[(0.9, 0.2, 0.1, 1.0), (1.0, 0.9, 0.3, 0.8), (0.0, 0.4, 0.5, 1.0)]])
    path = tmp_path_factory.mktemp("fonts") / "squares.ttf"
    builder.save(path)
    return path


def test_layers_in_gradients_are_those_that_chromium_paints(browser: Browser, gradients: Path) -> None:
    fonts = Fonts([Family("Painted Squares", (FontFile("painted", gradients, False, 400),), (400,), (), ())])
    assets = Assets({}, fonts=fonts)
    made = sign("abcd", "Painted Squares", assets)
    alike(painted(made, assets), of_chromium(browser, "abcd", {"Painted Squares": gradients}))


JAPANESE = Path("/usr/share/fonts/truetype/vlgothic/VL-Gothic-Regular.ttf")
COLUMN = """([words, faces, style]) => {
  const text = document.createElement('div');
  Object.assign(text.style, {position: 'absolute', writingMode: 'vertical-rl', textRendering: 'geometricPrecision',
    whiteSpace: 'pre-wrap', lineBreak: 'strict', color: '#1b2628', fontFamily: faces.join(','), ...style});
  text.textContent = words;
  document.body.style.background = '#fff8ea';
  document.body.append(text);
}"""


def test_columns_are_those_that_chromium_sets(browser: Browser) -> None:
    """Japanese with Latin among it, punctuation and small kana, in columns from right to left, broken in a block."""
    fonts = Fonts([Family("Sea Gothic", (FontFile("sea-gothic", JAPANESE, False, 400),), (400,), (), ())])
    assets = Assets({}, fonts=fonts)
    words = "潮の時刻表「ロー」、\nTide 2時。ちょっと"
    for block in (None, {"width": {"rest": 400}, "height": {"rest": 190}}):
        content = {
            "kind": "text", "text": words, "size": 40, "fill": "#1b2628ff", "vertical": True, "block": block,
            "font": {"family": "Sea Gothic", "weight": 400}, "line_height": {"rest": 150},
        }  # fmt: skip
        sign = layer("Sign", content=content, anchor=[1, 0], position=[420, 20])
        made = scene(sign, width=440, height=480, background="#fff8eaff")
        page = browser.new_page(viewport={"width": 440, "height": 480})
        page.set_content("<body style='margin:0'></body>")
        data = base64.b64encode(JAPANESE.read_bytes()).decode()
        page.evaluate(
            """async data => { const face = new FontFace('Sea Gothic', `url(data:font/ttf;base64,${data})`);
            document.fonts.add(face); await face.load(); }""",
            data,
        )
        style = {"font": "400 40px/60px 'Sea Gothic'", "right": "20px", "top": "20px"}
        page.evaluate(COLUMN, [words, ["Sea Gothic"], {**style, "height": "190px"} if block else style])
        other = np.asarray(Image.open(io.BytesIO(page.screenshot())).convert("RGB")).astype(int)
        page.close()
        mine = painted(made, assets)
        alike(mine, other, 0.002)
