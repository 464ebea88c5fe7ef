"""The command line: everything without the server, refusals as one sentence and exit code 2."""

from __future__ import annotations

import io
import json
import subprocess
import sys
import zipfile
from contextlib import redirect_stderr, redirect_stdout
from pathlib import Path
from typing import Any

import av
import numpy as np
import pytest
from PIL import Image

from mudskipper.cli import main
from mudskipper.demo.harbour import harbour
from mudskipper.demo.low_tide_week import opener
from tests.conftest import layer, scene


def run(*words: Any) -> subprocess.CompletedProcess[str]:
    """The command, as a process of its own runs it, in this one."""
    given = ["mudskipper", *map(str, words)]
    out, err = io.StringIO(), io.StringIO()
    with redirect_stdout(out), redirect_stderr(err), pytest.MonkeyPatch.context() as patch:
        patch.setattr(sys, "argv", given)
        try:
            main()
            code = 0
        except SystemExit as end:
            code = end.code if isinstance(end.code, int) else int(end.code is not None)
    return subprocess.CompletedProcess(given, code, out.getvalue(), err.getvalue())


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    """A folder with the demo's opener and its picture."""
    (tmp_path / "opener.json").write_text(opener("harbour").to_json())
    (tmp_path / "harbour.png").write_bytes(harbour())
    return tmp_path


def test_resolve_writes_an_entry_a_frame(folder: Path) -> None:
    words = ["resolve", folder / "opener.json", "--frames", "0:60", "--out", folder / "out.json"]
    subprocess.run([sys.executable, "-m", "mudskipper.cli", *map(str, words)], check=True, timeout=120)
    told = json.loads((folder / "out.json").read_text())
    layers = json.loads((folder / "opener.json").read_text())["layers"]
    assert told["frames"] == list(range(60))
    assert list(told["layers"]) == [layer["id"] for layer in layers]
    plate = told["layers"][layers[3]["id"]]
    assert plate["matrix"][30] == [1, 0, 0, 1, 614, 798]
    assert plate["visible"] == [False] * 12 + [True] * 48
    assert (plate["box"][0], plate["opacity"][0]) == ([-430, -86, 860, 172], 1)


def test_formulas_are_explained_and_their_faults_told(tmp_path: Path) -> None:
    """A failing one is a warning and the rest goes on; with --strict it is an error."""
    claw = layer("Claw", rotation={"rest": 5, "formula": 'base + scene["Plate"].position.x / 10'})
    wrong = layer("Wrong", rotation={"rest": 7, "formula": "2 * (t"})
    (tmp_path / "scene.json").write_text(scene(claw, layer("Plate"), wrong).to_json())
    given = ("resolve", tmp_path / "scene.json", "--frames", "0:3", "--out", tmp_path / "out.json")
    done = run(*given)
    assert done.returncode == 0
    assert "Warning: Rotation of 'Wrong': This cannot be read: a bracket ( is never closed." in done.stderr
    assert run(*given, "--strict").returncode == 2
    told = run("explain", tmp_path / "scene.json", "--property", "Claw.rotation", "--frames", "0:2")
    assert told.stdout.split("\n")[:4] == [
        'Rotation of Claw: base + scene["Plate"].position.x / 10', "Reads: Plate", "0: 37", "1: 37",
    ]  # fmt: skip
    refused = run("explain", tmp_path / "scene.json", "--property", "Claw.turn")
    assert refused.returncode == 2
    assert "has no property 'turn'" in refused.stderr


def test_scenes_in_a_scene_are_files_beside_it(tmp_path: Path) -> None:
    shown = layer("Shown", content={"kind": "scene", "asset": "strip"})
    (tmp_path / "scene.json").write_text(scene(shown).to_json())
    given = ("render", tmp_path / "scene.json", "--frame", "0", "--out", tmp_path / "a.png")
    missing = run(*given)
    assert missing.returncode == 2
    assert "The scene strip is not in" in missing.stderr
    (tmp_path / "strip.json").write_text(scene(layer("Plate")).to_json())
    assert run(*given).returncode == 0
    pixels = np.asarray(Image.open(tmp_path / "a.png"))
    assert pixels[180, 320].tolist() == [14, 63, 69, 255]
    (tmp_path / "strip.json").write_text(scene(layer("Round", content={"kind": "scene", "asset": "strip"})).to_json())
    circle = run(*given)
    assert circle.returncode == 2
    assert "circle" in circle.stderr or "show itself" in circle.stderr


def test_render_writes_stills_and_films(folder: Path) -> None:
    still, film = folder / "still.png", folder / "film.mp4"
    assert run("render", folder / "opener.json", "--frame", "30", "--out", still).returncode == 0
    assert run("render", folder / "opener.json", "--frames", "28:33", "--out", film).returncode == 0
    shown = np.asarray(Image.open(still).convert("RGB")).astype(int)
    with av.open(str(film)) as video:
        frames = [frame.to_ndarray(format="rgb24").astype(int) for frame in video.decode(video=0)]
    pictures = run(
        "render", folder / "opener.json", "--frames", "30:32", "--format", "sequence", "--out", folder / "a.zip"
    )
    assert pictures.returncode == 0, pictures.stderr
    with zipfile.ZipFile(folder / "a.zip") as files:
        assert files.namelist() == ["000030.png", "000031.png"]
        first = np.asarray(Image.open(io.BytesIO(files.read("000030.png"))).convert("RGB")).astype(int)
    assert (first == shown).all()
    assert len(frames) == 5
    assert int(np.argmin([np.abs(frame - shown).mean() for frame in frames])) == 2


def test_edits_and_checks_without_a_server(folder: Path) -> None:
    ground, title = [one["id"] for one in json.loads((folder / "opener.json").read_text())["layers"][:2]]
    edit = {"edit": "move_layers", "layers": [title], "frame": 60, "by": [-900, 0]}
    left = {"edit": "leave_finding", "layer": ground, "check": "sharpness"}
    (folder / "edits.json").write_text(json.dumps([edit, left]))
    done = run("edit", folder / "opener.json", folder / "edits.json", "--out", folder / "moved.json")
    assert done.returncode == 0, done.stderr
    assert "Moved Week title by -900, 0 px" in done.stderr
    found = run("check", folder / "moved.json", "--pictures")
    assert "safe area: 'Week title' stands" in found.stdout
    (soft,) = [line for line in found.stdout.splitlines() if "is enlarged to 110 % of its pixels" in line]
    assert soft.startswith("sharpness: 'Harbour at dusk'")
    assert soft.endswith("(left as it is)")
    schema = json.loads(run("schema").stdout)
    assert schema["$id"] == "mudskipper.scene/3"


@pytest.mark.parametrize(
    ("words", "told"),
    [
        (["render", "wrong.json", "--out", "a.png"], "wrong.json: width must be a whole number (given: 'wide')"),
        (["render", "gone.json", "--out", "a.png"], "gone.json: It cannot be read: No such file"),
        (
            ["render", "[lost] long ago, and far from here, in a folder of no name.json", "--out", "a.png"],
            "[lost] long ago, and far",
        ),
        (["render", "opener.json", "--out", "a.doc"], "The file's ending names the format"),
        (["render", "opener.json", "--frames", "9", "--out", "a.webm"], "Frames are written FIRST:STOP"),
        (["render", "opener.json", "--frame", "900", "--out", "a.png"], "has frames 0 to 239"),
        (["resolve", "lost.json", "--frames", "0:9", "--out", "a.json"], "The picture ghost is not in"),
        (["serve", "--host", "0.0.0.0"], "no password was given"),
    ],
)
def test_refusals_are_one_sentence(folder: Path, words: list[str], told: str) -> None:
    wrong = json.loads((folder / "opener.json").read_text())
    (folder / "wrong.json").write_text(json.dumps(wrong | {"width": "wide"}))
    (folder / "lost.json").write_text(opener("ghost").to_json())
    before = sorted(folder.iterdir())
    done = run(*(folder / word if "." in word and ":" not in word and "0.0" not in word else word for word in words))
    assert done.returncode == 2
    assert told in " ".join(done.stderr.split())
    assert "Traceback" not in done.stderr
    assert sorted(folder.iterdir()) == before
