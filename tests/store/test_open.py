"""One way in: a data folder, a store or a scene's file; projects, scenes, and what is done with them."""

from __future__ import annotations

import io
import shutil
import subprocess
import sys
import zipfile
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

import mudskipper
from mudskipper.core.ground.errors import Refused
from mudskipper.export.order import make_order, read_order
from mudskipper.export.render import render_file
from mudskipper.export.writers.base import Run
from mudskipper.opened import LoneScene, open_scene
from mudskipper.store.store import Store
from tests.conftest import layer, scene


@pytest.fixture(scope="module")
def folder(tmp_path_factory: pytest.TempPathFactory, filled: Callable[[Path], Path]) -> Path:
    """A data folder with the demo."""
    return filled(tmp_path_factory.mktemp("data"))


def test_a_scene_is_edited_painted_and_written_from_wherever_it_comes(folder: Path, tmp_path: Path) -> None:
    """Of a data folder each edit is a step that another process finds; of a file it lasts until it is saved."""
    opened = mudskipper.open(folder)
    assert opened.projects == ["Low Tide Week"]
    project = opened.project("Low Tide Week")
    assert project.scenes[0] == "Opener"
    opener = project.scene("Opener")
    plate = opener.document.layers[1]
    before = opener.paint(30)
    turn = {"edit": "set_property", "layer": plate.id, "property": "rotation", "frame": 30, "value": 20}
    assert opener.edit(turn).words == f"Set rotation of {plate.name}"
    after = opener.paint(30)
    assert (after != before).any()
    assert (mudskipper.open(Store(folder)).project("Low Tide Week").scene("Opener").paint(30) == after).all()
    assert opener.resolve([30], ids=[plate.id]).layers[plate.id].values["rotation"][0, 0] == 20

    opener.save(tmp_path / "opener.json")
    for picture, file in opener.files.pictures.items():
        shutil.copyfile(file, tmp_path / f"{picture}.png")
    lone = mudskipper.open(tmp_path / "opener.json").project(tmp_path.name).scene("Opener")
    assert (lone.paint(30) == after).all()
    assert {one.check for one in lone.check()} == {one.check for one in opener.check()}
    lone.edit(turn | {"value": 0})
    assert (lone.paint(30) != after).any()
    assert (opener.paint(30) == after).all()
    assert lone.render(tmp_path / "still.png", first=30) == ()
    assert (np.asarray(Image.open(tmp_path / "still.png").convert("RGBA")) == lone.paint(30)).all()


def test_what_is_not_there_is_said(folder: Path, tmp_path: Path) -> None:
    opened = mudskipper.open(folder)
    with pytest.raises(Refused, match=r"no project called 'Low'\. There are 'Low Tide Week'\."):
        opened.project("Low")
    with pytest.raises(Refused, match="no scene of 'Low Tide Week' called 'Shut'"):
        opened.project("Low Tide Week").scene("Shut")
    with pytest.raises(Refused, match="no data folder"):
        mudskipper.open(tmp_path)
    opener = opened.project("Low Tide Week").scene("Opener")
    with pytest.raises(Refused, match=r"edits.*must be"):
        opener.edit({"edit": "set_property", "layer": 3})
    with pytest.raises(Refused, match="outside 'Opener'"):
        opener.paint(9_000)
    with pytest.raises(Refused, match=r"ending names the format"):
        opener.render(tmp_path / "film")


def test_two_data_folders_are_open_at_once(folder: Path, tmp_path: Path) -> None:
    """Read and written by turns and by several threads; each has its own."""
    first, second = Store(folder), Store(tmp_path)
    made = [second.make_scene(second.make_project(f"P{n}"), scene(layer(), id=f"s{n}")).scene.id for n in range(4)]
    opener = mudskipper.open(first).project("Low Tide Week").scene("Opener")
    plate = opener.document.layers[1].id

    def work(number: int) -> None:
        edit = {"edit": "set_property", "property": "opacity", "frame": 30, "value": 10 + number}
        if number % 2:
            opener.edit(edit | {"layer": plate})
        else:
            mudskipper.open(second).project(f"P{number // 2}").scene("Test").edit(edit | {"layer": "plate"})

    with ThreadPoolExecutor(4) as threads:
        list(threads.map(work, range(8)))
    assert [one.name for one, _ in first.projects()] == ["Low Tide Week"]
    values = [second.head(name).scene.layers[0].opacity.rest for name in made]
    assert values == [10, 12, 14, 16]
    assert first.history(opener.id)[2] >= 5  # type: ignore[attr-defined]


def test_an_order_is_carried_out_where_the_media_are(folder: Path, tmp_path: Path) -> None:
    """It holds no path: written, read in another place whose media have the same digests, it makes the same file."""
    opener = mudskipper.open(folder).project("Low Tide Week").scene("Harbour at dusk")
    order = make_order(opener.document, opener.assets, opener.files, "sequence", 40, 42)
    text = order.to_json()
    assert order.pictures or order.clips
    assert str(folder) not in text
    for place in ("here", "there"):
        (tmp_path / place).mkdir()
    moved = tmp_path / "there" / "media"
    shutil.copytree(folder / "media", moved)
    again = read_order(text)
    assert again == order
    with ThreadPoolExecutor(1) as pool:
        render_file(order, opener.files, tmp_path / "here" / "a.zip", Run(tmp_path / "w1", pool))
        files = again.files_in(moved, tmp_path / "there" / "sounds")
        assert all(
            str(moved) in one for one in (*files.pictures.values(), *(clip.path for clip in files.clips.values()))
        )
        render_file(again, files, tmp_path / "there" / "a.zip", Run(tmp_path / "w2", pool))
    frames = []
    for place in ("here", "there"):
        with zipfile.ZipFile(tmp_path / place / "a.zip") as pictures:
            frames.append({name: pictures.read(name) for name in pictures.namelist()})
    assert frames[0] == frames[1]
    assert sorted(frames[0]) == ["000040.png", "000041.png"]
    for path in moved.iterdir():
        path.unlink()
    with pytest.raises(Refused, match="is not in"):
        again.files_in(moved, tmp_path)
    with pytest.raises(Refused, match="no order"):
        read_order('{"scene": 3}')


def test_files_are_named_as_they_are_called(tmp_path: Path) -> None:
    """With blanks, dots, brackets, in a folder within, with or without the ending; exported in other processes too."""
    (tmp_path / "parts v1.2").mkdir()
    for name, colour in {"harbour [dusk] v1.2.png": (200, 30, 20), "scene.png": (20, 30, 200)}.items():
        Image.new("RGB", (32, 18), colour).save(tmp_path / "parts v1.2" / name)
    shown = {"kind": "picture", "asset": "parts v1.2/harbour [dusk] v1.2.png"}
    bare = {"kind": "picture", "asset": "parts v1.2/scene"}
    here = {"position": [32, 18]}
    inner = scene(layer("Inner", content=shown, **here), width=64, height=36, length=2)
    (tmp_path / "parts v1.2" / "scene.json").write_text(inner.to_json())
    outer = scene(
        layer("Picture", content=bare, **here), layer("Scene", content={"kind": "scene", "asset": "parts v1.2/scene"},
        **here), width=64, height=36, length=2,
    )  # fmt: skip
    (tmp_path / "outer.json").write_text(outer.to_json())
    assert open_scene(tmp_path / "outer.json").render(tmp_path / "a.png") == ()
    open_scene(tmp_path / "outer.json").render(tmp_path / "a.zip", workers=1)
    with zipfile.ZipFile(tmp_path / "a.zip") as frames:
        assert frames.read("000000.png") == frames.read("000001.png")
        with Image.open(tmp_path / "a.png") as still, Image.open(io.BytesIO(frames.read("000000.png"))) as frame:
            assert still.getpixel((32, 18)) == frame.getpixel((32, 18)) == (200, 30, 20, 255)
    for wrong in ("../a.png", "/etc/passwd", "a//b.png", "a\\b.png", "", " "):
        with pytest.raises(Refused, match=r"asset"):
            scene(layer(content=shown | {"asset": wrong}))
    (tmp_path / "outer.json").write_text(scene(layer(content=shown | {"asset": "gone.v2.mp4"})).to_json())
    with pytest.raises(Refused, match=r"gone\.v2\.mp4 is not in .*Put gone\.v2\.mp4 there"):
        open_scene(tmp_path / "outer.json")


def test_what_a_file_cannot_keep_is_said(tmp_path: Path) -> None:
    one = LoneScene(scene(layer(), width=64, height=36, length=2))
    assert one.render(tmp_path / "a.mp4", workers=1) == (
        "What is transparent lies on black: this format holds no transparency.",
    )
    assert one.render(tmp_path / "a.webm", workers=1) == ()


@pytest.mark.thorough
def test_a_plain_script_writes_a_film(tmp_path: Path) -> None:
    """The processes that encode do not run it once more."""
    one = LoneScene(scene(layer(), width=64, height=36, length=40))
    one.save(tmp_path / "a.json")
    script = tmp_path / "script.py"
    script.write_text(
        "import mudskipper\n"
        "print('begun')\n"
        f"one = mudskipper.open({str(tmp_path / 'a.json')!r}).project({tmp_path.name!r}).scene('Test')\n"
        f"print(one.render({str(tmp_path / 'a.webm')!r}, workers=2))\n"
    )
    done = subprocess.run([sys.executable, str(script)], capture_output=True, text=True, check=True)
    assert (done.stdout, done.stderr) == ("begun\n()\n", "")
    assert (tmp_path / "a.webm").stat().st_size > 100


def test_importing_and_reading_changes_nothing_of_the_process() -> None:
    """The limits of Python and of Pillow are as before, also after a formula was evaluated and a picture looked at."""
    program = """
import gc, sys
from PIL import Image
before = sys.getrecursionlimit(), Image.MAX_IMAGE_PIXELS, gc.isenabled(), gc.get_threshold(), gc.get_freeze_count()
import mudskipper.opened, mudskipper.web.app
from mudskipper.core.document.read import scene_of
from mudskipper.media.pictures import check_size
from mudskipper.opened import LoneScene, open_scene
turn = {"rest": 0, "formula": "t * 90"}
layer = {"name": "L", "span": {"start": 0, "length": 9}, "rotation": turn, "content": {"kind": "carrier"}}
data = {"schema": "mudskipper.scene/3", "name": "S", "width": 64, "height": 36, "length": 9, "layers": [layer]}
assert LoneScene(scene_of(data)).resolve().layers
try:
    check_size(b"none", "none.png")
except ValueError:
    pass
after = sys.getrecursionlimit(), Image.MAX_IMAGE_PIXELS, gc.isenabled(), gc.get_threshold(), gc.get_freeze_count()
assert after == before, (before, after)
"""
    subprocess.run([sys.executable, "-c", program], check=True)
