"""History, presets, easings and variants over HTTP, also after a restart."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import msgpack
import numpy as np
import pytest
from fastapi.testclient import TestClient

from mudskipper.store.store import Store
from mudskipper.web.app import create_app
from tests.web.conftest import HOST


@pytest.fixture
def project(client: TestClient) -> dict[str, Any]:
    return client.get("/api/projects").json()[0]


@pytest.fixture
def url(project: dict[str, Any]) -> str:
    return f"/api/scenes/{project['scenes'][0]['id']}"


def plate(client: TestClient, url: str) -> dict[str, Any]:
    layers = client.get(url).json()["scene"]["layers"]
    return next(one for one in layers if one["name"] == "Name plate")


def edit(client: TestClient, url: str, *edits: dict[str, Any]) -> dict[str, Any]:
    answer = client.post(f"{url}/edits", json={"edits": list(edits)})
    assert answer.status_code == 200, answer.text
    return answer.json()


def steps(client: TestClient, url: str) -> list[tuple[str, bool]]:
    return [(step["words"], step["here"]) for step in client.get(f"{url}/history").json()["steps"]]


def test_the_history_is_gone_through_and_survives_a_restart(client: TestClient, url: str, tmp_path: Path) -> None:
    """Any step of the line can be gone to; a new edit from there begins a line of its own, the older one left."""
    layer = plate(client, url)["id"]
    for angle in (10, 20, 30):
        turn = {"edit": "set_property", "layer": layer, "property": "rotation", "frame": 20, "value": angle}
        edit(client, url, turn)
    edit(client, url, {"edit": "rename_layer", "layer": layer, "name": "Plate"})
    words = ["New scene", *["Set rotation of Name plate"] * 3, "Renamed Name plate to Plate"]
    assert steps(client, url) == [(told, told.startswith("Renamed")) for told in words]
    second = client.get(f"{url}/history").json()["steps"][2]["revision"]
    gone = client.post(f"{url}/goto", params={"revision": second}).json()
    assert gone["revision"] == second
    assert (gone["undo"], gone["redo"]) == ("Set rotation of Name plate", "Set rotation of Name plate")
    assert plate(client, url)["rotation"]["rest"] == 20
    assert [here for _, here in steps(client, url)] == [False, False, True, False, False]
    assert client.post(f"{url}/goto", params={"revision": 999_999}).status_code == 404
    with TestClient(create_app(Store(tmp_path)), base_url=HOST) as later:
        assert [here for _, here in steps(later, url)] == [False, False, True, False, False]
        later.post(f"{url}/redo")
        assert plate(later, url)["rotation"]["rest"] == 30
        later.post(f"{url}/goto", params={"revision": second})
        edit(later, url, {"edit": "set_visible", "layers": [layer], "visible": False})
        assert [told for told, _ in steps(later, url)] == [*words[:3], "Hid Name plate"]


def test_a_projects_presets_are_kept_replaced_and_taken_away(client: TestClient, project: dict[str, Any]) -> None:
    path = f"/api/projects/{project['id']}/easings"
    door = {"name": "Heavy door", "ease": {"bezier": [0.7, 0, 0.2, 1]}}
    assert client.get(path).json() == []
    assert client.put(path, json=door).json() == [door]
    lighter = {"name": "Heavy door", "ease": {"spring": {"response": 0.3, "damping": 0.6}}}
    assert client.put(path, json=lighter).json() == [lighter]
    client.put(path, json={"name": "Blink", "ease": "hold"})
    assert [one["name"] for one in client.get(path).json()] == ["Blink", "Heavy door"]
    assert [one["name"] for one in client.delete(f"{path}/Blink").json()] == ["Heavy door"]
    wrong = client.put(path, json={"name": " ", "ease": "hold"})
    assert wrong.status_code == 422
    assert client.put(path, json={"name": "Odd", "ease": {"bezier": [2, 0, 1, 1]}}).status_code == 422
    assert client.get("/api/projects/none/easings").status_code == 404


def test_easings_are_drawn_and_read(client: TestClient) -> None:
    """Curves begin at 0 and end at 1; a text is read, or refused with the forms there are."""
    eases = [preset["ease"] for preset in client.get("/api/easings").json()]
    drawn = client.post("/api/easings/curves", json={"eases": eases}).json()
    assert [one["ease"] for one in drawn] == eases
    for one in drawn:
        assert len(one["curve"]) == 97
        assert (one["curve"][0], one["curve"][-1]) == (0, 1)
    named = {one["name"]: one for one in drawn}
    assert named["ease-in"]["bezier"] == [0.42, 0, 1, 1]
    assert max(named["overshoot"]["curve"]) == pytest.approx(1.12, abs=1e-3)
    assert named["hold"]["curve"][:-1] == [0] * 96
    read = client.post("/api/easings/read", json={"text": "cubic-bezier(0.1, 0.8, 0.3, 1)"}).json()
    assert (read["name"], read["text"]) == ("soft landing", "cubic-bezier(0.1, 0.8, 0.3, 1)")
    wrong = client.post("/api/easings/read", json={"text": "swoosh"})
    assert wrong.status_code == 422
    assert wrong.json()["detail"] == "“swoosh” is no easing."
    assert "cubic-bezier(" in wrong.json()["mend"]


def rotation(client: TestClient, url: str, layer: str, **query: Any) -> np.ndarray:
    body = client.get(f"{url}/resolved", params={"from": 12, "to": 60, "layers": layer, **query}).content
    told = msgpack.unpackb(body)["layers"][layer]
    width, data = told["columns"][told["values"]["rotation"]]
    assert width == 1
    return np.frombuffer(data, "<f4")


def test_a_variant_is_resolved_beside_the_one_in_use(client: TestClient, url: str) -> None:
    layer = plate(client, url)["id"]
    key = {"edit": "set_key", "layer": layer, "property": "rotation"}
    edit(client, url, {**key, "frame": 12, "value": 0}, {**key, "frame": 40, "value": 56})
    edit(client, url, {"edit": "keep_variant", "layer": layer})
    edit(client, url, {**key, "frame": 40, "value": -28, "ease": "hold"}, {**key, "frame": 12, "value": 7})
    was = np.clip(np.arange(48) * 2, 0, 56)
    assert rotation(client, url, layer, variant="A") == pytest.approx(was, abs=1e-4)
    assert rotation(client, url, layer)[0] == 7
    told = client.get(f"{url}/layers/{layer}/variants/A/differences").json()
    assert told == ["Rotation, key 1: 7 against 0.", "Rotation, key 2: -28 against 56."]
    refused = client.get(f"{url}/resolved", params={"from": 0, "to": 9, "layers": layer, "variant": "Z"})
    assert refused.status_code == 422
    assert "keeps no variant 'Z'" in refused.json()["detail"]
    assert client.get(f"{url}/layers/{layer}/variants/Z/differences").status_code == 422


def test_a_typed_time_is_read_in_the_scenes_rate(client: TestClient, url: str) -> None:
    read = lambda **query: client.get(f"{url}/time", params=query)  # noqa: E731
    assert read(text="1:10").json() == {"frame": 40}
    assert read(text="+0.5s", now=7).json() == {"frame": 22}
    refused = read(text="half past")
    assert refused.status_code == 422
    assert refused.json()["detail"].startswith("“half past” is no time: a time is written as 45, 45f")


def test_what_edits_make_of_keys_is_told_and_not_kept(client: TestClient, url: str) -> None:
    layer = plate(client, url)["id"]
    for frame, value in ((12, [614, 798]), (30, [500, 700])):
        edit(client, url, {"edit": "start_keying", "layer": layer, "property": "position", "frame": frame})
        moved = {"edit": "set_key", "layer": layer, "property": "position", "frame": frame, "value": value}
        edit(client, url, moved)
    keys = [{"layer": layer, "property": "position", "frame": frame} for frame in (30, 12, 13)]
    before = client.get(url).json()
    body = {
        "edits": [{"edit": "edit_values", "keys": keys[:2], "way": "multiply", "value": 2, "axis": 1}],
        "keys": keys,
    }
    told = client.post(f"{url}/key-values", json=body).json()
    assert told == {
        "before": [[500, 700], [614, 798], None], "after": [[500, 1400], [614, 1596], None], "notices": [],
    }  # fmt: skip
    assert client.get(url).json() == before
    body["edits"][0]["value"] = 1e12
    refused = client.post(f"{url}/key-values", json=body)
    assert refused.status_code == 422
    assert refused.json()["where"].endswith("value")


def test_speeds_come_where_they_are_asked_for(client: TestClient, url: str) -> None:
    """Also at the first frame of a piece, where the frame before lies in another one."""
    layer = plate(client, url)["id"]
    for frame, value in ((12, 0), (42, 60)):
        edit(client, url, {"edit": "start_keying", "layer": layer, "property": "rotation", "frame": frame})
        turned = {"edit": "set_key", "layer": layer, "property": "rotation", "frame": frame, "value": value}
        edit(client, url, turned | {"ease": "linear"})
    for query, count in (({"from": 20, "to": 50}, 30), ({"from": 20, "to": 21}, 1)):
        told = client.get(f"{url}/resolved", params=query | {"speeds": True, "layers": layer}).content
        here = msgpack.unpackb(told)["layers"][layer]
        width, block = here["columns"][here["speeds"]["rotation"]]
        found = np.frombuffer(block, dtype="<f4")
        assert (width, len(found)) == (1, count)
        assert found == pytest.approx([60.0 if frame <= 42 else 0.0 for frame in range(20, 20 + count)], abs=1e-3)
    plain = msgpack.unpackb(client.get(f"{url}/resolved", params={"from": 20, "to": 50, "layers": layer}).content)
    assert plain["layers"][layer]["speeds"] == {}


@pytest.mark.parametrize("kept", [None, "ease-in"], ids=["the first version", "presets of easings alone"])
def test_an_older_data_folder_is_brought_up_to_date(tmp_path: Path, kept: str | None) -> None:
    """Tables of older versions get their new columns; what was in them is there as before."""
    import sqlite3

    from mudskipper.store.tables import MIGRATIONS

    file = sqlite3.connect(tmp_path / "mudskipper.sqlite3")
    file.execute("PRAGMA foreign_keys = off")
    version = 1 if kept is None else next(at for at, steps in enumerate(MIGRATIONS) if "easing_preset" in steps[0])
    for statement in (statement for steps in MIGRATIONS[:version] for statement in steps):
        file.execute(statement)
    file.execute(f"PRAGMA user_version = {version}")
    file.execute("INSERT INTO project VALUES ('p', 'Old work', '2026-01-01 00:00:00', 0)")
    if kept is not None:
        file.execute("INSERT INTO preset (project_id, name, ease) VALUES ('p', 'Door', ?)", [f'"{kept}"'])
    file.commit()
    file.close()
    store = Store(tmp_path)
    assert [project.name for project, _ in store.projects()] == ["Old work"]
    store.presets.keep("p", "easing", "Blink", "hold")
    assert store.presets.of("p", "easing") == {"Blink": "hold"} | ({} if kept is None else {"Door": kept})
