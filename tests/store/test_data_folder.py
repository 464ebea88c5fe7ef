"""A data folder looked after: backed up while it is worked on, checked, and what is left of a damaged one saved."""

from __future__ import annotations

import errno
import sqlite3
import threading
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient
from peewee import DatabaseError, OperationalError
from typer.testing import CliRunner

from mudskipper.cli import app
from mudskipper.core.document.read import read_scene
from mudskipper.core.ground.errors import Refused
from mudskipper.store.backup import Backup, back_up
from mudskipper.store.check_data import faults_in
from mudskipper.store.faults import DATABASE, Busy, Damaged, FileTooLarge, Full, Unwritable, fault_of
from mudskipper.store.store import Store
from mudskipper.web.app import create_app
from tests.core.edits_at_random import EDIT
from tests.web.conftest import HOST


@pytest.fixture
def data(tmp_path: Path, filled: Callable[[Path], Path]) -> Path:
    """A data folder with the demo project."""
    return filled(tmp_path / "data")


def states(folder: Path) -> dict[str, str]:
    """The document of every scene of a folder, as JSON."""
    store = Store(folder)
    return {row.id: store.head(row.id).scene.to_json() for _, rows in store.projects() for row in rows}


def test_a_backup_while_edits_come_in_is_of_one_moment_and_holds(data: Path, tmp_path: Path) -> None:
    """Every scene stands in it at a step that was acknowledged, and it opens as a data folder; a second one copies
    only what is new, and other folders are left alone."""
    store = Store(data)
    ((_, rows),) = store.projects()
    scene = rows[0].id
    known = {store.head(scene).scene.to_json()}
    stop = threading.Event()

    def work() -> None:
        number = 0
        while not stop.is_set():
            number += 1
            edit = EDIT.validate_python({"edit": "add_beats", "frames": [number % 200], "label": f"b{number}"})
            known.add(store.apply(scene, [edit])[0].scene.to_json())

    worker = threading.Thread(target=work)
    worker.start()
    try:
        made = back_up(data, tmp_path / "copy")
        again = back_up(data, tmp_path / "copy")
    finally:
        stop.set()
        worker.join()
    assert (made.files == made.copied, made.files > 0, again) == (True, True, Backup(made.files, 0, ()))
    before = {row.id: store.head(row.id).scene.to_json() for row in rows}
    there = states(tmp_path / "copy")
    assert there.pop(scene) in known
    assert there == {key: text for key, text in before.items() if key != scene}
    (tmp_path / "mine").mkdir()
    (tmp_path / "mine" / "letter.txt").write_text("dear")
    for folder, told in ((tmp_path / "mine", "holds other things"), (data, "a folder of its own")):
        with pytest.raises(Refused, match=told):
            back_up(data, folder)


def test_a_check_says_what_is_wrong_and_nothing_where_all_holds(data: Path) -> None:
    assert list(faults_in(data)) == []
    (cut,), (gone, *_) = ((data / "media").glob(f"*.{ending}") for ending in ("png", "npy"))
    cut.write_bytes(cut.read_bytes()[:-9])
    gone.unlink()
    with sqlite3.connect(data / DATABASE) as database:
        database.execute("UPDATE document SET body = x'00' WHERE revision = 2")
        database.execute("DELETE FROM document WHERE revision = 1")
    told = list(faults_in(data))
    assert [next(sign for sign in SIGNS if sign in sentence) for sentence in told] == SIGNS
    answer = CliRunner().invoke(app, ["check-data", "--data", str(data)])
    assert (answer.exit_code, answer.stdout.count("\n")) == (1, len(SIGNS))


def test_what_the_data_folder_lacks_is_listed_and_backed_up_all_the_same(data: Path, tmp_path: Path) -> None:
    """A clip whose film is gone, which is found again one day, must not stand in the way of every backup."""
    next((data / "media").glob("*.npy")).unlink()
    made = back_up(data, tmp_path / "copy")
    assert ("is missing" in made.lacks[0], len(made.lacks)) == (True, 1)
    assert states(tmp_path / "copy") == states(data)
    answer = CliRunner().invoke(app, ["backup", str(tmp_path / "copy"), "--data", str(data)])
    assert (answer.exit_code, "is missing" in answer.stdout) == (0, True)


def test_what_a_killed_server_left_half_done_goes_at_the_next_start(data: Path) -> None:
    store = Store(data)
    (data / "cache" / "sounds" / "aa.2.pcm.123.part").write_bytes(bytes(9))
    (data / "media" / "tmpx.part").mkdir()
    (data / "media" / "tmpx.part" / "picture.png").write_bytes(bytes(9))
    before = {path.name for path in (data / "media").iterdir()}
    with TestClient(create_app(store), base_url=HOST):
        pass
    assert {path.name for path in (data / "media").iterdir()} == before - {"tmpx.part"}
    assert not list((data / "cache").rglob("*.part"))


SIGNS = ["has no document", "cannot be read", "is not what was taken in", "is missing"]


@pytest.mark.parametrize(("wrong", "least"), [("projects", 7), ("revisions", 7), ("the last", 2), ("cut", 0)])
def test_what_can_be_read_of_a_damaged_database_is_saved(data: Path, tmp_path: Path, wrong: str, least: int) -> None:
    whole = states(data)
    with sqlite3.connect(data / DATABASE) as database:
        database.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    database.close()
    raw = (data / DATABASE).read_bytes()
    page = {"projects": 1, "revisions": 5, "the last": len(raw) // 4096 - 1, "cut": 0}[wrong] * 4096
    broken = raw[:page] + bytes(4096) + raw[page + 4096 :] if page else raw[: int(len(raw) * 0.9)]
    (data / DATABASE).write_bytes(broken)
    answer = CliRunner().invoke(app, ["rescue", str(tmp_path / "saved"), "--data", str(data)])
    assert answer.exit_code == 0, answer.output
    saved = {one.id: one.to_json() for one in map(read, (tmp_path / "saved").glob("*.json"))}
    assert len(saved) >= least
    assert saved.items() <= whole.items()
    media = {file.name for file in (tmp_path / "saved" / "media").iterdir()}
    assert media == {file.name for file in (data / "media").iterdir()}
    assert (data / DATABASE).read_bytes() == broken


def read(path: Path) -> Any:
    return read_scene(path.read_text())


FAULTS = [
    (OSError(errno.ENOSPC, "full"), Full), (OSError(errno.EFBIG, "large"), FileTooLarge),
    (OSError(errno.EROFS, "read only"), Unwritable), (OSError(errno.ENOENT, "gone"), None),
    (OperationalError("database or disk is full"), Full), (OperationalError("database is locked"), Busy),
    (DatabaseError("database disk image is malformed"), Damaged),
    (sqlite3.DatabaseError("file is not a database"), Damaged),
    (OperationalError("no such table: scene"), Damaged), (ValueError("other"), None),
]  # fmt: skip


@pytest.mark.parametrize(("error", "kind"), FAULTS)
def test_a_fault_is_named(tmp_path: Path, error: Exception, kind: type[Refused] | None) -> None:
    told = fault_of(tmp_path, error)
    assert (told is None) if kind is None else isinstance(told, kind)


def test_a_database_that_is_held_or_damaged_is_answered_in_words(data: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """503, with the file, since when, and what can be done; and the server lives on."""
    monkeypatch.setattr("mudskipper.store.tables.PATIENCE", 0.2)
    store = Store(data)
    with TestClient(create_app(store), base_url=HOST) as client:
        other = sqlite3.connect(data / DATABASE, isolation_level=None)
        other.execute("BEGIN IMMEDIATE")
        answer = client.post("/api/projects", json={"name": "x"})
        assert (answer.status_code, "Another program holds" in answer.json()["detail"]) == (503, True)
        other.execute("ROLLBACK")
        other.close()
        assert client.post("/api/projects", json={"name": "x"}).status_code == 201

        def broken(*_: object) -> None:
            raise DatabaseError("database disk image is malformed")

        monkeypatch.setattr(store, "projects", broken)
        answer = client.get("/api/projects")
        assert answer.status_code == 503
        assert str(data / DATABASE) in answer.json()["detail"]
        assert "last written 20" in answer.json()["detail"]
        assert "rescue" in answer.json()["mend"]
