"""Animation JSON as scenes: painted as its open player plays it, read again as it was written, refused in words."""

from __future__ import annotations

import base64
import io
import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Browser, Page
from typer.testing import CliRunner

from mudskipper.cli import app
from mudskipper.core.contents.assets import Assets, PictureInfo
from mudskipper.core.ground.errors import Refused
from mudskipper.core.text.families import installed
from mudskipper.export.choices import Choices
from mudskipper.export.frames import on_colour
from mudskipper.media.files import MediaFiles
from mudskipper.opened import LoneScene
from mudskipper.readers.animation import ReadAnimation, read_animation
from mudskipper.scene_files import scene_at
from tests.conftest import SEARCHING, THOROUGH, layer, scene
from tests.export.test_web_formats import GO_TO, MODULES, gap_of, moving
from tests.readers.animations import LENGTH, SIZE, animation

PAGE = '<body style="margin:0"><style>{}</style><div id="a" style="width:{}px;height:{}px"></div>'
LOAD = """told => {
  const [container, animationData] = [document.getElementById("a"), JSON.parse(told)];
  window.one = lottie.loadAnimation({ container, renderer: "svg", autoplay: false, animationData });
}"""


def opened(read: ReadAnimation, folder: Path) -> LoneScene:
    """What was read, on white."""
    infos, paths = {}, {}
    for number, (ident, (_, data)) in enumerate(read.pictures.items()):
        path = folder / f"picture{number}"
        path.write_bytes(data)
        with Image.open(path) as image:
            infos[ident] = PictureInfo(id=ident, width=image.width, height=image.height)
        paths[ident] = str(path)
    inner = {one.id: one for one in read.scenes[:-1]}
    return LoneScene(on_colour(read.scenes[-1], "#ffffffff"), Assets(infos, scenes=inner), MediaFiles(paths))


def played(page: Page, told: dict[str, Any], style: str = "") -> None:
    page.set_viewport_size({"width": told["w"], "height": told["h"]})
    page.goto("about:blank")
    page.set_content(PAGE.format(style, told["w"], told["h"]))
    page.add_script_tag(path=MODULES / "lottie-web" / "build" / "player" / "lottie.min.js")
    page.evaluate("document.fonts.load('40px Figtree')")
    page.evaluate(LOAD, json.dumps(told))


def seen(page: Page, frame: int) -> np.ndarray:
    page.evaluate(GO_TO, frame)
    return np.asarray(Image.open(io.BytesIO(page.screenshot())).convert("RGB")).astype(int)


def test_made_up_animations_look_as_they_are_played(browser: Browser, tmp_path: Path) -> None:
    """Groups, paints, drawn parts, copies, stars, curves for each number, carried layers, masks, mattes and inner
    compositions: no flat pixel in a thousand is another, where nothing is said to be left out."""
    page = browser.new_page()
    compared = 0
    for seed in range(200 if SEARCHING else 40 if THOROUGH else 12):
        told = animation(seed)
        read = read_animation(json.dumps(told).encode(), "a.json")
        if read.notes:
            continue
        compared += 1
        of = opened(read, tmp_path)
        assert (of.document.width, of.document.height, of.document.length) == (*SIZE, LENGTH)
        played(page, told)
        for frame in (1, 12, 20, 33, 39):
            flat, edges = gap_of(seen(page, frame), of.paint(frame)[..., :3].astype(int))
            assert flat <= 0.1, (seed, frame)
            assert edges <= 1.5, (seed, frame)
    page.close()
    assert compared >= 5


def text_layer(words: str, align: int, at: list[float], **more: Any) -> dict[str, Any]:
    told = {"s": 40, "f": "One", "t": words, "j": align, "tr": 0, "lh": 48, "ls": 0, "fc": [0.1, 0.2, 0.6]} | more
    ks = {"a": [0, 0], "p": at, "s": [100, 100], "r": 0, "o": 100}
    return {
        "ty": 5, "ind": align + 1, "nm": words[:9], "ip": 0, "op": 20, "st": 0,
        "ks": {name: {"a": 0, "k": value} for name, value in ks.items()},
        "t": {"d": {"k": [{"s": told, "t": 0}]}, "p": {}, "m": {"g": 1, "a": {"a": 0, "k": [0, 0]}}, "a": []},
    }  # fmt: skip


def ink(pixels: np.ndarray) -> tuple[int, int, int, int]:
    """left, top, right, bottom of what is not white."""
    rows, columns = np.nonzero((pixels < 200).any(axis=2))
    return int(columns.min()), int(rows.min()), int(columns.max()), int(rows.max())


def test_texts_stand_on_their_baselines(browser: Browser, tmp_path: Path) -> None:
    """Left, right, centred, in two lines and tracked, in a font that is here; texts that follow each other in one layer
    are layers that do."""
    family = installed()["Figtree"]
    font = base64.b64encode(Path(family.file(400, False).path).read_bytes()).decode()
    style = f"@font-face {{ font-family: Figtree; font-weight: 300 900; src: url(data:font/ttf;base64,{font}); }}"
    layers = [
        text_layer("Low tide\rat six", 0, [20, 60]), text_layer("Harbour", 1, [390, 60], tr=60),
        text_layer("Gulls", 2, [200, 200]),
    ]  # fmt: skip
    layers[2]["t"]["d"]["k"].append({"s": {**layers[2]["t"]["d"]["k"][0]["s"], "t": "Crab"}, "t": 8})
    fonts = {"list": [{"fName": "One", "fFamily": "Figtree", "fStyle": "Regular", "ascent": 95}]}
    told = {"v": "5.9.0", "fr": 25, "ip": 0, "op": 20, "w": 400, "h": 300, "fonts": fonts, "layers": layers}
    read = read_animation(json.dumps(told).encode(), "a.json")
    assert read.notes == []
    assert [one.content.words for one in read.scenes[-1].layers] == ["Gulls", "Crab", "Harbour", "Low tide\nat six"]
    of = opened(read, tmp_path)
    page = browser.new_page()
    played(page, told, style)
    for frame in (2, 12):
        # The player sets letter after letter, without kerning: some px at the far ends of lines.
        got, real = seen(page, frame), of.paint(frame)[..., :3].astype(int)
        for where in (np.s_[:110, :200], np.s_[:110, 200:], np.s_[110:]):
            assert np.abs(np.array(ink(got[where])) - ink(real[where])).max() <= 4, frame
        assert np.abs(np.array(ink(got[:110, :200])[:4]) - ink(real[:110, :200])[:4])[[0, 1, 3]].max() <= 1
    page.close()


def test_what_was_written_is_read_as_it_was(tmp_path: Path) -> None:
    """Layers that move in many ways, under masks, with a picture: written, read, painted the same; and written again
    the same as before."""
    Image.fromarray(np.random.default_rng(3).integers(0, 255, (40, 60, 3), dtype=np.uint8)).save(tmp_path / "pic.png")
    mask = {"shape": {"shape": "ellipse", "size": [70, 40]}, "mode": "add"}
    moved = moving().document.model_dump(mode="json")["layers"]
    layers = [
        *moved[:6], layer("Pic", content={"kind": "picture", "asset": "pic"}, position=[300, 200], rotation=20),
        {**moved[6], "masks": [mask]}, *moved[7:],
    ]  # fmt: skip
    assets = Assets({"pic": PictureInfo(id="pic", width=60, height=40)})
    files = MediaFiles({"pic": str(tmp_path / "pic.png")})
    of = LoneScene(on_colour(scene(*layers), "#ffffffff"), assets, files)
    assert of.render(tmp_path / "a.json", "animation-json", choices=Choices(behind="#ffffff")) == ()
    read = read_animation((tmp_path / "a.json").read_bytes(), "a.json")
    assert read.notes == []
    again = opened(read, tmp_path)
    for frame in (0, 13, 29, 47, 59):
        flat, edges = gap_of(again.paint(frame)[..., :3].astype(int), of.paint(frame)[..., :3].astype(int))
        assert flat <= 0.01, frame
        assert edges <= 0.3, frame


def test_pictures_within_beside_and_missing() -> None:
    """One in the file at another size than it has, one of the project, one that is nowhere."""
    out = io.BytesIO()
    Image.new("RGB", (80, 40), "red").save(out, "PNG")
    url = "data:image/png;base64," + base64.b64encode(out.getvalue()).decode()
    assets = [
        {"id": "a", "w": 40, "h": 40, "u": "", "p": url, "e": 1},
        {"id": "b", "w": 9, "h": 9, "u": "img/", "p": "Gull.PNG"},
        {"id": "c", "w": 9, "h": 9, "u": "img/", "p": "crab.png"},
    ]  # fmt: skip
    layers = [
        {"ty": 2, "ind": n, "ip": 0, "op": 9, "ks": {"a": {"k": [10, 10]}}, "refId": ref} for n, ref in enumerate("abc")
    ]
    told = {"fr": 25, "ip": 0, "op": 9, "w": 90, "h": 60, "assets": assets, "layers": layers}
    read = read_animation(json.dumps(told).encode(), "a.json", {"gull.png": "known"})
    missing, gull, red = read.scenes[0].layers
    assert (gull.content.pictures, missing.content.words) == (("known",), "Missing: crab.png")
    assert (red.scale.rest, red.anchor.rest) == ((50.0, 100.0), (20.0, 10.0))
    assert read.pictures["a"][0] == "a.png"
    assert read.notes == ["The picture “crab.png” is not in the file, or cannot be read; a text stands for it."]


ENDLESS = {"id": "x", "layers": [{"ty": 0, "refId": "x", "ip": 0, "op": 9, "ks": {}}]}


@pytest.mark.parametrize(
    ("told", "words"),
    [
        (b"{", "no JSON"), (b"[]", "no animation in it"), (b'{"a": 1}', "no animation in it"),
        (b"\xff\xfe\x00", "no JSON"), (b"[" * 100_000, "no JSON"),
        ({"ver": 20_100}, "version 2 of the specification"),
        ({"layers": [{"ty": 4, "shapes": 7, "ks": {}}]}, "a way that cannot be read"),
        ({"layers": [{"ty": 0, "refId": "x", "ip": 0, "op": 9, "ks": {}}], "assets": [ENDLESS]}, "cannot be read"),
        ({"fr": 0}, "frame_rate"), ({"fr": "fast"}, "cannot be read"), ({"op": 1e300}, "a.json"),
        ({"w": 10**7}, "a.json"), ({"layers": [{"ty": 3, "ks": {}, "ip": 0, "op": 9}] * 5_001}, "a.json"),
        ({"layers": [{"ty": 2, "refId": "p", "ks": {}}], "assets": [{"id": "p", "p": "data:image/png;base64,@"}]}, ""),
    ],
)  # fmt: skip
def test_what_cannot_be_read_is_told_so(told: Any, words: str) -> None:
    whole = {"v": "5.9.0", "fr": 25, "ip": 0, "op": 9, "w": 90, "h": 60, "layers": []}
    data = told if isinstance(told, bytes) else json.dumps(whole | told).encode()
    if not words:
        # A picture that is none is as one that is missing.
        read = read_animation(data, "a.json")
        assert (read.scenes[0].layers[0].content.words, read.pictures) == ("Missing: p.png", {})
        return
    with pytest.raises(Refused) as refused:
        read_animation(data, "a.json")
    assert words in str(refused.value)


def test_the_command_line_writes_it_as_files(tmp_path: Path) -> None:
    """The scene, the one within it and a picture beside it: the folder paints as the animation does."""
    out = io.BytesIO()
    Image.new("RGB", (40, 30), "red").save(out, "PNG")
    told = animation(1)
    url = "data:image/png;base64," + base64.b64encode(out.getvalue()).decode()
    told["assets"].append({"id": "p", "w": 40, "h": 30, "u": "", "p": url, "e": 1})
    told["layers"].insert(0, {"ty": 2, "ind": 77, "ip": 0, "op": 40, "ks": {}, "refId": "p"})
    (tmp_path / "in.json").write_text(json.dumps(told))
    done = CliRunner().invoke(app, ["import", str(tmp_path / "in.json"), "--out", str(tmp_path / "scene.json")])
    assert done.exit_code == 0, done.output
    of = scene_at(tmp_path / "scene.json", None)
    inside = opened(read_animation((tmp_path / "in.json").read_bytes(), "in.json"), tmp_path)
    white = LoneScene(on_colour(of.document, "#ffffffff"), of.assets, of.files)
    assert (white.paint(12) == inside.paint(12)).all()
