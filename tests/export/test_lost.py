"""What a format is said to lose is all that differs: generated layers without it, against what was written."""

from __future__ import annotations

import io
import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Page

from mudskipper.core.contents.assets import Assets, PictureInfo
from mudskipper.core.document.read import scene_of
from mudskipper.core.document.scene import SCHEMA, Scene
from mudskipper.export.frames import on_colour
from mudskipper.export.web import animation_json, svg_drawing
from mudskipper.export.writers.web_page import NO_BLUR
from mudskipper.media.files import MediaFiles
from mudskipper.opened import LoneScene
from tests.conftest import SEARCHING, THOROUGH
from tests.export.test_web_formats import AT, GO_TO, MODULES, gap_of
from tests.ui.test_parity import anything, masked

SEEDS = range(1, 30) if SEARCHING else (1, 2, 3) if THOROUGH else (1,)
EFFECTS = {svg_drawing.NO_EFFECTS, animation_json.NO_EFFECTS}
FILTERS = {svg_drawing.NO_FILTERS, animation_json.NO_FILTERS}
CONIC = {svg_drawing.NO_CONIC, animation_json.NO_CONIC}
FEATHER = {animation_json.NO_FEATHER}
LOAD = """told => { lottie.destroy(); document.body.innerHTML = '<div id="a" style="width:640px;height:360px"></div>';
  window.one = lottie.loadAnimation({ container: document.getElementById("a"), renderer: "svg", autoplay: false,
    animationData: JSON.parse(told) }); }"""


def without(value: Any, lost: set[str]) -> Any:
    """A document without what is said to be left out of it."""
    if isinstance(value, list):
        return [without(one, lost) for one in value]
    if not isinstance(value, dict):
        return value
    if value.get("gradient") == "conic" and lost & CONIC:
        return value["stops"][0]["colour"]
    changed = {name: without(one, lost) for name, one in value.items()}
    if "effects" in changed and lost & EFFECTS:
        changed["effects"] = []
    if "feather" in changed and lost & FEATHER:
        changed["feather"] = 0
    if "motion_blur" in changed and "width" in changed and NO_BLUR in lost:
        changed["motion_blur"] = None
    if "layers" in changed and lost & FILTERS:
        changed["layers"] = [one for one in changed["layers"] if one["content"]["kind"] != "filter"]
    return changed


def lone_layers(whole: Scene) -> list[Scene]:
    """A scene for each layer, with its matte and its carrier."""
    found = []
    for one in whole.layers:
        wanted = {one.id, one.carrier, one.matte.layer if one.matte else None}
        found.append(whole.with_layers(tuple(each for each in whole.layers if each.id in wanted)))
    return found


@pytest.mark.parametrize("kind", [pytest.param("svg-animated", marks=pytest.mark.thorough), "animation-json"])
@pytest.mark.parametrize("make", [anything, masked])
def test_what_is_said_to_be_lost_is_all_that_differs(page: Page, tmp_path: Path, make: Any, kind: str) -> None:
    """Each layer by itself, on white: flat pixels, three in a thousand may be others, and edges."""
    noise = np.random.default_rng(1).integers(0, 255, (40, 60, 3), dtype=np.uint8)
    Image.fromarray(noise).resize((600, 400), Image.Resampling.BICUBIC).save(tmp_path / "pic.png")
    assets = Assets({"pic": PictureInfo(id="pic", width=600, height=400)})
    files = MediaFiles({"pic": str(tmp_path / "pic.png")})
    page.emulate_media(reduced_motion="no-preference")
    page.set_viewport_size({"width": 640, "height": 360})
    droppable = {*EFFECTS, *FILTERS, *CONIC, *FEATHER, NO_BLUR}
    compared = 0
    if kind == "animation-json":
        (tmp_path / "player.html").write_text('<body style="margin:0">')
        page.goto((tmp_path / "player.html").as_uri())
        page.add_script_tag(path=MODULES / "lottie-web" / "build" / "player" / "lottie.min.js")
    for seed in SEEDS:
        base = {"schema": SCHEMA, "name": "T", "width": 640, "height": 360, "length": 10}
        whole = on_colour(scene_of(base | {"layers": make(seed, "pic")["layers"]}), "#ffffffff")
        for number, of in [*enumerate(lone_layers(whole))][:: 1 if SEARCHING else 3 if THOROUGH else 11]:
            out = tmp_path / f"a.{'svg' if kind == 'svg-animated' else 'json'}"
            lost = set(LoneScene(of, assets, files).render(out, kind))
            if lost - droppable:
                continue
            compared += 1
            plain = LoneScene(scene_of(without(json.loads(of.to_json()), lost)), assets, files)
            if kind == "animation-json":
                page.evaluate(LOAD, out.read_text())
            for frame in (1, 8):
                if kind == "animation-json":
                    page.evaluate(GO_TO, frame)
                else:
                    page.goto(out.as_uri())
                    assert page.evaluate(AT, frame / of.fps * 1000 + 1e-3)
                got = np.asarray(Image.open(io.BytesIO(page.screenshot())).convert("RGB")).astype(int)
                flat, edges = gap_of(got, plain.paint(frame)[..., :3].astype(int))
                where = (seed, number, of.layers[-1].name, frame, sorted(lost))
                assert flat <= 0.3, where
                assert edges <= 4, where
    page.emulate_media(reduced_motion="reduce")
    assert compared >= 2
