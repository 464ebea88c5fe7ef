"""Keyframes of CSS as keys: those of our own export as the layer had them, those of others by CSS's own engine."""

from __future__ import annotations

import zipfile
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from playwright.sync_api import Browser
from pydantic import TypeAdapter

from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.document.scene import Scene
from mudskipper.core.edits import apply_edits
from mudskipper.core.edits.any_edit import AnyEdit
from mudskipper.core.ground.errors import Refused
from mudskipper.core.resolve.corners import corners
from mudskipper.core.resolve.resolved import resolve
from mudskipper.readers.css_motion import css_edits
from tests.conftest import layer, scene
from tests.export.test_web_formats import moving

EDIT: TypeAdapter[Any] = TypeAdapter(AnyEdit)
PLATE = {"kind": "shape", "items": [{"shape": "rectangle", "size": [120, 60], "fill": "#0e6b61"}]}
LENGTH = 60


def with_css(text: str, before: Scene, name: str = "plate", frame: float = 0.0) -> tuple[Scene, list[str]]:
    edits, notes = css_edits(text.encode(), "pasted.css", before, before.layer(name), NO_MEDIA, frame)
    after = apply_edits(before, [EDIT.validate_python(one) for one in edits], NO_MEDIA).scene
    assert Scene.model_validate_json(after.to_json()) == after
    return after, notes


SAMPLES = {
    "individual": """@keyframes in { from { translate: -80px 50%; rotate: -90deg; scale: 0.2 1.5; opacity: 0 }
        40% { translate: 30px 0; animation-timing-function: cubic-bezier(0.3, -0.5, 0.4, 1.6) } to { opacity: 80% } }
        .plate { animation: in 1.2s ease-in-out 0.2s both; transform-origin: 0% 100% }""",
    "transform": """@keyframes drop { 0% { transform: translate(10px, -120px) rotate(0.25turn) scale(0.5) }
        60% { transform: translate(10px, 20px) rotate(-10deg) scale(1.1); animation-timing-function: steps(4, end) }
        100% { transform: none } } #other { color: red } .plate { animation-name: drop; animation-duration: 1500ms;
        animation-timing-function: linear; transform-origin: right 20px; animation-fill-mode: both }""",
    "axes": """@media all { @keyframes "slide" { from { transform: translateX(-50%) scaleY(2) }
        50%, 70% { transform: translateX(20px) scaleY(1); opacity: .3 } } }
        .first { animation: slide 1s linear(0, 0.8 30%, 1) both }""",
    "two at once": """@keyframes a { to { rotate: 1rad } } @keyframes b { from { opacity: 0 } }
        .plate { animation: a 1s ease-out 0.5s both; animation-name: a, b }""",
}  # fmt: skip
CORNERS = """([time, x, y]) => { const box = document.querySelector(".plate");
  for (const one of document.getAnimations()) { one.pause(); one.currentTime = time; }
  const matrix = new DOMMatrix(getComputedStyle(box).transform), style = getComputedStyle(box);
  const [ox, oy] = style.transformOrigin.split(" ").map(parseFloat);
  const moved = (style.translate === "none" ? "0px" : style.translate).split(" ").map((one, at) =>
    one.endsWith("%") ? parseFloat(one) / 100 * [120, 60][at] : parseFloat(one));
  const grown = (style.scale === "none" ? "1" : style.scale).split(" ").map(parseFloat);
  const turned = style.rotate === "none" ? 0 : parseFloat(style.rotate);
  const whole = new DOMMatrix().translate(x + ox, y + oy).translate(moved[0], moved[1] ?? 0).rotate(turned)
    .scale(grown[0], grown[1] ?? grown[0]).multiply(matrix).translate(-ox, -oy);
  return [[[0, 0], [120, 0], [120, 60], [0, 60]].map(([a, b]) => {
    const at = whole.transformPoint(new DOMPoint(a, b)); return [at.x, at.y]; }), parseFloat(style.opacity)];
}"""


@pytest.mark.parametrize("name", SAMPLES)
def test_keyframes_move_a_layer_as_css_moves_a_box(browser: Browser, name: str) -> None:
    """Corners within 0.05 px, opacity within 1/255, against Chromium's animations."""
    centre = "origin" not in SAMPLES[name]
    text = SAMPLES[name] + (" .plate, .first { transform-origin: 50% 50% }" if centre else "")
    before = scene(layer("Plate", content=PLATE, position=[300, 200], anchor=[0.5, 0.5]), length=LENGTH)
    after, notes = with_css(SAMPLES[name], before)
    assert notes == []
    page = browser.new_page(reduced_motion="no-preference")
    page.set_content(
        f"<style>.plate {{ position: absolute; left: 240px; top: 170px; width: 120px; height: 60px }} {text}</style>"
        '<div class="plate first"></div>'
    )
    for frame in (0, 3, 7.5, 15, 22, 31, 44, 59):
        box, opacity = page.evaluate(CORNERS, [frame / 30 * 1000 + 1e-3, 240, 170])
        one = resolve(after, [frame + 3e-5], NO_MEDIA).layers["plate"]
        assert np.abs(corners(one)[0] - np.array(box)).max() <= 0.05, frame
        assert abs(float(one.opacity[0, 0]) - opacity) <= 1 / 255, frame
    page.close()


def test_our_own_css_comes_back(tmp_path: Path) -> None:
    """What a layer was exported as, taken in on one that rests where it landed, moves as it did."""
    of = moving()
    of.render(tmp_path / "a.zip", "css")
    with zipfile.ZipFile(tmp_path / "a.zip") as files:
        text = files.read("scene.css").decode()
    for one in of.document.layers[:8]:
        real = resolve(of.document, np.arange(60.0), NO_MEDIA).layers[one.id]
        last = real.place[-1].tolist()
        still = {"anchor": one.anchor.rest, "position": last, "content": one.content.model_dump(mode="json")}
        before = scene(layer(one.name, **still), length=60)
        after, _ = with_css(text, before, before.layers[0].id)
        again = resolve(after, np.arange(60.0), NO_MEDIA).layers[before.layers[0].id]
        assert np.abs(corners(again) - corners(real)).max() <= 0.05, one.name
        assert np.abs(again.opacity - real.opacity).max() <= 1 / 255, one.name


@pytest.mark.parametrize(
    ("text", "told", "notes"),
    [
        ("p { color: red }", "no keyframes", ""), ("", "no keyframes", ""),
        ("@keyframes a { from { opacity: var(--x) } }", "cannot be read", ""),
        ("@keyframes a { from { opacity: } to { scale: 2 } }", "cannot be read", ""),
        ("@keyframes a { from { color: red } }", "Nothing in these", ""),
        ("@keyframes a { from { scale: 2; color: red } }", "", "other than translate"),
        ("@keyframes a { from { translate: 2em } }", "", "depend on a font"),
        ("@keyframes a { from { transform: scale(2) translate(9px) } }", "", "another order"),
        ("@keyframes a { from { scale: 2 } } .a { animation: a 1s infinite }", "", "repeats"),
        ("@keyframes a { from { scale: 2; animation-timing-function: wobble(3) } }", "there is no easing", ""),
    ],
)  # fmt: skip
def test_what_is_left_out_is_said(text: str, told: str, notes: str) -> None:
    before = scene(layer("Plate", content=PLATE, position=[300, 200]), length=LENGTH)
    if told:
        with pytest.raises(Refused) as refused:
            with_css(text, before)
        assert told in str(refused.value)
    else:
        assert notes in " ".join(with_css(text, before)[1])
