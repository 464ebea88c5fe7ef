"""A server that is killed while windows edit. `MUDSKIPPER_TRIALS=20` makes it as many times longer."""

from __future__ import annotations

import io
import random
import threading
import time
import uuid
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from pathlib import Path

import httpx
import numpy as np
import pytest
from PIL import Image

from tests.conftest import TRIALS, Server, layer

KILLS = 2 * TRIALS


def edit_until_gone(url: str, name: str, pending: list[str], begun: threading.Event) -> int:
    """Move a layer by 1 px again and again until the server is gone; how many moves were acknowledged.

    `pending` holds the token of the move whose answer did not come: it is sent again first. `begun` is set with the
    first acknowledgement.
    """
    edit = {"edit": "move_layers", "layers": [name], "frame": 0, "by": [1, 0]}
    acknowledged = 0
    with httpx.Client(timeout=60) as client:
        while True:
            if not pending:
                pending.append(uuid.uuid4().hex)
            try:
                answer = client.post(url, json={"edits": [edit], "token": pending[0]})
            except httpx.TransportError:
                return acknowledged
            assert answer.status_code == 200, answer.text
            pending.clear()
            acknowledged += 1
            begun.set()


@pytest.mark.thorough
def test_a_killed_server_loses_no_acknowledged_edit(tmp_path: Path) -> None:
    """Two windows edit, the server is killed at any moment, and starts again: each edit is there exactly once."""
    server = Server(tmp_path)
    server.start()
    try:
        url = f"api/scenes/{server.scene_id(server.keep('Killed', [layer('A'), layer('B')]))}"
        made, pending = {"a": 0, "b": 0}, {"a": list[str](), "b": list[str]()}
        with ThreadPoolExecutor(2) as windows:
            for _ in range(KILLS):
                begun = {name: threading.Event() for name in made}
                running = {
                    name: windows.submit(edit_until_gone, f"{server.url}{url}/edits", name, pending[name], begun[name])
                    for name in made
                }
                for event in begun.values():
                    assert event.wait(30)
                time.sleep(random.uniform(0, 0.4))
                server.kill()
                for name, window in running.items():
                    made[name] += window.result()
                server.start()
                kept = {one["id"]: one["position"]["rest"][0] - 320 for one in server.get(url)["scene"]["layers"]}
                for name in made:
                    assert made[name] <= kept[name] <= made[name] + len(pending[name]), (name, made, kept)
        assert min(made.values()) >= KILLS
        print(f"{KILLS} kills, {sum(made.values())} acknowledged edits, none lost")
    finally:
        server.kill()


@pytest.mark.thorough
def test_a_server_killed_while_a_film_comes_in_leaves_nothing_behind(tmp_path: Path) -> None:
    """The process that reads the film ends with the server, and what it wrote goes with the next start."""
    noise = np.random.default_rng(1).integers(0, 255, (24, 48, 48), dtype=np.uint8)
    pictures = [Image.fromarray(noise[n % 24]) for n in range(1_600)]
    many = io.BytesIO()
    pictures[0].save(many, "GIF", save_all=True, append_images=pictures[1:], duration=20)
    server = Server(tmp_path)
    server.start()
    try:
        project = server.get("api/projects")[0]["id"]
        clips = len(server.get(f"api/projects/{project}/clips"))
        before = {path.name for path in (tmp_path / "media").iterdir()}

        def send() -> None:
            head = {"content-type": "application/octet-stream"}
            with suppress(httpx.TransportError):
                httpx.post(
                    f"{server.url}api/projects/{project}/clips?name=many.gif", content=many.getvalue(), headers=head
                )

        with ThreadPoolExecutor(1) as window:
            sending = window.submit(send)
            until = time.monotonic() + 60
            while not reading(tmp_path) and time.monotonic() < until:
                time.sleep(0.02)
            assert reading(tmp_path)
            server.kill()
            sending.result()
        while reading(tmp_path) and time.monotonic() < until:
            time.sleep(0.1)
        assert not reading(tmp_path)
        server.start()
        assert len(server.get(f"api/projects/{project}/clips")) == clips
        assert {path.name for path in (tmp_path / "media").iterdir()} == before
    finally:
        server.kill()


def reading(folder: Path) -> list[str]:
    """The processes that read a film which comes in to a data folder."""
    found = []
    for process in Path("/proc").glob("[0-9]*/cmdline"):
        with suppress(OSError):
            words = process.read_bytes().replace(b"\0", b" ").decode(errors="replace")
            if "clip_child.probe" in words and str(folder) in words:
                found.append(words)
    return found
