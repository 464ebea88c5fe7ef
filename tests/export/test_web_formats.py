"""Scenes as CSS, as Web Animations and as SVG, played by Chromium: corners, colours and times against the resolver."""

from __future__ import annotations

import io
import json
import re
import zipfile
from pathlib import Path
from typing import Any

import jsonschema_rs
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image
from playwright.sync_api import Page

from mudskipper.core.easings.batch import progress, ready
from mudskipper.core.easings.text import PRESETS, read_ease
from mudskipper.core.resolve.corners import corners
from mudskipper.export.choices import Choices
from mudskipper.export.frames import on_colour
from mudskipper.export.web.easing_css import NEAR, css_easing
from mudskipper.opened import LoneScene, OpenProject
from tests.conftest import cases, layer, scene

EASES: list[Any] = [
    "linear", "hold", "ease-in", {"bezier": [0.3, -0.6, 0.2, 1.7]}, {"overshoot": 20}, {"steps": 4},
    {"spring": {"response": 0.35, "damping": 0.45}}, {"bounce": {"count": 3, "damping": 0.6}},
]  # fmt: skip


def keyed(*pairs: tuple[float, Any], eases: list[Any] | None = None) -> dict[str, Any]:
    keys = [{"frame": frame, "value": value} for frame, value in pairs]
    for key, ease in zip(keys, eases or [], strict=False):
        key["ease"] = ease
    return {"rest": pairs[0][1], "keys": keys}


def moving() -> LoneScene:
    """Ten layers: one for each easing, about corners, with spans of their own; one along a curve; one under a formula;
    one with an anchor that moves; one that is carried."""
    rng = np.random.default_rng(7)
    layers = []
    for number, ease in enumerate(EASES):
        x, y = rng.uniform([60, 60], [580, 300]).round(2).tolist()
        layers.append(
            layer(
                f"L{number}", anchor=rng.uniform(-0.2, 1.2, 2).round(3).tolist(), span={"start": 0, "length": 60},
                position=keyed((3, [x, y]), (30, [x + 40, y - 25]), (52, [x - 30, y + 12]), eases=[ease, "ease"]),
                scale=keyed((0, [20, 30]), (41, [60, -40]), eases=[ease]),
                rotation=keyed((8, -40.0), (33, 55.5), (60, 20), eases=[ease, ease]),
                opacity=keyed((0, 100), (20, 40), eases=[ease]),
            )
        )  # fmt: skip
    curved = keyed((0, [100, 300]), (50, [500, 100]))
    curved["keys"][0]["leave"] = [120, -200]
    layers += [
        layer("Curve", position=curved, scale=[30, 30], span={"start": 7, "length": 40}),
        layer("Formula", position=[320, 180], scale=[40, 40], rotation={"rest": 0, "formula": "time * 45"}),
        layer("Anchor", anchor=keyed((0, [0, 0]), (50, [1, 1])), position=[200, 200], scale=[30, 30], rotation=30),
        layer("Carried", position=[40, 20], scale=[50, 80], rotation=keyed((0, 0), (60, 90)), carrier="l1"),
    ]
    return LoneScene(scene(*layers))


AT = """async time => {
  const painted = () => new Promise(done => requestAnimationFrame(() => requestAnimationFrame(done)));
  const still = matchMedia("(prefers-reduced-motion: reduce)");
  for (let waited = 0; still.matches && waited < 600; waited += 1) await painted();
  document.documentElement.pauseAnimations?.();
  for (const moment of [time / 2 + 700, time]) {
    document.documentElement.setCurrentTime?.(moment / 1000);
    for (const one of document.getAnimations()) { one.pause(); one.currentTime = moment; }
    await painted();
  }
  return !still.matches;
}"""
"""Everything at a time in ms, and painted so. A new page may not know at once that motion is wished for; and what is
stopped at the time at which its style was last computed stays where the compositor has moved it meanwhile, which is
why it is elsewhere before."""
BOXES = """names => Object.fromEntries(names.map(name => {
  const box = document.querySelector("." + name), mark = document.createElement("i"), found = [];
  for (const [x, y] of [[0, 0], [1, 0], [1, 1], [0, 1]]) {
    mark.style.cssText = `position:absolute;width:0;height:0;left:${x * 100}%;top:${y * 100}%`;
    box.append(mark);
    const { x: left, y: top } = mark.getBoundingClientRect();
    found.push([left, top]);
  }
  mark.remove();
  const { opacity, visibility } = getComputedStyle(box);
  return [name, { corners: found, opacity: Number(opacity), seen: visibility === "visible" }];
}))"""
GROUPS = """boxes => boxes.map(([id, [x, y, w, h]]) => {
  const one = document.getElementById(id), { a, b, c, d, e, f } = one.getScreenCTM(), style = getComputedStyle(one);
  const at = (x, y) => [a * x + c * y + e, b * x + d * y + f];
  return { corners: [at(x, y), at(x + w, y), at(x + w, y + h), at(x, y + h)], opacity: Number(style.opacity),
           seen: style.visibility === "visible" };
})"""


@pytest.mark.parametrize("kind", ["css", "web-animations", "svg-animated"])
def test_corners_lie_where_the_resolver_has_them(page: Page, tmp_path: Path, kind: str) -> None:
    """At frames, and between them where keys and easings are the layer's own: within 0.05 px; opacity within 1/255;
    seen in its span alone."""
    of = moving()
    out = tmp_path / ("scene.svg" if kind == "svg-animated" else "scene.zip")
    assert of.render(out, kind) == ()
    names = [one.name.lower() for one in of.document.layers]
    if out.suffix == ".zip":
        with zipfile.ZipFile(out) as files:
            files.extractall(tmp_path)
    page.emulate_media(reduced_motion="no-preference")
    page.goto((tmp_path / ("index.html" if out.suffix == ".zip" else "scene.svg")).as_uri())
    exact = names[: len(EASES)]
    for frame in (0, 3, 9, 20.5, 30, 33.25, 44, 46.75, 51, 59):
        assert page.evaluate(AT, frame / 30 * 1000 + 1e-6)
        real = of.resolve([frame]).layers
        if kind == "svg-animated":
            boxes = [[f"l{n}", one.content_box[0].tolist()] for n, one in enumerate(real.values())]
            got = dict(zip(names, page.evaluate(GROUPS, boxes), strict=True))
        else:
            got = page.evaluate(BOXES, names)
        for name, one in zip(names, real.values(), strict=True):
            if frame != int(frame) and name not in exact:
                continue
            assert got[name]["seen"] == bool(one.visible[0]), (name, frame)
            if one.visible[0]:
                gap = np.abs(np.array(got[name]["corners"]) - corners(one)[0]).max()
                assert gap <= 0.05, (name, frame, gap)
                assert abs(got[name]["opacity"] - one.opacity[0, 0]) <= 1 / 255, (name, frame)
    page.emulate_media(reduced_motion="reduce")


@pytest.mark.parametrize(
    ("name", "edges"),
    [("Lower third", 0.3)]
    + [
        pytest.param(*case, marks=pytest.mark.thorough)
        for case in (("Welcome board", 1.5), ("Opener", 0.8), ("Harbour window", 0.5))
    ],
)
def test_pictures_of_svg_are_the_stages(demo: OpenProject, page: Page, tmp_path: Path, name: str, edges: float) -> None:
    """On white, at three frames and as a still: within 2 of 255 wherever the colour does not change; no more than a
    small share of pixels, along edges, is another."""
    of = demo.scene(name)
    here = LoneScene(on_colour(of.document, "#ffffffff"), of.assets, of.files)
    length, (width, height) = of.document.length, (of.document.width, of.document.height)
    page.emulate_media(reduced_motion="no-preference")
    page.set_viewport_size({"width": width, "height": height})
    of.render(tmp_path / "moving.svg", "svg-animated", choices=Choices(behind="#ffffff"))
    of.render(tmp_path / "still.svg", first=length // 2, choices=Choices(behind="#ffffff"))
    for frame in (0, length // 2, length - 1, None):
        page.goto((tmp_path / ("still.svg" if frame is None else "moving.svg")).as_uri())
        if frame is not None:
            assert page.evaluate(AT, frame / of.document.fps * 1000 + 1e-3)
        got = np.asarray(Image.open(io.BytesIO(page.screenshot())).convert("RGB")).astype(int)
        real = here.paint(length // 2 if frame is None else frame)[..., :3].astype(int)
        flat, at_edges = gap_of(got, real)
        assert flat <= 0.01, frame
        assert at_edges <= edges, frame


def test_letters_of_svg_are_text_that_looks_the_same(demo: OpenProject, page: Page, tmp_path: Path) -> None:
    """Read as it was typed, spaces too, in fonts of a few kB within; moving and still; a word in Arabic stays outlines,
    which is said."""
    of = demo.scene("Lower third")
    here = LoneScene(on_colour(of.document, "#ffffffff"), of.assets, of.files)
    page.emulate_media(reduced_motion="no-preference")
    page.set_viewport_size({"width": of.document.width, "height": of.document.height})
    text = Choices(behind="#ffffff", letters="text")
    of.render(tmp_path / "still.svg", first=60, choices=text)
    of.render(tmp_path / "moving.svg", "svg-animated", choices=text)
    for name in ("still.svg", "moving.svg"):
        page.goto((tmp_path / name).as_uri())
        page.evaluate("document.fonts.ready")
        if name == "moving.svg":
            assert page.evaluate(AT, 2000.001)
        assert page.evaluate("[...document.querySelectorAll('text')].map(one => one.textContent)") == [
            "The old jetty", "Friday, an hour after dusk"
        ]  # fmt: skip
        got = np.asarray(Image.open(io.BytesIO(page.screenshot())).convert("RGB")).astype(int)
        flat, edges = gap_of(got, here.paint(60)[..., :3].astype(int))
        assert flat <= 0.01, name
        assert edges <= 1.6, name  # browsers set baselines on whole pixels
        assert (tmp_path / name).stat().st_size < 60_000
    page.emulate_media(reduced_motion="reduce")
    wide = layer("Wide", content={"kind": "text", "text": "Low tide", "tracking": 300}, position=[90, 90])
    LoneScene(scene(wide)).render(tmp_path / "a.svg", choices=text)
    assert ">Low tide</text>" in (tmp_path / "a.svg").read_text()
    arabic = layer("Word", content={"kind": "text", "text": "مد"})
    told = LoneScene(scene(arabic)).render(tmp_path / "a.svg", choices=text)
    assert any("are outlines" in one for one in told)


MODULES = Path(__file__).parents[2] / "frontend" / "node_modules"
SCHEMA = MODULES / "@lottie-animation-community" / "lottie-specs" / "src" / "data" / "lottie.schema.json"


GO_TO = """frame => new Promise(painted => {
  one.goToAndStop(frame, true);
  requestAnimationFrame(() => requestAnimationFrame(painted));
})"""


def gap_of(got: np.ndarray, real: np.ndarray) -> tuple[float, float]:
    """The share of pixels (%) off by more than 2 where the colour does not change, and of those off by 16."""
    gap = np.abs(got - real).max(axis=2)
    flat = np.ones(gap.shape, bool)
    for axis in (0, 1):
        for by in (-2, -1, 1, 2):
            flat &= np.abs(np.roll(real, by, axis) - real).max(axis=2) <= 2
    return float((gap[flat] > 2).mean() * 100), float((gap > 16).mean() * 100)


@pytest.mark.parametrize(
    ("name", "edges"),
    [("", 0.6), ("Lower third", 0.5)]
    + [pytest.param(*case, marks=pytest.mark.thorough) for case in (("Tide gauge", 0.6), ("Opener", 0.8))],
)
def test_animation_json_is_played_by_an_open_player(
    demo: OpenProject, page: Page, tmp_path: Path, name: str, edges: float
) -> None:
    """By the published schema; on white, at four frames: within 2 of 255 wherever the colour does not change."""
    of = demo.scene(name) if name else moving()
    here = LoneScene(on_colour(of.document, "#ffffffff"), of.assets, of.files)
    assert of.render(tmp_path / "a.json", "animation-json", choices=Choices(behind="#ffffff")) == ()
    told = json.loads((tmp_path / "a.json").read_text())
    assert list(jsonschema_rs.Draft202012Validator(json.loads(SCHEMA.read_text())).iter_errors(told)) == []
    width, height, length = of.document.width, of.document.height, of.document.length
    page.set_viewport_size({"width": width, "height": height})
    page.goto("about:blank")
    page.set_content(f'<body style="margin:0"><div id="a" style="width:{width}px;height:{height}px"></div>')
    page.add_script_tag(path=MODULES / "lottie-web" / "build" / "player" / "lottie.min.js")
    load = """told => { window.one = lottie.loadAnimation(
        { container: document.getElementById("a"), renderer: "svg", autoplay: false, animationData: told }); }"""
    page.evaluate(load, told)
    for frame in np.linspace(0, length - 1, 4).astype(int).tolist():
        page.evaluate(GO_TO, frame)
        got = np.asarray(Image.open(io.BytesIO(page.screenshot())).convert("RGB")).astype(int)
        flat, at_edges = gap_of(got, here.paint(frame)[..., :3].astype(int))
        assert flat <= 0.01, frame
        assert at_edges <= edges, frame


def test_hover_goes_in_and_out_about_the_same_point(page: Page, tmp_path: Path) -> None:
    """By CSS and by Web Animations: the anchor stays where it is all the way, in and out, for each of a list."""
    grow = layer("Grow", anchor=[0, 1], position=[100, 200], scale=keyed((0, [50, 50]), (6, [100, 100])))
    of = LoneScene(scene(grow, length=6))
    page.emulate_media(reduced_motion="no-preference")
    for kind in ("css", "web-animations"):
        of.render(tmp_path / "scene.zip", kind, choices=Choices(starts="hover"))
        with zipfile.ZipFile(tmp_path / "scene.zip") as files:
            files.extractall(tmp_path)
            if kind == "web-animations":
                lines = [line for line in files.read("play.js").decode().splitlines() if line.strip(" */")]
                assert len(lines) <= 24
                assert json.loads(files.read("scene.json"))["elements"][0]["origin"] == "0% 100%"
        page.goto((tmp_path / "index.html").as_uri())
        page.mouse.move(900, 600)
        size = "document.querySelector('.grow').getBoundingClientRect()"
        page.wait_for_function(f"{size}.width === 100")
        page.mouse.move(120, 180)
        page.wait_for_function(f"{size}.width > 101 && {size}.width < 199")
        page.wait_for_function(f"{size}.width === 200")
        box = page.evaluate(f"(() => {{ const b = {size}; return [b.left, b.bottom]; }})()")
        assert box == pytest.approx([100, 200], abs=0.05)
        page.mouse.move(900, 600)
        page.wait_for_function(f"{size}.width === 100")
    page.emulate_media(reduced_motion="reduce")


def test_what_cannot_be_said_is_said_before(tmp_path: Path) -> None:
    """Effects, conic gradients, what changes within itself, hovering through many poses, motion blur; and nothing else
    is lost: without these the same files say nothing."""
    conic = {"gradient": "conic", "stops": [{"at": 0, "colour": "#ff0000"}, {"at": 1, "colour": "#0000ff"}]}
    item = {"shape": "rectangle", "size": keyed((0, [20, 20]), (30, [80, 80])), "fill": "#0e3f45"}
    layers = [
        layer("Glow", effects=[{"effect": "soft-blur"}]),
        layer("Grows", content={"kind": "shape", "items": [item]}),
        layer("Poses", rotation=keyed((0, 0), (20, 40), (40, -10))),
        layer("Conic", content={"kind": "shape", "items": [item | {"size": [20, 20], "fill": conic}]}),
    ]
    of = LoneScene(scene(*layers, motion_blur={}))
    hover = Choices(starts="hover")
    told = of.render(tmp_path / "a.zip", "css", choices=hover)
    for words in (
        "Effects are left out",
        "Conic gradients",
        "stands as in the middle of its time: 'Grows'",
        "'Poses'",
        "blur",
    ):
        assert any(words in one for one in told), words
    plain = [{**one, "effects": []} for one in layers[:1]] + layers[2:3]
    assert len(LoneScene(scene(*plain)).render(tmp_path / "b.zip", "css", choices=hover)) == 1
    assert LoneScene(scene(*plain)).render(tmp_path / "b.zip", "css") == ()


@cases(60)
@given(
    text=st.sampled_from([*PRESETS, "overshoot(40)", "steps(5, jump-both)", "linear(0, 1.2 40%, 1)", "bounce(4, 0.5)"])
)
def test_easings_are_told_closely(text: str) -> None:
    """Against CSS's own forms, evaluated by their definition."""
    ease = read_ease(text)
    said = css_easing(ease)
    u = np.linspace(0, 1, 777)
    real = progress(ready([ease]), np.zeros(777, dtype=np.intp), u) if ease != "linear" else u
    again = read_ease("hold" if said == "steps(1, jump-end)" else said)
    back = progress(ready([again]), np.zeros(777, dtype=np.intp), u) if again != "linear" else u
    near = NEAR * 1.3 if re.match("linear.", said) else 1e-9
    assert np.abs(back - real)[u < 1].max() <= near
