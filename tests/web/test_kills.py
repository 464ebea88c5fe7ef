"""A server that is killed while windows edit. `MUDSKIPPER_TRIALS=20` makes it as many times longer."""

from __future__ import annotations

import random
import threading
import time
import uuid
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import httpx

from tests.conftest import TRIALS, Server, layer

KILLS = 5 * TRIALS


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
