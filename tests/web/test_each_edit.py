"""Edits of every kind as requests: at least one of each is kept, and none of them ends in a fault."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from mudskipper.core.document.read import read_scene
from mudskipper.store.store import Store
from mudskipper.web.app import create_app
from tests.core.edits_at_random import KINDS, Dice
from tests.core.test_any_edits import MEDIA, busy, strip
from tests.web.conftest import HOST

TRIES = 400


@pytest.mark.thorough
def test_of_every_kind_of_edit_one_is_kept_and_what_is_kept_can_be_read(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Drawn at random over a scene that holds everything; what is refused is refused in words, and changes nothing."""
    store = Store(tmp_path)
    project = store.make_project("P")
    store.make_scene(project, strip())
    real = store.assets
    monkeypatch.setattr(store, "assets", lambda of: replace(real(of), clips=MEDIA.clips))
    made = store.make_scene(project, busy().model_copy(update={"id": "busy"})).scene
    dice, never, kept = Dice(3), [], []
    with TestClient(create_app(store), base_url=HOST) as client:
        variants = [{"edit": "keep_variant", "layer": one.id} for one in made.layers]
        for kind in KINDS:
            first = store.history("busy")[3] + 1
            if "variant" in kind:
                assert client.post("/api/scenes/busy/edits", json={"edits": variants}).status_code == 200
            for _ in range(TRIES):
                now = store.head("busy").scene
                edit = dice.edit(now, kind).model_dump(mode="json")
                answer = client.post("/api/scenes/busy/edits", json={"edits": [edit]})
                assert answer.status_code in (200, 404, 422), (edit, answer.text)
                if answer.status_code != 200:
                    assert answer.json()["detail"]
                    assert store.head("busy").scene is now
                    continue
                after = store.head("busy").scene
                if after is now:
                    continue
                assert read_scene(store.document("busy")) == after
                kept.append(kind)
                break
            else:
                never.append(kind)
            while store.history("busy")[3] >= first:
                assert client.post("/api/scenes/busy/undo").status_code == 200
    assert not never
    assert len(kept) == len(KINDS)
