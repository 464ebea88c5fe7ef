"""Clips over the API, in stills and in films: taken in once, found again, every frame where the core has it."""

from __future__ import annotations

import io
import json
import wave
import zipfile
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

import av
import msgpack
import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from mudskipper.cli import main
from mudskipper.core.document.read import scene_of
from mudskipper.core.document.scene import SCHEMA
from mudskipper.core.resolve.context import Context
from mudskipper.core.resolve.resolved import resolve
from mudskipper.export.frames import frames_of
from mudskipper.export.order import make_order
from mudskipper.export.render import render_file
from mudskipper.export.writers.base import Run
from mudskipper.export.writers.pixels import NO_ALPHA
from mudskipper.media.folder import clip_at, media_in_folder
from mudskipper.media.sounds import Sounds
from mudskipper.store.store import Store
from mudskipper.web.app import create_app
from tests.conftest import layer
from tests.films import SIZE, clicks, first_sounds, number_in, write_film, write_sound
from tests.web.conftest import HOST

OCTETS = {"Content-Type": "application/octet-stream"}


@pytest.fixture
def store(tmp_path: Path) -> Store:
    return Store(tmp_path / "data")


@pytest.fixture
def app(store: Store) -> Iterator[TestClient]:
    with TestClient(create_app(store), base_url=HOST) as client:
        yield client


@pytest.fixture(scope="module")
def film(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return write_film(tmp_path_factory.mktemp("films") / "surf.mp4", 90, (24000, 1001), gop=30)


def added(app: TestClient, film: Path, project: str) -> dict[str, Any]:
    answer = app.post(f"/api/projects/{project}/clips?name={film.name}", content=film.read_bytes(), headers=OCTETS)
    assert answer.status_code == 201, answer.text
    found: dict[str, Any] = answer.json()
    return found


def document(asset: str, **time: Any) -> dict[str, Any]:
    """A scene of the film's size that shows it alone, at three quarters of its speed, from 0.5 s on."""
    content = {"kind": "clip", "asset": asset, "time": {"start": 0.5, "speed": 75.0} | time}
    surf = layer("Surf", content=content, position=[80, 45], span={"start": 4, "length": 40})
    return {"schema": SCHEMA, "name": "Surf", "width": SIZE[0], "height": SIZE[1], "length": 50, "layers": [surf]}


def numbers(doc: dict[str, Any], store: Store, project: str) -> dict[int, int]:
    """The source frame of each scene frame of the layer, by the core."""
    scene = scene_of(doc)
    (one,) = scene.layers
    frames = np.arange(one.span.start, one.span.end, dtype=np.float64)
    context = Context(scene, store.assets(project))
    (resolved,) = context.resolve([one], frames)
    found = one.content.source_frames(resolved.inner, context.around(one, frames))
    return dict(zip(frames.astype(int).tolist(), found.tolist(), strict=True))


def test_a_clip_comes_in_once_and_is_found_again(app: TestClient, store: Store, film: Path) -> None:
    """The same file twice is one; its file lost is said in words, and the file sent again mends it."""
    project = store.make_project("Low Tide Week")
    one = added(app, film, project)
    facts = {"width": 160, "height": 90, "count": 90, "rate": [24000, 1001], "missing": False, "name": "surf.mp4"}
    assert facts.items() <= one.items()
    assert added(app, film, project)["id"] == one["id"]
    assert len(app.get(f"/api/projects/{project}/clips").json()) == 1
    assert not list((store.folder / "media").glob("*.part*"))
    exact = app.get(f"/api/clips/{one['id']}/frame?frame=77")
    assert exact.headers["x-size"] == "160x90"
    assert number_in(np.frombuffer(exact.content, np.uint8).reshape(90, 160, 4)) == 77
    small = msgpack.unpackb(app.get(f"/api/clips/{one['id']}/frames?at=3,60&width=100").content)
    assert [(at, number_in(np.asarray(Image.open(io.BytesIO(block))))) for at, block in small] == [(3, 3), (60, 60)]
    for query, why in (("frame?frame=90", "frames 0 to 89"), ("frames?at=9,95&width=100", "frames 0 to 89")):
        refused = app.get(f"/api/clips/{one['id']}/{query}")
        assert refused.status_code == 422
        assert why in refused.json()["detail"]
    scene = app.post(f"/api/projects/{project}/documents", json=document(one["id"])).json()["scene"]["id"]
    for file in (store.folder / "media").iterdir():
        file.unlink()
    app.app.state.clip_frames.close()  # type: ignore[attr-defined]
    other = Store(store.folder)
    with TestClient(create_app(other), base_url=HOST) as again:
        assert again.get(f"/api/projects/{project}/clips").json()[0]["missing"]
        assert again.get(f"/api/scenes/{scene}/resolved?from=0&to=9").status_code == 200
        refused = again.get(f"/api/scenes/{scene}/still?frame=9")
        assert (refused.status_code, refused.json()["detail"]) == (422, "The file of the clip is missing.")
        assert added(again, film, project)["missing"] is False
        assert again.get(f"/api/scenes/{scene}/still?frame=9").status_code == 200


@pytest.mark.parametrize(
    "time",
    [
        {},
        {"speed": -60.0, "start": 2.5},
        pytest.param({"freeze": 20.0}, marks=pytest.mark.thorough),
        pytest.param({"after": "nothing", "start": 3.0}, marks=pytest.mark.thorough),
    ],
)
def test_stills_and_films_show_the_frame_that_the_core_says(
    app: TestClient, store: Store, film: Path, tmp_path: Path, time: dict[str, Any], capsys: pytest.CaptureFixture[str]
) -> None:
    """A sequence by the command line, once in two processes, and stills: bar codes read back from the pixels."""
    project = store.make_project("Low Tide Week")
    clip = added(app, film, project)
    doc = document(clip["id"], **time)
    wanted = numbers(doc, store, project)
    scene = app.post(f"/api/projects/{project}/documents", json=doc).json()["scene"]["id"]
    for at in (4, 17, 43):
        still = Image.open(io.BytesIO(app.get(f"/api/scenes/{scene}/still?frame={at}").content)).convert("RGBA")
        assert (number_in(np.asarray(still)) if np.asarray(still)[..., 3].any() else -1) == wanted[at]
    (tmp_path / f"{clip['id']}.mp4").write_bytes(film.read_bytes())
    (tmp_path / "surf.json").write_text(json.dumps(doc))
    out = tmp_path / "surf.zip"
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(
            "sys.argv",
            ["mudskipper", "render", str(tmp_path / "surf.json"), "--out", str(out), "--workers", "1" if time else "2"],
        )
        with pytest.raises(SystemExit) as end:
            main()
    assert not end.value.code, capsys.readouterr().err
    with zipfile.ZipFile(out) as pack:
        pictures = [np.asarray(Image.open(pack.open(name)).convert("RGBA")) for name in sorted(pack.namelist())]
    assert len(pictures) == 50
    for at, picture in enumerate(pictures):
        assert (number_in(picture) if picture[..., 3].any() else -1) == wanted.get(at, -1)


def test_what_is_no_film_leaves_nothing_behind(app: TestClient, store: Store, film: Path) -> None:
    project = store.make_project("Low Tide Week")
    for name, data, why in (
        ("a.mp4", b"", "The file is empty."), ("b.mp4", b"Low tide\n" * 50, "text by its content"),
        ("c.mp4", film.read_bytes()[:4000], "its end is missing"),
    ):  # fmt: skip
        answer = app.post(f"/api/projects/{project}/clips?name={name}", content=data, headers=OCTETS)
        assert answer.status_code == 422
        assert why in answer.json()["detail"]
        assert answer.json()["where"] == name
    assert app.post("/api/projects/none/clips", content=b"x", headers=OCTETS).status_code == 404
    wrong = app.post(f"/api/projects/{project}/clips", content=b"x", headers={"Content-Type": "text/plain"})
    assert wrong.status_code == 415
    assert not list((store.folder / "media").iterdir())
    left = store.clips.part()
    left.write_bytes(b"left by a killed server")
    with TestClient(create_app(store), base_url=HOST):
        assert not left.exists()


TONES = [0.2, 0.75, 1.5, 2.5]


@pytest.mark.parametrize(("kind", "container"), [("mp4", "a.mp4"), ("webm", "a.mp4"), ("mp4", "b.wav")])
def test_a_film_is_heard_in_step_with_its_picture(
    app: TestClient, store: Store, tmp_path: Path, kind: str, container: str
) -> None:
    """Exported in two chunks, read back: each tone within a millisecond, on the frame that carries its number."""
    project = store.make_project("Low Tide Week")
    codec = "aac" if container == "a.mp4" else "pcm_s16le"
    clip = added(app, write_sound(tmp_path / container, codec, clicks(3, TONES)), project)
    doc = document(clip["id"], start=0.5, speed=100.0) | {"length": 70}
    (surf,) = doc["layers"]
    surf["span"] = {"start": 6, "length": 60}
    if container == "b.wav":
        surf["content"]["kind"] = "sound"
    scene = app.post(f"/api/projects/{project}/documents", json=doc).json()["scene"]["id"]
    head = store.head(scene)
    files = store.media_files(project)
    order = make_order(head.scene, store.assets(project), files, kind, 0, 70)
    out = tmp_path / f"film.{kind}"
    with ThreadPoolExecutor(1) as executor:
        assert render_file(order, files, out, Run(tmp_path / "work", executor)) == (
            () if kind == "webm" else (NO_ALPHA,)
        )
    with av.open(str(out)) as film:
        assert film.streams.audio[0].rate == 48_000
        assert len(film.streams.audio[0].layout.channels) == 2
    back = clip_at(out)
    heard = Sounds(tmp_path / "back").samples(back).astype(float) / 32768
    shown = [tone - 0.5 + 6 / 30 for tone in TONES if 0.5 <= tone < 2.5]
    assert first_sounds(heard) == pytest.approx(shown, abs=0.001)
    assert len(heard) / 48_000 == pytest.approx(70 / 30, abs=0.03)
    played = app.get(f"/api/scenes/{scene}/sound?first=0&count={70 * 1600}")
    live = np.frombuffer(played.content, "<i2").reshape(-1, 2) / 32768
    assert first_sounds(live) == pytest.approx(shown, abs=0.0005)
    assert app.get(f"/api/scenes/{scene}/heard").json() == ["surf"]
    wave = np.frombuffer(app.get(f"/api/scenes/{scene}/layers/surf/wave?from=0&to=70&points=700").content, "<f4")
    loud = np.flatnonzero(wave.reshape(-1, 2)[:, 1] > 0.3) / 300
    assert all(min(abs(at - moment) for moment in shown) < 0.02 for at in loud)
    assert all(min(abs(loud - moment)) < 0.02 for moment in shown)


def test_a_mono_sound_is_heard_as_the_same_sound_in_two_channels(app: TestClient, store: Store, tmp_path: Path) -> None:
    """At its own level in both, while it plays, in exports (which mix the same samples) and as formulas hear it."""
    project = store.make_project("Low Tide Week")
    tone = (np.sin(np.arange(96_000) / 20) * 16_000).astype("<i2")
    played, loud = [], []
    for channels in (1, 2):
        path = tmp_path / f"{channels}.wav"
        with wave.open(str(path), "wb") as file:
            file.setnchannels(channels)
            file.setsampwidth(2)
            file.setframerate(48_000)
            file.writeframes(np.repeat(tone, channels).tobytes())
        clip = added(app, path, project)
        doc = document(clip["id"], start=0.0, speed=100.0) | {"length": 60}
        doc["layers"][0] |= {"span": {"start": 0, "length": 60}}
        doc["layers"][0]["content"]["kind"] = "sound"
        scene = app.post(f"/api/projects/{project}/documents", json=doc).json()["scene"]["id"]
        answer = app.get(f"/api/scenes/{scene}/sound?first=0&count=96000")
        played.append(np.frombuffer(answer.content, "<i2").reshape(-1, 2).astype(int))
        loud.append(store.assets(project).squares(clip["id"])[-1])
    for heard in played:
        assert np.abs(heard - tone[:, None]).max() <= 1
    assert loud[0] == pytest.approx(loud[1], rel=1e-6)


def test_a_film_without_a_sound_has_none(app: TestClient, store: Store, film: Path, tmp_path: Path) -> None:
    """And what is muted or lost is left out, or said."""
    project = store.make_project("Low Tide Week")
    clip = added(app, film, project)
    scene = app.post(f"/api/projects/{project}/documents", json=document(clip["id"])).json()["scene"]["id"]
    head = store.head(scene)
    files = store.media_files(project)
    order = make_order(head.scene, store.assets(project), files, "mp4", 0, 10)
    with ThreadPoolExecutor(1) as executor:
        render_file(order, files, tmp_path / "film.mp4", Run(tmp_path / "work", executor))
    with av.open(str(tmp_path / "film.mp4")) as made:
        assert not made.streams.audio
    assert app.get(f"/api/scenes/{scene}/heard").json() == []
    refused = app.get(f"/api/scenes/{scene}/layers/surf/wave?from=0&to=9&points=5")
    assert (refused.status_code, refused.json()["detail"]) == (422, "'Surf' has no sound.")


def test_a_formula_hears_a_sound_on_the_stage_in_exports_and_from_a_folder(
    app: TestClient, store: Store, tmp_path: Path
) -> None:
    project = store.make_project("Low Tide Week")
    file = write_sound(tmp_path / "a.wav", "pcm_s16le", clicks(3, TONES))
    clip = added(app, file, project)
    doc = document(clip["id"], start=0.5, speed=100.0) | {"length": 70}
    (surf,) = doc["layers"]
    surf |= {"span": {"start": 6, "length": 60}, "content": surf["content"] | {"kind": "sound"}}
    flash = layer(
        "Flash",
        position=[80, 45],
        opacity={"rest": 0, "formula": f'step(0.05, scene["{surf["name"]}"].loudness) * 100'},
    )
    doc["layers"].append(flash)
    scene = app.post(f"/api/projects/{project}/documents", json=doc).json()["scene"]["id"]
    head = store.head(scene)
    painted = frames_of(head.scene, store.assets(project), store.media_files(project), range(70))
    exported = [bool(painter.pixels()[..., 3].any()) for painter in painted]
    answer = app.post(
        f"/api/scenes/{scene}/formula",
        json={"layer": "flash", "property": "opacity", "text": flash["opacity"]["formula"], "frame": 0},
    ).json()
    assert answer["problem"] is None
    live = [row[0] > 0 for row in answer["plot"]]
    assert exported[: len(live)] == live
    for tone in (tone for tone in TONES if 0.5 <= tone < 2.5):
        frame = int((tone - 0.5) * 30 + 6)
        assert exported[frame] or exported[frame + 1]
    assert sum(exported) < 20
    folder = tmp_path / "folder"
    folder.mkdir()
    (folder / f"{clip['id']}.wav").write_bytes(file.read_bytes())
    assets, _ = media_in_folder(head.scene, folder, "scene.json")
    found = resolve(head.scene, range(70), assets).layers["flash"].values["opacity"][:, 0] > 0
    assert found.tolist() == exported
