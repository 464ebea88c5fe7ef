"""The memory that decoding shares: never more at once than there is, in the order asked for, and nobody is left."""

from __future__ import annotations

import io
import random
import threading
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from PIL import Image

from mudskipper.media.budget import DECODING, Budget
from mudskipper.store.store import Store
from mudskipper.web.app import create_app


def test_no_more_is_given_out_than_there_is() -> None:
    budget, dice = Budget(100), random.Random(4)
    taken, most, lock = [0], [0], threading.Lock()

    def work(need: int) -> None:
        with budget.of(need):
            with lock:
                taken[0] += min(need, 100)
                most[0] = max(most[0], taken[0])
            time.sleep(0.002)
            with lock:
                taken[0] -= min(need, 100)

    with ThreadPoolExecutor(12) as pool:
        list(pool.map(work, [dice.choice([5, 30, 60, 99, 400]) for _ in range(150)]))
    assert (taken[0], budget.waiting) == (0, 0)
    assert 90 <= most[0] <= 100


def test_a_large_need_is_not_passed_over_for_ever() -> None:
    """Small ones that come later wait behind it, also where they would fit."""
    budget, order = Budget(100), []

    def work(name: str, need: int) -> None:
        with budget.of(need):
            order.append(name)

    with budget.of(50):
        large = threading.Thread(target=work, args=("large", 80))
        large.start()
        while not budget.waiting:
            time.sleep(0.001)
        small = threading.Thread(target=work, args=("small", 10))
        small.start()
        while budget.waiting < 2:
            time.sleep(0.001)
        assert not order
    large.join()
    small.join()
    assert order == ["large", "small"]


@pytest.mark.thorough
def test_files_that_wait_are_told_and_hold_up_nobody(tmp_path: Path) -> None:
    """However many come at once: others are answered, and all come in when there is memory."""
    store = Store(tmp_path)
    project = store.make_project("P")
    with TestClient(create_app(store), base_url="http://127.0.0.1") as client:
        many_at_once(client, project)


def many_at_once(client: TestClient, project: str) -> None:
    assert client.get("/api/decoding").json() == {"waiting": 0}
    out = io.BytesIO()
    Image.new("RGB", (40, 30), "#0e3f45").save(out, "PNG")
    with ThreadPoolExecutor(60) as windows:
        with DECODING.of(10**6):
            files = {"file": ("a.png", out.getvalue())}
            url = f"/api/projects/{project}/pictures"
            coming = [windows.submit(client.post, url, files=files) for _ in range(60)]
            while client.get("/api/decoding").json() != {"waiting": 60}:
                time.sleep(0.01)
            assert client.get("/api/projects").status_code == 200
            assert not any(one.done() for one in coming)
        assert [one.result().status_code for one in coming] == [201] * 60
