"""What tests of the web layer share: the application with the demo project, called without a socket."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from mudskipper.store.store import Store
from mudskipper.web.app import create_app

HOST = "http://127.0.0.1"


@pytest.fixture
def client(tmp_path: Path, filled: Callable[[Path], Path]) -> Iterator[TestClient]:
    with TestClient(create_app(Store(filled(tmp_path))), base_url=HOST) as client:
        yield client


@pytest.fixture
def scene_url(client: TestClient) -> str:
    return f"/api/scenes/{client.get('/api/projects').json()[0]['scenes'][0]['id']}"
