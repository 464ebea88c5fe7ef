"""What is stored: a long history and a large document, opened, edited and undone over HTTP."""

from __future__ import annotations

import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from statistics import median
from typing import Any

import httpx

from ..core.document.read import scene_of
from ..core.edits.values_and_keys import MoveLayers
from ..store.store import Store
from ..store.tables import Document, Revision, SceneRow, database
from .sample import bench_scene, served

REVISIONS = 10_000
LAYERS, KEYS = 5_000, 40
FRAMES = 240


def bench_store(say: Callable[[str], None]) -> None:
    """A scene with 10,000 revisions, then one of 5,000 layers with 40 keys each."""
    with tempfile.TemporaryDirectory() as folder:
        scene_id = _long_history(Path(folder))
        with served(folder) as url, httpx.Client(base_url=f"{url}api/scenes/", timeout=60) as client:
            _took(client, "GET", scene_id)
            edit, undo = _edit_and_undo(client, scene_id, 20)
            page = median(_took(client, "GET", f"{scene_id}/history") for _ in range(20))
        say(f"{REVISIONS:,} revisions: edit {edit:.1f} ms (target 15), undo {undo:.1f} ms (15), "
            f"a page of the history {page:.1f} ms (30)")  # fmt: skip
    with tempfile.TemporaryDirectory() as folder:
        scene_id = _large_document(Path(folder))
        with served(folder) as url, httpx.Client(base_url=f"{url}api/scenes/", timeout=120) as client:
            opened = _took(client, "GET", scene_id)
            again = _took(client, "GET", scene_id)
            edit, undo = _edit_and_undo(client, scene_id, 3)
        say(f"{LAYERS:,} layers × {KEYS} keys: opened in {opened / 1000:.2f} s (target 1.5), again {again / 1000:.2f} s, "
            f"edit {edit:.0f} ms (150), undo {undo:.0f} ms (600)")  # fmt: skip


def _took(client: httpx.Client, method: str, path: str, **body: Any) -> float:
    """How long an answer takes, in milliseconds."""
    begin = time.perf_counter()
    client.request(method, path, **body).raise_for_status()
    return (time.perf_counter() - begin) * 1000


def _edit_and_undo(client: httpx.Client, scene_id: str, times: int) -> tuple[float, float]:
    """The medians of an edit and of its undo, in milliseconds: the page has the frames around the playhead, and asks
    for what changes in them, as it does."""
    edits = [{"edit": "move_layers", "layers": ["l1"], "frame": 0, "by": [1, 0]}]
    client.get(f"{scene_id}/resolved", params={"from": 0, "to": FRAMES}).raise_for_status()
    # An undo goes back to the very revision that there was.
    window = {"known": client.get(scene_id).json()["revision"], "first": 0, "stop": FRAMES}
    body = {"edits": edits, "window": window}
    pairs = [
        (_took(client, "POST", f"{scene_id}/edits", json=body), _took(client, "POST", f"{scene_id}/undo"))
        for _ in range(times)
    ]
    return median(pair[0] for pair in pairs), median(pair[1] for pair in pairs)


def _long_history(folder: Path) -> str:
    """A scene of three layers with 10,000 revisions; its id. The rows are written at once: only reading is measured."""
    store = Store(folder)
    head = store.make_scene(store.make_project("Bench"), bench_scene(3))
    after = store.apply(head.scene.id, [MoveLayers(edit="move_layers", layers=("l1",), frame=0, by=(1, 0))])[0]
    with store.session(), database.atomic():
        first = Revision.get_by_id(after.revision)
        body = Document.get_by_id(first.id).body
        for number in range(first.id + 1, first.id + REVISIONS):
            Revision.insert(
                id=number, scene_id=first.scene_id, parent=number - 1, words=first.words, edits=first.edits
            ).execute()
            Document.insert(revision=number, body=body).execute()
        SceneRow.update(head=number).where(SceneRow.id == first.scene_id).execute()
    return str(first.scene_id)


def _large_document(folder: Path) -> str:
    """A scene of 5,000 layers with 40 keys each; its id."""
    store = Store(folder)
    keys = [{"frame": frame, "value": [frame, 7.5]} for frame in range(KEYS)]
    document = bench_scene(1).model_dump(mode="json", by_alias=True)
    still = {name: {"rest": rest} for name, rest in
             (("anchor", [0.5, 0.5]), ("scale", [100, 100]), ("rotation", 0), ("opacity", 100))}  # fmt: skip
    (layer,) = document["layers"]
    document["layers"] = [
        {**layer, **still, "id": f"l{i}", "name": f"Layer {i}", "position": {"rest": [i, 0], "keys": keys}}
        for i in range(LAYERS)
    ]
    return store.make_scene(store.make_project("Bench"), scene_of(document)).scene.id
