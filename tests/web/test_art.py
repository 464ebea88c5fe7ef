"""SVG files over HTTP and from the command line: one undo step, answers in words, nothing half done."""

from __future__ import annotations

import json
from pathlib import Path

import httpx
import pytest
from typer.testing import CliRunner

from mudskipper.cli import app
from mudskipper.core.document.read import read_scene
from mudskipper.core.ground.errors import Refused
from tests.conftest import Server
from tests.readers.samples import SAMPLES, svg
from tests.readers.test_svg import CRAB


@pytest.fixture
def address(server: Server, request: pytest.FixtureRequest) -> str:
    """Where art of an empty scene is posted."""
    server.keep(f"Art {request.node.name}", [])
    return f"{server.url}api/scenes/{server.scene_id(f'Art {request.node.name}')}"


def sent(address: str, data: bytes, name: str = "crab.svg", **query: str) -> httpx.Response:
    return httpx.post(f"{address}/art", params=query, files={"file": (name, data, "image/svg+xml")})


@pytest.mark.thorough
def test_art_is_one_undo_step_and_is_sent_twice_for_nothing(address: str) -> None:
    answer = sent(address, CRAB.encode(), token="once", each="true", x="100", y="60").json()
    assert [one["name"] for one in answer["scene"]["layers"]] == ["Shell", "Claw", "Shore crab", "crab"]
    assert answer["said"] == "Added crab.svg as 4 layers"
    assert answer["scene"]["layers"][0]["position"]["rest"] == [100 - 80 + 80, 60 - 60 + 60]
    again = sent(address, CRAB.encode(), token="once", each="true").json()
    assert again["revision"] == answer["revision"]
    undone = httpx.post(f"{address}/undo").json()
    assert undone["scene"]["layers"] == []
    assert httpx.post(f"{address}/redo").json()["scene"] == answer["scene"]


@pytest.mark.thorough
def test_what_does_not_come_in_is_said_and_what_is_refused_leaves_all(address: str) -> None:
    before = httpx.get(address).json()["revision"]
    answer = sent(address, svg('<circle r="40"/><rect width="9" height="9" filter="url(#f)"/>').encode())
    assert answer.json()["notices"] == ["Not taken in, or not as in the file: filters."]
    after = answer.json()["revision"]
    assert after > before
    for data, told in (
        (b"", "no XML"),
        (svg("<script/>").encode(), "holds a script"),
        (b"<svg xmlns='http://www.w3.org/2000/svg'>" + b" " * (25 * 2**20) + b"</svg>", "at most 24 MB"),
    ):
        refused = sent(address, data)
        assert refused.status_code == 422
        assert told in refused.json()["detail"]
    large = sent(address, b" " * (70 * 2**20))
    assert large.status_code == 413
    assert large.json()["detail"] == "What is sent here may hold at most 66 MB, and this holds 70 MB."
    assert httpx.post(f"{address}/art", content=b"<svg/>", headers={"Content-Type": "image/svg+xml"}).status_code == 415
    assert httpx.get(address).json()["revision"] == after


def test_the_command_line_writes_a_scene_of_the_arts_size(tmp_path: Path) -> None:
    art, out = tmp_path / "crab.svg", tmp_path / "crab.json"
    art.write_text(SAMPLES["clip of a group"])
    told = CliRunner().invoke(app, ["import", str(art), "--out", str(out)])
    assert told.exit_code == 0, told.output
    scene = read_scene(out.read_bytes())
    assert (scene.width, scene.height, scene.background) == (160, 120, "#00000000")
    assert [one.name for one in scene.layers] == ["crab"]
    assert json.loads(out.read_text())["layers"][0]["content"]["items"][0]["masks"]
    missing = CliRunner().invoke(app, ["import", str(tmp_path / "none.svg"), "--out", str(out)])
    assert isinstance(missing.exception, Refused)
