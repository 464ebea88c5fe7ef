"""The web layer over HTTP: edits, history, media, errors in words, exports and restarts."""

from __future__ import annotations

import io
import time
import zlib
from base64 import b64decode
from pathlib import Path
from typing import Any

import av
import httpx
import msgpack
import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from mudskipper.store.store import Store
from mudskipper.web.app import create_app
from tests.conftest import Server
from tests.web.conftest import HOST


def edit(client: TestClient, url: str, *edits: dict[str, Any]) -> dict[str, Any]:
    answer = client.post(f"{url}/edits", json={"edits": list(edits)})
    assert answer.status_code == 200, answer.text
    return answer.json()


def plate(answer: dict[str, Any]) -> dict[str, Any]:
    return next(one for one in answer["scene"]["layers"] if one["name"] == "Name plate")


def test_history_survives_a_restart(client: TestClient, scene_url: str, tmp_path: Path) -> None:
    """A list of edits is one step; undo and redo move the head, also in a new process; a new edit ends the redo."""
    layer = plate(client.get(scene_url).json())["id"]
    turn = {"edit": "set_property", "layer": layer, "property": "rotation", "frame": 20, "value": 30}
    fade = {"edit": "set_property", "layer": layer, "property": "opacity", "frame": 20, "value": 40}
    told = edit(client, scene_url, turn, fade)
    assert told["undo"] == "Set rotation of Name plate and 1 more"
    assert told["changed"] == [layer]
    back = client.post(f"{scene_url}/undo").json()
    assert (plate(back)["rotation"]["rest"], plate(back)["opacity"]["rest"]) == (0, 100)
    with TestClient(create_app(Store(tmp_path)), base_url=HOST) as later:
        again = later.post(f"{scene_url}/redo").json()
        assert (plate(again)["rotation"]["rest"], again["redo"]) == (30, None)
        later.post(f"{scene_url}/undo")
        edit(later, scene_url, fade)
        assert later.post(f"{scene_url}/redo").json()["detail"] == "There is nothing to redo in this scene."


def test_arrays_come_as_blocks(client: TestClient, scene_url: str) -> None:
    """Columns of float32 for the asked frames and layers."""
    layer = plate(client.get(scene_url).json())["id"]
    body = client.get(f"{scene_url}/resolved?from=10&to=40&layers={layer}").content
    told = msgpack.unpackb(body)
    assert (told["from"], told["to"], list(told["layers"])) == (10, 40, [layer])
    one = told["layers"][layer]
    width, block = one["columns"][one["visible"]]
    visible = np.frombuffer(block, "<f4").reshape(-1, width)
    assert visible[:, 0].tolist() == [0, 0] + [1] * 28
    assert len(told["order"]) == 6


def test_provisional_edits_are_not_kept(client: TestClient, scene_url: str) -> None:
    """The live socket answers with arrays or words, and stores nothing; other windows hear of revisions."""
    before = client.get(scene_url).json()
    layer = plate(before)["id"]
    move = {"edit": "move_layers", "layers": [layer], "frame": 20, "by": [10, 0]}
    with client.websocket_connect(f"{scene_url}/live", headers={"host": "127.0.0.1"}) as socket:
        socket.send_json({"seq": 1, "first": 0, "stop": 60, "edits": [move]})
        told = msgpack.unpackb(socket.receive_bytes())
        assert (told["type"], told["seq"], list(told["layers"])) == ("tried", 1, [layer])
        socket.send_json({"seq": 2, "first": 0, "stop": 60, "edits": [{**move, "layers": ["gone"]}]})
        assert "may have been deleted" in msgpack.unpackb(socket.receive_bytes())["detail"]
        socket.send_text("what?")
        assert msgpack.unpackb(socket.receive_bytes())["type"] == "problem"
        assert client.get(scene_url).json() == before
        edit(client, scene_url, move)
        assert msgpack.unpackb(socket.receive_bytes())["type"] == "revision"


def picture(form: str, size: tuple[int, int] = (40, 30), **options: Any) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", size, (200, 40, 90)).save(out, form, **options)
    return out.getvalue()


def huge_png() -> bytes:
    """A PNG that says it is 40,000 pixels wide."""
    data = bytearray(picture("PNG"))
    data[16:20] = (40_000).to_bytes(4, "big")
    data[29:33] = zlib.crc32(bytes(data[12:29])).to_bytes(4, "big")
    return bytes(data)


@pytest.mark.parametrize("form", ["PNG", "JPEG", "WEBP"])
def test_pictures_are_taken_by_content(client: TestClient, form: str) -> None:
    """The name says nothing; a picture that lies on its side is stood up."""
    project = client.get("/api/projects").json()[0]["id"]
    exif = Image.Exif()
    exif[0x0112] = 6
    answer = client.post(
        f"/api/projects/{project}/pictures", files={"file": ("../../no.txt", picture(form, exif=exif))}
    )
    assert answer.status_code == 201, answer.text
    told = answer.json()
    assert (told["name"], told["width"], told["height"]) == ("no.txt", 30, 40)
    kept = Image.open(io.BytesIO(client.get(f"/api/pictures/{told['id']}/file").content))
    assert (kept.format, kept.size) == ("PNG", (30, 40))


def test_media_that_no_scene_uses_leave_the_list_and_come_back(client: TestClient) -> None:
    """The file stays for the history; the same file again brings it back; one that is used is refused in words."""
    project = client.get("/api/projects").json()[0]["id"]
    url = f"/api/projects/{project}"

    def removed() -> dict[str, bool]:
        return {one["id"]: one["removed"] for one in client.get(f"{url}/pictures").json()}

    file = {"file": ("spare.png", picture("PNG"))}
    spare = client.post(f"{url}/pictures", files=file).json()["id"]
    for way in ("true", "false", "true"):
        assert client.put(f"{url}/media/{spare}/removed?removed={way}").status_code == 200
        assert removed()[spare] == (way == "true")
    assert client.get(f"/api/pictures/{spare}/file").status_code == 200
    assert client.post(f"{url}/pictures", files=file).json()["id"] == spare
    assert not removed()[spare]
    used = next(iter(client.get(f"{url}/uses").json()))
    refused = client.put(f"{url}/media/{used}/removed?removed=true")
    assert (refused.status_code, "It is used in '" in refused.json()["detail"]) == (422, True)
    assert client.put(f"{url}/media/none/removed?removed=true").status_code == 404


@pytest.mark.parametrize("profile", [b"no profile at all", b"\x00" * 200])
def test_a_colour_profile_that_cannot_be_used_harms_nothing(client: TestClient, profile: bytes) -> None:
    """The numbers of the picture are taken as sRGB, as of a picture without one."""
    project = client.get("/api/projects").json()[0]["id"]
    data = picture("PNG", icc_profile=profile)
    answer = client.post(f"/api/projects/{project}/pictures", files={"file": ("a.png", data)})
    assert answer.status_code == 201, answer.text
    kept = Image.open(io.BytesIO(client.get(f"/api/pictures/{answer.json()['id']}/file").content))
    assert kept.convert("RGB").getpixel((5, 5)) == (200, 40, 90)


@pytest.mark.parametrize(
    ("data", "told"),
    [
        (b"", "The file is empty."),
        (
            b"<svg xmlns='http://www.w3.org/2000/svg'/>",
            "must be a PNG, JPEG, WebP, AVIF or HEIC file, and this is none of them",
        ),
        (picture("BMP"), "none of them by its content"),
        (picture("PNG")[:60], "begins like a picture but is damaged"),
        (huge_png(), "this one is 40,000 × 30"),
    ],
)
def test_what_is_no_picture_is_refused_in_words(client: TestClient, data: bytes, told: str) -> None:
    project = client.get("/api/projects").json()[0]["id"]
    before = client.get(f"/api/projects/{project}/pictures").json()
    answer = client.post(f"/api/projects/{project}/pictures", files={"file": ("a.png", data)})
    assert answer.status_code == 422
    assert answer.headers["content-type"] == "application/problem+json"
    assert told in answer.json()["detail"]
    assert client.get(f"/api/projects/{project}/pictures").json() == before


def test_problems_say_what_where_and_how(client: TestClient, scene_url: str) -> None:
    wrong = client.post(f"{scene_url}/edits", json={"edits": [{"edit": "set_scene", "width": 0}]})
    assert (wrong.status_code, wrong.json()["where"]) == (422, "edits[0].width")
    gone = client.get("/api/scenes/nowhere")
    assert (gone.status_code, gone.json()["mend"]) == (404, "Go back to the list of projects.")
    assert client.get("/api/nothing").status_code == 404
    assert client.get("/api/projects", headers={"host": "evil.example"}).status_code == 421
    foreign = client.post(f"{scene_url}/undo", headers={"origin": "http://evil.example"})
    assert foreign.status_code == 403
    policy = client.get("/").headers["content-security-policy"]
    assert "default-src 'none'" in policy
    assert "script-src 'self';" in policy


def test_checks_and_sums_over_http(client: TestClient, scene_url: str) -> None:
    """What is found comes with what is drawn of it, and can be left; the explanation tells both spaces."""
    (soft,) = client.get(f"{scene_url}/checks").json()
    assert (soft["check"], soft["figure"], soft["frame"], soft["left"]) == ("sharpness", pytest.approx(1.1), 0, False)
    assert (len(soft["areas"]), [len(line) for line in soft["lines"]]) == (0, [5])
    # Smaller, the ground would not cover the scene.
    assert soft["edits"] == []
    edit(client, scene_url, {"edit": "leave_finding", "layer": soft["layer"], "check": "sharpness"})
    assert [one["left"] for one in client.get(f"{scene_url}/checks").json()] == [True]
    layer = plate(client.get(scene_url).json())["id"]
    told = client.get(f"{scene_url}/layers/{layer}/explain?frame=30").json()
    sum_of = {"layer": [430, 86], "arm": [430, 86], "turned": [430, 86], "carried": None, "scene": [1044, 884]}
    assert told["points"][8] == {"station": "bottom right", **sum_of}
    assert told["anchor"] == {"layer": [0, 0], "fraction": [0.5, 0.5]}


def start(client: TestClient, url: str, **fields: Any) -> Any:
    return client.post(f"{url}/exports", json={"kind": "webm", "first": 0, "stop": 48, **fields})


def ended(client: Any, job: str, base: str = "") -> dict[str, Any]:
    """The job once it is open no more."""
    for _ in range(600):
        told = client.get(f"{base}/api/exports/{job}").json()
        if told["state"] not in ("queued", "running"):
            return told
        time.sleep(0.1)
    raise AssertionError(told)


def test_exports_are_refused_stopped_and_made(client: TestClient) -> None:
    """On a transparent scene: WebM holds the transparency; a stopped export stays stopped and has no file."""
    url = f"/api/scenes/{client.get('/api/projects').json()[0]['scenes'][1]['id']}"
    assert "has frames 0 to 174" in start(client, url, stop=500).json()["detail"]
    edit(client, url, {"edit": "set_scene", "width": 321, "height": 181})
    assert "needs an even width" in start(client, url, kind="mp4").json()["detail"]
    first, second = start(client, url, stop=40).json()["id"], start(client, url).json()["id"]
    client.post(f"/api/exports/{second}/cancel")
    assert ended(client, first)["done"] == 40
    assert ended(client, second)["state"] == "cancelled"
    assert "has no file" in client.get(f"/api/exports/{second}/file").json()["detail"]
    with av.open(io.BytesIO(client.get(f"/api/exports/{first}/file").content)) as film:
        stream = film.streams.video[0]
        assert (stream.metadata.get("ALPHA_MODE"), float(stream.average_rate)) == ("1", 25)
        decoder = av.CodecContext.create("libvpx-vp9", "r")
        frames = [frame for packet in film.demux(stream) for frame in decoder.decode(packet)]
    assert len(frames) == 40
    shown = frames[39].to_ndarray(format="rgba").astype(int)
    still = client.get(f"{url}/still?frame=39").content
    want = np.asarray(Image.open(io.BytesIO(still)).convert("RGBA")).astype(int)
    assert np.abs(shown[..., 3] - want[..., 3]).mean() < 2
    assert np.abs(shown - want)[want[..., 3] == 255].mean() < 3


@pytest.mark.thorough
def test_a_killed_server_finishes_its_export_later(tmp_path: Path) -> None:
    """Killed in mid-export and started again: what was acknowledged is there, finished chunks are not made again."""
    server = Server(tmp_path)
    server.start()
    base = server.url.rstrip("/")
    scene = server.scene_id("Opener")
    smaller = {"edits": [{"edit": "set_scene", "width": 320, "height": 180}]}
    assert httpx.post(f"{base}/api/scenes/{scene}/edits", json=smaller).status_code == 200
    asked = {"kind": "mp4", "first": 0, "stop": 60}
    job = httpx.post(f"{base}/api/scenes/{scene}/exports", json=asked).json()["id"]
    while httpx.get(f"{base}/api/exports/{job}").json()["done"] < 24:
        time.sleep(0.05)
    server.kill()
    finished = sorted((tmp_path / "exports").glob("frames-*/chunk-???????"))
    assert finished
    finished[0].write_bytes(b"not a film")  # a chunk made again would mend this
    server.start()
    try:
        base = server.url.rstrip("/")
        assert httpx.get(f"{base}/api/scenes/{scene}").json()["scene"]["width"] == 320
        told = ended(httpx, job, base)
        assert told["state"] == "failed"
        assert "Finished parts are kept" in told["failure"]
        assert httpx.post(f"{base}/api/exports/{job}/again").status_code == 202
        assert ended(httpx, job, base)["done"] == 60
        assert list((tmp_path / "exports").glob("frames-*")) == []
        with av.open(io.BytesIO(httpx.get(f"{base}/api/exports/{job}/file").content)) as film:
            assert sum(1 for _ in film.decode(video=0)) == 60
    finally:
        server.kill()


def test_a_request_sent_again_is_applied_once(client: TestClient, scene_url: str) -> None:
    """The answer to an edit may be lost on the line; its token sees to it that it lands once."""
    move = {"edit": "move_layers", "layers": [plate(client.get(scene_url).json())["id"]], "frame": 20, "by": [10, 0]}
    body = {"edits": [move], "token": "t-1"}
    first = client.post(f"{scene_url}/edits", json=body).json()
    again = client.post(f"{scene_url}/edits", json=body).json()
    assert [again[name] for name in ("revision", "scene", "said")] == [first[n] for n in ("revision", "scene", "said")]
    other = client.post(f"{scene_url}/edits", json=body | {"token": "t-2"}).json()
    assert plate(other)["position"]["rest"][0] == plate(first)["position"]["rest"][0] + 10


def test_why_a_layer_does_not_show_over_http(client: TestClient, scene_url: str) -> None:
    """By its numbers for all; by the painted picture for one: the colour of the ground, or covered by another."""
    below = plate(client.get(scene_url).json())["id"]

    def told(layer: str) -> list[tuple[str, str]]:
        found = client.get(f"{scene_url}/unseen", params={"frame": 60, "layer": layer}).json()
        return [(one["layer"], one["reason"]) for one in found]

    assert told(below) == []
    layers = edit(client, scene_url, {"edit": "duplicate_layers", "layers": [below]})["scene"]["layers"]
    copy = next(one["id"] for one in layers if one["name"] == "Name plate 2")
    scale = {"edit": "set_property", "layer": copy, "property": "scale", "frame": 60}
    edit(client, scene_url, scale | {"value": [90, 90]})
    assert told(copy) == [(copy, "same")]
    edit(client, scene_url, scale | {"value": [104, 120]})
    assert told(below) == [(below, "covered")]
    edit(client, scene_url, {"edit": "set_visible", "layers": [copy], "visible": False})
    assert told(below) == [(copy, "hidden")]


def test_an_edit_brings_a_window_what_changed_and_no_more(client: TestClient, scene_url: str) -> None:
    """The layers that changed, the order of all, and the arrays that it would ask for next, to the byte; to a window
    that holds another revision the whole document."""
    before = client.get(scene_url).json()
    layers = before["scene"]["layers"]
    edit = {"edit": "rename_layer", "layer": layers[0]["id"], "name": "Ground of it all"}
    window = {"known": before["revision"], "first": 0, "stop": 240}
    answer = client.post(f"{scene_url}/edits", json={"edits": [edit], "window": window}).json()
    assert [one["id"] for one in answer["scene"]["layers"]] == answer["changed"]
    assert layers[0]["id"] in answer["changed"]
    assert len(answer["changed"]) < len(layers)
    assert answer["order"] == [one["id"] for one in layers]
    asked = client.get(f"{scene_url}/resolved", params={"from": 0, "to": 240, "layers": ",".join(answer["changed"])})
    assert b64decode(answer["arrays"]) == asked.content
    late = client.post(f"{scene_url}/edits", json={"edits": [edit | {"name": "Ground"}], "window": window}).json()
    assert late["order"] is late["arrays"] is None
    assert len(late["scene"]["layers"]) == len(layers)
    plain = client.post(f"{scene_url}/edits", json={"edits": [edit]}).json()
    assert plain["scene"] == client.get(scene_url).json()["scene"]
    beyond = {"known": plain["revision"], "first": 900_000, "stop": 900_001}
    none = client.post(f"{scene_url}/edits", json={"edits": [edit | {"name": "Floor"}], "window": beyond}).json()
    assert none["arrays"] is None
    assert none["order"] == answer["order"]
