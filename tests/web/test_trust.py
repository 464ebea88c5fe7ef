"""Nothing stored that cannot be read, nothing that stops the server: damaged scenes, full disks, two servers."""

from __future__ import annotations

import json
import shutil
import sqlite3
import subprocess
import time
import zlib
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path
from types import SimpleNamespace
from typing import Any

import httpx
import pytest
from fastapi.testclient import TestClient
from peewee import OperationalError

from mudskipper.core.ground.errors import Refused
from mudskipper.store.lock import hold_folder
from mudskipper.store.store import Store
from mudskipper.store.tables import MIGRATIONS, Revision
from mudskipper.web.app import create_app
from tests.conftest import Server, layer, scene
from tests.core.test_edits import EDIT
from tests.web.conftest import HOST

NUDGE = {"edit": "move_layers", "layers": ["a"], "frame": 0, "by": [1, 0]}


def store_with(folder: Path, *names: str) -> tuple[Store, str]:
    store = Store(folder)
    made = store.make_scene(store.make_project("Test"), scene(*(layer(name) for name in names or ("A",))))
    return store, made.scene.id


def rename(store: Store, scene_id: str, name: str) -> int:
    edit = EDIT.validate_python({"edit": "rename_layer", "layer": "a", "name": name})
    return store.apply(scene_id, [edit])[0].revision


def test_a_scene_that_cannot_be_read_hides_no_other(tmp_path: Path) -> None:
    """Its card says why, gives the raw file, and brings it back to its last revision that can be read."""
    store, bad = store_with(tmp_path)
    good = store.make_scene(store.projects()[0][0].id, scene(layer("B"), name="Good")).scene.id
    rename(store, bad, "Kept")
    last = rename(store, bad, "Broken")
    with sqlite3.connect(tmp_path / "mudskipper.sqlite3") as database:
        (body,) = database.execute("SELECT body FROM document WHERE revision = ?", (last,)).fetchone()
        document = json.loads(zlib.decompress(body)) | {"width": -4}
        spoilt = zlib.compress(json.dumps(document).encode())
        database.execute("UPDATE document SET body = ? WHERE revision = ?", (spoilt, last))
    with TestClient(create_app(Store(tmp_path)), base_url=HOST) as client:
        cards = {card["id"]: card for card in client.get("/api/projects").json()[0]["scenes"]}
        assert cards[good]["fault"] == ""
        assert "width must be at least 1 (given: -4)" in cards[bad]["fault"]
        assert client.get(f"/api/scenes/{bad}").status_code == 422
        assert client.get(f"/api/scenes/{bad}/raw").json()["width"] == -4
        assert client.post(f"/api/scenes/{bad}/recover").json()["scene"]["layers"][0]["name"] == "Kept"
        assert client.get(f"/api/scenes/{bad}").json()["undo"] == "Renamed A to Kept"
        assert client.post(f"/api/scenes/{bad}/recover").status_code == 422


def test_a_database_of_before_keeps_its_history(tmp_path: Path) -> None:
    """Tables as they were with documents among the revisions are brought along with all they hold."""
    path = tmp_path / "mudskipper.sqlite3"
    with sqlite3.connect(path) as database:
        for statements in MIGRATIONS[:4]:
            for statement in statements:
                database.execute(statement)
        database.execute("PRAGMA user_version = 4")
        now = "2026-01-02 03:04:05+00:00"
        database.execute("INSERT INTO project VALUES ('p', 'Old', ?, 0)", (now,))
        database.execute("INSERT INTO scene VALUES ('s', 'p', 'Scene', 2, ?, 0)", (now,))
        for number, name in ((1, "First"), (2, "Second")):
            body = zlib.compress(scene(layer(name), id="s").to_json().encode())
            row = (number, "s", number - 1 or None, f"Step {number}", "[]", body, now)
            fields = "id, scene_id, parent, words, edits, document, made_at"
            database.execute(f"INSERT INTO revision ({fields}) VALUES (?, ?, ?, ?, ?, ?, ?)", row)
    store = Store(tmp_path)
    assert store.head("s").scene.layers[0].name == "Second"
    assert [step.words for step in store.history("s")[0]] == ["Step 1", "Step 2"]
    assert store.undo("s").scene.layers[0].name == "First"


@pytest.mark.thorough
def test_one_folder_one_server(tmp_path: Path) -> None:
    """A second server is told who has the folder; two stores on one database overwrite nothing of each other."""
    server = Server(tmp_path / "served")
    server.start()
    try:
        second = subprocess.run(
            [*server.command[:-1], str(server.folder)], capture_output=True, text=True, timeout=60, check=False
        )
        assert second.returncode != 0
        assert f"in use by process {server.process.pid}" in " ".join(second.stderr.split())
    finally:
        server.kill()
    hold_folder(server.folder, "here").close()
    one, scene_id = store_with(tmp_path / "one")
    two = Store(tmp_path / "one")
    two.head(scene_id)
    rename(one, scene_id, "First")
    with pytest.raises(Refused, match="changed by another program"):
        rename(two, scene_id, "Second")
    assert rename(two, scene_id, "Third") > 0
    assert [step.words for step in two.history(scene_id)[0]][1:] == ["Renamed A to First", "Renamed First to Third"]


@pytest.fixture
def little(tmp_path: Path) -> Iterator[Path]:
    """A disk of 6 MB; skipped where none can be mounted."""
    folder = tmp_path / "little"
    folder.mkdir()
    mounted = subprocess.run(["mount", "-t", "tmpfs", "-o", "size=6m", "tmpfs", folder], check=False)
    if mounted.returncode:
        pytest.skip("no small disk can be mounted here")
    yield folder
    subprocess.run(["umount", "-l", folder], check=False)


def fill(folder: Path) -> Path:
    """A file that takes all the room there is."""
    filler = folder / "filler"
    with filler.open("wb", buffering=0) as file, suppress(OSError):
        while file.write(b"x" * 4096):
            pass
    return filler


def test_a_full_disk_loses_nothing(little: Path) -> None:
    """Reads go on; edits, undo and exports say so in words; with room again all works, from the finished parts."""
    with TestClient(create_app(Store(little)), base_url=HOST) as client:
        project = client.post("/api/projects", json={"name": "Test"}).json()["id"]
        document = scene(layer("A")).model_dump(mode="json", by_alias=True)
        made = client.post(f"/api/projects/{project}/documents", json=document).json()["scene"]["id"]
        url = f"/api/scenes/{made}"
        assert client.post(f"{url}/edits", json={"edits": [NUDGE]}).status_code == 200
        filler = fill(little)
        answers = [client.post(f"{url}/edits", json={"edits": [NUDGE], "token": f"t{n}"}) for n in range(12)]
        refused = [answer for answer in answers if answer.status_code != 200]
        assert refused
        for answer in refused:
            assert answer.status_code == 507
            assert answer.json()["detail"] == "The disk is full. Nothing was lost, and nothing was changed."
        kept = 1 + len(answers) - len(refused)
        for path in ("", "/resolved?from=0&to=9", "/history", "/document", "/checks", "/still?frame=0", "/exports"):
            assert client.get(url + path).status_code == 200, path
        assert client.get("/api/projects").status_code == 200
        assert client.get(url).json()["scene"]["layers"][0]["position"]["rest"] == [320 + kept, 180]
        assert client.post(f"{url}/undo").status_code in (200, 507)
        export = client.post(f"{url}/exports", json={"kind": "webm", "first": 0, "stop": 48})
        assert export.status_code == 507
        filler.unlink()
        assert client.post(f"{url}/edits", json={"edits": [NUDGE]}).status_code == 200
        assert client.post(f"{url}/exports", json={"kind": "png", "first": 0, "stop": 1}).status_code == 202


@pytest.mark.thorough
def test_an_export_that_finds_the_disk_full_fails_and_starts_again(little: Path) -> None:
    with TestClient(create_app(Store(little)), base_url=HOST) as client:
        project = client.post("/api/projects", json={"name": "Test"}).json()["id"]
        document = scene(layer("A"), width=320, height=180).model_dump(mode="json", by_alias=True)
        made = client.post(f"/api/projects/{project}/documents", json=document).json()["scene"]["id"]
        job = client.post(f"/api/scenes/{made}/exports", json={"kind": "mp4", "first": 0, "stop": 30}).json()["id"]
        filler = fill(little)
        state = ended(client, job)
        if state["state"] == "failed":
            assert "Finished parts are kept; start it again." in state["failure"]
        filler.unlink()
        assert client.get(f"/api/exports/{job}").json()["state"] in ("failed", "done")
        if state["state"] == "failed":
            assert client.post(f"/api/exports/{job}/again").status_code == 202
        assert ended(client, job)["state"] == "done"


def ended(client: Any, job: str) -> dict[str, Any]:
    """A job once it has ended."""
    until = time.monotonic() + 90
    while time.monotonic() < until:
        state = client.get(f"/api/exports/{job}").json()
        if state["state"] not in ("queued", "running"):
            return state
        time.sleep(0.1)
    raise AssertionError("the export did not end")


def test_steps_of_a_run_are_one(tmp_path: Path) -> None:
    """Nudges of one run are one revision, told as one; another run, layer or kind begins its own; undo takes all."""
    store, made = store_with(tmp_path, "A", "B")

    def nudge(name: str, run: str | None, kind: str = "move_layers") -> None:
        step = {**NUDGE, "layers": [name]} if kind == "move_layers" else {
            "edit": "set_property", "layer": name, "property": "rotation", "frame": 0,
            "value": len(store.history(made)[0]) * 7.0 + store.head(made).revision}  # fmt: skip
        store.apply(made, [EDIT.validate_python(step)], None, run)

    for _ in range(5):
        nudge("a", "r1")
    nudge("b", "r1")
    nudge("b", "r1", "set_property")
    nudge("b", "r1", "set_property")
    nudge("a", "r2")
    nudge("a", None)
    words = [step.words for step in store.history(made)[0]]
    assert words == ["New scene", "Moved A by 5, 0 px", "Moved B by 1, 0 px", "Set rotation of B",
                     "Moved A by 1, 0 px", "Moved A by 1, 0 px"]  # fmt: skip
    assert store.head(made).scene.layers[0].position.rest == (327, 180)
    for _ in range(5):
        store.undo(made)
    assert store.head(made).scene.layers[0].position.rest == (320, 180)
    assert Store(tmp_path).redo(made).scene.layers[0].position.rest == (325, 180)


def below(pid: int) -> list[int]:
    """The processes that a process started, and those that they started."""
    parents = {}
    for entry in Path("/proc").glob("[0-9]*/stat"):
        with suppress(OSError):
            parents[int(entry.parent.name)] = int(entry.read_text().rpartition(")")[2].split()[1])
    children = [child for child, parent in parents.items() if parent == pid]
    return [*children, *(one for child in children for one in below(child))]


def runs(pid: int) -> bool:
    """Whether a process is there and has not ended; one whose end nobody asked for stays listed for a while."""
    try:
        return Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()[0] not in "ZX"
    except OSError:
        return False


@pytest.mark.thorough
def test_workers_end_with_their_server(tmp_path: Path) -> None:
    """Killed in mid-export, nothing it started is left running."""
    server = Server(tmp_path)
    server.start()
    scene_id = server.scene_id("Opener")
    asked = {"kind": "webm", "first": 0, "stop": 150}
    job = httpx.post(f"{server.url}api/scenes/{scene_id}/exports", json=asked).json()["id"]
    while server.get(f"api/exports/{job}")["state"] == "queued":
        time.sleep(0.05)
    time.sleep(1.5)
    children = below(server.process.pid)
    assert children
    server.kill()
    # One that was still being started ends once it has loaded what it needs, which takes its time on a busy machine.
    until = time.monotonic() + 90
    while (alive := [pid for pid in children if runs(pid)]) and time.monotonic() < until:
        time.sleep(0.2)
    assert alive == []
    shutil.rmtree(tmp_path, ignore_errors=True)


def test_ten_thousand_steps_are_listed_in_pages(tmp_path: Path) -> None:
    """A long history answers the pages that are asked for, and none of its documents is read for it."""
    store, made = store_with(tmp_path)
    head = store.head(made)
    with sqlite3.connect(tmp_path / "mudskipper.sqlite3") as database:
        first = head.revision
        rows = [(first + n, made, first + n - 1, f"Step {n}", "[]", "2026-01-02") for n in range(1, 10_000)]
        fields = "id, scene_id, parent, words, edits, made_at"
        database.executemany(f"INSERT INTO revision ({fields}) VALUES (?, ?, ?, ?, ?, ?)", rows)
        database.execute("UPDATE scene SET head = ?", (head.revision + 5_000,))
        (body,) = database.execute("SELECT body FROM document").fetchone()
        database.execute("INSERT INTO document (revision, body) VALUES (?, ?)", (head.revision + 5_000, body))
    with TestClient(create_app(Store(tmp_path)), base_url=HOST) as client:
        page = client.get(f"/api/scenes/{made}/history").json()
        assert (page["first"], page["total"], page["here"]) == (5_000, 10_000, 5_000)
        assert [step["words"] for step in page["steps"]][:2] == ["Step 5000", "Step 5001"]
        last = client.get(f"/api/scenes/{made}/history?first=9990").json()["steps"]
        assert [step["words"] for step in last][-1] == "Step 9999"


@pytest.mark.parametrize(
    ("fault", "room", "status", "words"),
    [
        ("database or disk is full", 10**9, 507, "The disk is full. Nothing was lost"),
        ("disk I/O error", 0, 507, "The disk is full. Nothing was lost"),
        ("disk I/O error", 10**9, 503, "cannot be written (disk I/O error). Nothing was changed."),
        ("unable to open database file", 10**9, 503, "cannot be written (unable to open database file)"),
    ],
)
def test_a_fault_of_the_disk_is_named_for_what_it_is(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, fault: str, room: int, status: int, words: str
) -> None:
    """A disk is called full where it is; with room left, the folder is what cannot be written."""
    store, made = store_with(tmp_path)

    def broken(*_: Any, **__: Any) -> None:
        raise OperationalError(fault)

    with TestClient(create_app(store), base_url=HOST) as client:
        monkeypatch.setattr(Revision, "create", broken)
        monkeypatch.setattr(shutil, "disk_usage", lambda _: SimpleNamespace(free=room))
        answer = client.post(f"/api/scenes/{made}/edits", json={"edits": [{**NUDGE, "layers": ["a"]}]})
        assert (answer.status_code, answer.headers["content-type"]) == (status, "application/problem+json")
        assert words in answer.json()["detail"]
        monkeypatch.undo()
        assert client.get(f"/api/scenes/{made}").json()["revision"] == store.head(made).revision
