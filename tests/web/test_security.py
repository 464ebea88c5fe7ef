"""Who may come in, how much may be sent, and that every answer is one: hosts, origins, passwords, bodies, sockets."""

from __future__ import annotations

import json
from itertools import product
from pathlib import Path
from typing import Any
from urllib.parse import quote

import httpx
import msgpack
import pytest
from fastapi.testclient import TestClient
from starlette.websockets import WebSocketDisconnect

from mudskipper.store.store import Store
from mudskipper.web.app import create_app
from mudskipper.web.security import host_name
from tests.conftest import layer, scene
from tests.web.conftest import HOST


@pytest.fixture
def url(client: TestClient) -> str:
    project = client.get("/api/projects").json()[0]
    document = scene(layer("A")).model_dump(mode="json", by_alias=True)
    made = client.post(f"/api/projects/{project['id']}/documents", json=document).json()
    return f"/api/scenes/{made['scene']['id']}"


def is_problem(answer: httpx.Response, status: int) -> str:
    """A problem document with the headers of every answer; its sentence."""
    assert answer.status_code == status, answer.text
    assert answer.headers["content-type"] == "application/problem+json"
    assert "default-src 'none'" in answer.headers["content-security-policy"]
    told: str = answer.json()["detail"]
    return told


@pytest.mark.parametrize(
    ("host", "known"),
    [
        ("127.0.0.1", True), ("LOCALHOST:80", True), ("Studio-Box", True), ("studio-box.:8765", True),
        ("[::1]:9", True),
        ("[0:0:0:0:0:0:0:1]", True), ("evil.example", False), ("127.0.0.1.evil.example", False), ("", False),
        ("10.0.0.7", False),
    ],
)  # fmt: skip
def test_hosts(tmp_path: Path, host: str, known: bool) -> None:
    with TestClient(create_app(Store(tmp_path), hosts={"studio-box"}), base_url=HOST) as client:
        answer = client.get("/api/projects", headers={"host": host})
        assert answer.status_code == (200 if known else 421)


def test_the_address_that_was_reached_is_a_host(tmp_path: Path) -> None:
    """On all interfaces the LAN address is answered, whatever the machine's name maps to."""
    app = create_app(Store(tmp_path))
    with TestClient(app, base_url="http://192.168.7.9") as client:
        assert client.get("/api/projects").status_code == 200
        assert client.get("/api/projects", headers={"host": "192.168.7.8"}).status_code == 421
    assert host_name("[FE80::0:1]:80") == "fe80::1"


ASKED: list[tuple[dict[str, str], int]] = [
    ({"origin": "http://evil.example"}, 403), ({"origin": "file://127.0.0.1"}, 403), ({"origin": "null"}, 403),
    ({"origin": "https://127.0.0.1"}, 403), ({"origin": "http://127.0.0.1:9"}, 403),
    ({"sec-fetch-site": "cross-site"}, 403), ({"sec-fetch-site": "same-site"}, 403),
    ({"content-type": "text/plain"}, 415), ({"content-type": "application/x-www-form-urlencoded"}, 415),
    ({}, 200), ({"origin": "http://127.0.0.1"}, 200), ({"sec-fetch-site": "same-origin"}, 200),
]  # fmt: skip


def test_origins_and_kinds_of_body(client: TestClient, url: str) -> None:
    for at, (headers, status) in enumerate(ASKED):
        edit = {"edits": [{"edit": "rename_layer", "layer": "a", "name": f"B{at}"}]}
        given = {"host": "127.0.0.1", "content-type": "application/json"} | headers
        answer = client.post(f"{url}/edits", content=json.dumps(edit), headers=given)
        if status == 200:
            assert answer.status_code == 200, headers
        else:
            is_problem(answer, status)
            assert client.get(url).json()["undo"] is None


def test_bodies_are_bounded_before_they_are_read(client: TestClient, url: str) -> None:
    read = [0]

    def endless() -> Any:
        yield b'{"edits": ['
        for _ in range(4_000):
            read[0] += 1
            yield b" " * 100_000

    answer = client.post(f"{url}/edits", content=endless(), headers={"content-type": "application/json"})
    assert "larger than this takes" in is_problem(answer, 413)
    project = client.get("/api/projects").json()[0]["id"]
    large = {"content-type": "application/json", "content-length": str(10**9)}
    assert client.post(f"/api/projects/{project}/documents", content=b"{}", headers=large).status_code == 413
    many = {"edits": [{"edit": "rename_layer", "layer": "a", "name": "B"}] * 1_001}
    assert "The edits may hold at most 1000 items" in is_problem(client.post(f"{url}/edits", json=many), 422)


def test_the_live_socket_answers_each_bad_message_and_lives_on(client: TestClient, url: str) -> None:
    headers = {"host": "127.0.0.1"}
    good = {"seq": 7, "first": 0, "stop": 10, "edits": [{"edit": "rename_layer", "layer": "a", "name": "B"}]}
    with client.websocket_connect(f"{url}/live", headers=headers) as socket:
        for wrong, words in (
            ("{oops", "Invalid JSON"),
            (json.dumps({**good, "seq": 10**30}), "seq"),
            (json.dumps({**good, "first": 9, "stop": 3}), "begins at 9 and ends at 3"),
            (json.dumps({**good, "edits": [{"edit": "wobble"}]}), "of the kind wobble"),
            (
                json.dumps({**good, "edits": [{"edit": "rename_layer", "layer": "ghost", "name": "B"}]}),
                "is not in scene",
            ),
            (json.dumps([1, 2]), "must be an object"),
        ):
            socket.send_text(wrong)
            told = msgpack.unpackb(socket.receive_bytes())
            assert told["type"] == "problem"
            assert words in told["detail"], told["detail"]
        socket.send_bytes(b"\x00\x01")
        assert msgpack.unpackb(socket.receive_bytes())["type"] == "problem"
        socket.send_text(json.dumps(good))
        assert msgpack.unpackb(socket.receive_bytes())["type"] == "tried"
    with (
        client.websocket_connect("/api/scenes/nowhere/live", headers=headers) as socket,
        pytest.raises(WebSocketDisconnect) as gone,
    ):
        socket.receive_bytes()
    assert gone.value.code == 4404
    assert client.app.state.hub._windows == {}  # type: ignore[attr-defined]


def test_every_fault_is_a_problem_in_words(client: TestClient, url: str, monkeypatch: pytest.MonkeyPatch) -> None:
    loose = {"property": "x.y", "after": 0, "value": 1}
    for edit, words in (
        ({"edit": "reset_properties", "layer": "a", "properties": ["wobble"]}, "wobble has no default"),
        ({"edit": "paste_keys", "layers": ["a"], "frame": 0, "keys": [loose]}, "has no x.y"),
        ({"edit": "rename_layer", "layer": "a", "name": ""}, "The name must hold at least 1 character(s)"),
        ({"edit": "rename_layer", "layer": "a", "name": "x" * 201}, "The name may hold at most 200 characters"),
        ({"edit": "wobble"}, "is of the kind wobble"),
        ({"edit": "set_scene", "width": 0}, "The width must be at least 1 (given: 0)"),
    ):  # fmt: skip
        assert words in is_problem(client.post(f"{url}/edits", json={"edits": [edit]}), 422)
    is_problem(client.post(f"{url}/goto?revision=99999999999999999999"), 422)
    is_problem(client.post(f"{url}/goto?revision=soon"), 422)
    picture = client.get("/api/projects").json()[0]["id"]
    media = client.get(f"/api/projects/{picture}/pictures").json()[0]["id"]
    client.app.state.store.pictures.file(media).unlink()  # type: ignore[attr-defined]
    assert "is missing" in is_problem(client.get(f"/api/pictures/{media}/file"), 404)
    monkeypatch.setattr(Store, "history", lambda *_: 1 / 0)
    assert "a fault of its own" in is_problem(client.get(f"{url}/history"), 500)


NASTY = [
    "\0", "a\0b", "\x85", "\u2028", "\u3000", "\u00a0", "\r", "a\rb", "\ud800", "\ufffe", "\U0010ffff", "%00",
    "../../etc",
    "'; DROP TABLE scene; --", "{0}", "%s%n", "<script>", "\u202e", "e\u0301" * 300, "🦀" * 200, " ", "", "NaN",
    "1e400",
    "\\u0000", "((((" * 300, "a" * 5_000,
]  # fmt: skip
WHERE: list[tuple[str, str, Any]] = [
    ("post", "/api/projects", {"name": "?"}), ("put", "/api/projects/{project}", {"name": "?"}),
    ("post", "/api/projects/{project}/scenes", {"name": "?", "width": 64, "height": 36, "length": 5}),
    *(("post", "{scene}/edits", {"edits": [edit]}) for edit in (
        {"edit": "rename_layer", "layer": "a", "name": "?"}, {"edit": "rename_layer", "layer": "?", "name": "B"},
        {"edit": "add_layer", "content": {"kind": "text", "text": "?"}},
        {"edit": "add_beats", "frames": [3], "label": "?"}, {"edit": "keep_variant", "layer": "a", "name": "?"},
        {"edit": "set_formula", "layer": "a", "property": "rotation", "text": "?"},
        {"edit": "set_property", "layer": "a", "property": "?", "frame": 1, "value": 3},
        {"edit": "set_content", "layer": "a", "path": "?", "value": "?"}, {"edit": "?"},
    )),
    ("post", "{scene}/formula", {"layer": "a", "property": "rotation", "frame": 3, "text": "?"}),
    ("post", "{scene}/formula", {"layer": "a", "property": "?", "frame": 3, "text": "1"}),
    ("post", "/api/easings/read", {"text": "?"}),
    ("put", "/api/projects/{project}/easings", {"name": "?", "ease": "linear"}),
    ("get", "{scene}/time", {"text": "?"}), ("get", "/api/scenes/{text}", {}),
    ("get", "{scene}/layers/{text}/explain", {}),
    ("post", "{scene}/undo", {"client": "?"}), ("post", "/api/projects/{text}/scenes", {"name": "A"}),
]  # fmt: skip


def test_any_text_through_every_route_is_taken_or_refused(client: TestClient, url: str) -> None:
    """Texts as they are pasted and as they are made up to break something: no fault, and what is kept can be read."""
    project = client.get("/api/projects").json()[0]["id"]
    for (way, address, body), text in product(WHERE, NASTY):
        quoted = json.dumps(text)
        given = json.dumps(body).replace('"?"', quoted)
        place = address.replace("{project}", project).replace("{scene}", url)
        place = place.replace("{text}", quote(text.encode(errors="replace").decode(), safe="")[:900])
        if way == "get":
            fields = {name: text.encode(errors="replace").decode() for name in body}
            answer = client.get(place, params=fields)
        else:
            answer = client.request(way, place, content=given, headers={"content-type": "application/json"})
        assert answer.status_code < 500, (address, body, text[:40], answer.text[:300])
    assert client.get(url).status_code == 200
    assert client.get("/api/projects").status_code == 200
