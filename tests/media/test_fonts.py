"""Fonts from outside: every kind of file, hostile ones, and what texts are set in before and after, everywhere."""

from __future__ import annotations

import io
import json
import random
import subprocess
import sys
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient
from fontTools.ttLib import TTCollection, TTFont
from PIL import Image

from mudskipper.core.ground.errors import Refused
from mudskipper.core.text.families import INSTALLED, Fonts
from mudskipper.core.text.fonts import Font, Style
from mudskipper.core.text.layout import plain
from mudskipper.core.text.letters import ink_of
from mudskipper.export.frames import frames_of
from mudskipper.export.order import make_order, read_order
from mudskipper.export.processes import process_pool
from mudskipper.media.font_reading import NoFont, faces_in
from mudskipper.media.fonts import OwnFace, faces_in_folder, families_of, read_fonts
from mudskipper.store.store import Store
from mudskipper.web.app import create_app
from tests.conftest import SEARCHING, layer, scene
from tests.web.conftest import HOST

NAME = "Harbour Test"


def renamed(weight: int = 400, italic: bool = False, bits: int = 0, name: str = NAME, family: str = "Kanit") -> TTFont:
    """An installed font under another name."""
    font = TTFont(INSTALLED.family_of(family).file(weight, italic).path)
    for record in font["name"].names:
        if record.nameID in (1, 16):
            record.string = name
    font["OS/2"].fsType = bits
    return font


def saved(font: TTFont, flavor: str | None = None) -> bytes:
    out = io.BytesIO()
    font.flavor = flavor
    font.save(out)
    return out.getvalue()


def collection() -> bytes:
    both, out = TTCollection(), io.BytesIO()
    both.fonts = [renamed(400), renamed(700, True)]
    both.save(out)
    return out.getvalue()


def shapes_of(style: Style) -> Any:
    line = plain("Tide น้ำลง", style)
    return line.advance.tolist(), line.dx.tolist(), [ink_of(name) for name in line.names]


@pytest.mark.parametrize("kind", ["ttf", "woff", "woff2", "ttc", "cff"])
def test_fonts_of_every_kind_have_the_letters_of_their_files(kind: str, tmp_path: Path) -> None:
    """Widths and outlines are those of the font that is installed under another name."""
    source = {
        "ttf": lambda: saved(renamed()), "woff": lambda: saved(renamed(), "woff"),
        "woff2": lambda: saved(renamed(), "woff2"), "ttc": collection, "cff": lambda: saved(cff()),
    }[kind]()  # fmt: skip
    file = tmp_path / f"font.{kind}"
    file.write_bytes(source)
    (tmp_path / "kept").mkdir()
    own = faces_in_folder(tmp_path, tmp_path / "kept") if kind != "cff" else _read(file, tmp_path / "kept")
    (family,) = families_of(own)
    assert family.name == NAME
    fonts = Fonts([family])
    if kind == "cff":
        width = plain("H", Style(Font(family=NAME, weight=400), fonts)).advance.tolist()
        assert width == [0.5]
        return
    assert {"latin", "thai"} <= set(family.scripts)
    assert family.weights == ((400, 700) if kind == "ttc" else (400,))
    for weight, italic in [(400, False), (700, True)][: 1 + (kind == "ttc")]:
        mine = shapes_of(Style(Font(family=NAME, weight=weight, italic=italic), fonts))
        assert mine == shapes_of(Style(Font(family="Kanit", weight=weight, italic=italic)))


def _read(file: Path, into: Path) -> list[OwnFace]:
    with read_fonts(file, file.name) as faces:
        (path, facts) = faces[0]
        (into / "cff.sfnt").write_bytes(path.read_bytes())
        return [OwnFace("c" * 64, str(into / "cff.sfnt"), json.dumps(facts))]


def cff() -> TTFont:
    """A font of two letters whose outlines are cubic (OTF)."""
    from fontTools.fontBuilder import FontBuilder
    from fontTools.pens.t2CharStringPen import T2CharStringPen

    pen = T2CharStringPen(500, None)
    for call, *points in [("moveTo", (0, 0)), ("curveTo", (0, 300), (200, 700), (400, 700)), ("lineTo", (400, 0))]:
        getattr(pen, call)(*points)
    pen.closePath()
    letter = pen.getCharString()
    build = FontBuilder(1000, isTTF=False)
    build.setupGlyphOrder([".notdef", "H"])
    build.setupCharacterMap({ord("H"): "H"})
    build.setupCFF(NAME, {}, {".notdef": letter, "H": letter}, {})
    build.setupHorizontalMetrics({".notdef": (500, 0), "H": (500, 0)})
    build.setupHorizontalHeader(ascent=800, descent=-200)
    build.setupNameTable({"familyName": NAME, "styleName": "Regular"})
    build.setupOS2(usWeightClass=400)
    build.setupPost()
    return build.font


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"", "This is no font"), (b"Hello", "This is no font"), (b"OTTO" + bytes(40), "It holds no outlines"),
        (b"wOF2" + bytes(400), "begins like a font but is damaged"), (b"ttcf" + b"\xff" * 60, "damaged"),
    ],
)  # fmt: skip
def test_what_is_no_font_is_refused_in_words(data: bytes, said: str, tmp_path: Path) -> None:
    file = tmp_path / "a.ttf"
    file.write_bytes(data)
    with pytest.raises(Refused, match=said), read_fonts(file, "a.ttf"):
        pass


def test_hostile_fonts_are_taken_or_refused(tmp_path: Path) -> None:
    """Files with bytes changed at random, of every kind: what is wrong is an exception, never the end of the process;
    those that are taken can be shaped and drawn."""
    dice = random.Random(3)
    source = [saved(renamed()), saved(renamed(), "woff"), saved(renamed(family="Caveat"), "woff2"), collection()]
    taken = 0
    for _ in range(400 if SEARCHING else 40):
        data = bytearray(dice.choice(source))
        for _ in range(dice.choice([1, 3, 20, 200])):
            data[dice.randrange(min(len(data), dice.choice([200, 2_000, len(data)])))] = dice.randrange(256)
        file = tmp_path / "hostile"
        file.write_bytes(data[: dice.randrange(len(data))] if dice.random() < 0.1 else data)
        try:
            found = faces_in(file, tmp_path)
        except (NoFont, Exception):
            continue
        taken += 1
        own = [OwnFace(f"{taken:064}", str(tmp_path / one["file"]), json.dumps(one)) for one in found]
        for family in families_of(own):
            shapes_of(Style(Font(family=family.name), Fonts([family])))
    assert taken


def kept(client: TestClient, project: str, sign: dict[str, Any]) -> str:
    """The id of a new scene of a project that shows a layer."""
    document = scene(sign, background="#fff8eaff").model_dump(mode="json", by_alias=True)
    answer = client.post(f"/api/projects/{project}/documents", json=document)
    assert answer.status_code == 201, answer.text
    return str(answer.json()["scene"]["id"])


def words(text: str = "Tide น้ำลง", family: str = NAME) -> dict[str, Any]:
    content = {"kind": "text", "text": text, "size": 60, "fill": "#1b2628", "font": {"family": family, "weight": 400}}
    return layer("Sign", content=content, position=[320, 180])


def _carried_out(order: str, media: str, sounds: str) -> bytes:
    """The first frame of an order, painted in a process that knows nothing else."""
    known = read_order(order)
    files = known.files_in(Path(media), Path(sounds))
    document, assets = known.opened(files)
    (painter,) = frames_of(document, assets, files, [0])
    return painter.png()


@pytest.mark.thorough
def test_a_projects_own_font_is_found_painted_exported_and_missed(tmp_path: Path) -> None:
    """A text keeps the name of a font that is not here; from when its file is added it is set in it, on this server, in
    another process and by the command line; and again in another one once it is taken out."""
    store = Store(tmp_path / "data")
    project = store.make_project("Harbour")
    with TestClient(create_app(store), base_url=HOST) as client:
        made = kept(client, project, words())

        def still() -> bytes:
            return client.get(f"/api/scenes/{made}/still?frame=0").content

        def findings() -> list[str]:
            return [one["sentence"] for one in client.get(f"/api/scenes/{made}/checks").json()]

        def arrays() -> bytes:
            return client.get(f"/api/scenes/{made}/resolved?from=0&to=1").content

        without = still(), arrays()
        assert "is set in Harbour Test, which is not here; Figtree stands in for it" in findings()[0]
        sent = {"file": ("harbour.woff2", saved(renamed(), "woff2"))}
        (face,) = client.post(f"/api/projects/{project}/fonts", files=sent).json()
        assert (face["family"], face["weight"], face["italic"], face["embeds"]) == (NAME, 400, False, True)
        (again,) = client.post(f"/api/projects/{project}/fonts", files=sent).json()
        assert again["id"] == face["id"], "the same file twice is one font"
        told = client.get(f"/api/projects/{project}/fonts").json()
        assert (told["used"], [one["name"] for one in told["families"]]) == ([NAME], [NAME])
        file = client.get(told["families"][0]["files"][0]["address"])
        assert TTFont(io.BytesIO(file.content))["name"].getDebugName(1) == NAME
        with_it = still(), arrays()
        assert with_it[0] != without[0]
        assert with_it[1] != without[1]
        assert findings() == []
        kanit = kept(client, project, words(family="Kanit"))
        assert client.get(f"/api/scenes/{kanit}/still?frame=0").content == with_it[0]
        # The command line, in a process of its own, with the font's file beside the document.
        folder = tmp_path / "media"
        folder.mkdir()
        (folder / "harbour.ttf").write_bytes(saved(renamed()))
        document = tmp_path / "sign.json"
        document.write_bytes(client.get(f"/api/scenes/{made}/document").content)
        command = [sys.executable, "-m", "mudskipper.cli", "render", str(document), "--out", str(tmp_path / "out.png")]
        subprocess.run([*command, "--media", str(folder), "--frame", "0"], check=True, capture_output=True)
        both = [np.asarray(Image.open(one).convert("RGBA")) for one in (tmp_path / "out.png", io.BytesIO(with_it[0]))]
        assert (both[0] == both[1]).all()
        # An order, as a worker on another machine carries it out that has the files by their digests.
        files = store.media_files(project)
        order = make_order(store.head(made).scene, store.assets(project), files, "png", 0, 1).to_json()
        with process_pool(1) as pool:
            elsewhere = pool.submit(_carried_out, order, str(tmp_path / "data" / "media"), str(tmp_path)).result()
        assert (np.asarray(Image.open(io.BytesIO(elsewhere)).convert("RGBA")) == both[1]).all()
        refused = client.put(f"/api/projects/{project}/media/{face['id']}/removed?removed=true")
        assert "It is used in 'Test'" in refused.json()["detail"]
        gone = {"edit": "delete_layers", "layers": [store.head(made).scene.layers[0].id]}
        assert client.post(f"/api/scenes/{made}/edits", json={"edits": [gone]}).status_code == 200
        assert client.put(f"/api/projects/{project}/media/{face['id']}/removed?removed=true").status_code == 200
        assert client.get(f"/api/projects/{project}/fonts").json()["families"] == []


def test_a_font_that_may_not_be_embedded_is_painted_and_not_given_out(tmp_path: Path) -> None:
    store = Store(tmp_path)
    project = store.make_project("Harbour")
    with TestClient(create_app(store), base_url=HOST) as client:
        sent = {"file": ("bound.ttf", saved(renamed(bits=2)))}
        (face,) = client.post(f"/api/projects/{project}/fonts", files=sent).json()
        assert not face["embeds"]
        (family,) = client.get(f"/api/projects/{project}/fonts").json()["families"]
        assert client.get(family["files"][0]["address"]).status_code == 404
        assert NAME in store.assets(project).fonts.families
