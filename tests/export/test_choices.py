"""What is chosen of a file: size, rate, sound alone, a size at most, and a part that is tried beforehand."""

from __future__ import annotations

import io
import struct
import wave
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import numpy as np
import pytest
from PIL import Image

from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.document.scene import Scene
from mudskipper.core.ground.errors import Refused
from mudskipper.export import sample
from mudskipper.export.choices import PLAIN, Choices
from mudskipper.export.frames import film_of, frames_of, sound_of
from mudskipper.export.order import make_order, read_order
from mudskipper.export.render import render_file
from mudskipper.export.sample import sample_of
from mudskipper.export.writers import FORMATS
from mudskipper.export.writers.base import Run
from mudskipper.media.files import MediaFiles
from mudskipper.opened import kind_of, open_scene
from tests.conftest import layer, scene


@pytest.fixture(scope="module")
def threads() -> Iterator[ThreadPoolExecutor]:
    with ThreadPoolExecutor(2) as pool:
        yield pool


def crossing(**fields: Any) -> Scene:
    """A red square of 40 px whose left edge goes from 0 to 240 px in 60 frames, a step of 4 px each."""
    item = {"shape": "rectangle", "size": [40, 40], "fill": "#ff0000"}
    keys = {"rest": [20, 60], "keys": [{"frame": 0, "value": [20, 60]}, {"frame": 60, "value": [260, 60]}]}
    moving = layer("Square", content={"kind": "shape", "items": [item]}, position=keys)
    return scene(**({"width": 320, "height": 120, "background": "#000000ff", "layers": [moving]} | fields))


def grained() -> Scene:
    """A square under moving grain, which no encoder makes small."""
    square = crossing().model_dump(mode="json")["layers"][0]
    return crossing(layers=[square | {"effects": [{"effect": "grain", "amount": 60}]}])


def written(
    of: Scene, kind: str, choices: Choices, folder: Path, pool: ThreadPoolExecutor, first: int = 0, stop: int = 60
) -> tuple[Path, tuple[str, ...]]:
    order = read_order(make_order(of, NO_MEDIA, MediaFiles(), kind, first, stop, choices).to_json())
    out = folder / f"out{FORMATS[kind].suffix}"
    return out, render_file(order, MediaFiles(), out, Run(folder / "work", pool))


def left_edges(path: Path) -> tuple[list[float], list[Fraction], tuple[int, int]]:
    """Where the red begins in each frame, to a part of a pixel; the times of the frames; the size."""
    with av.open(str(path)) as film:
        frames = [(frame.to_ndarray(format="rgb24"), Fraction(frame.pts) * frame.time_base) for frame in film.decode()]
    reds = [pixels[pixels.shape[0] // 2, :, 0].astype(float) / 255 for pixels, _ in frames]
    middles = [float((np.arange(len(red)) + 0.5) @ red / red.sum()) - red.sum() / 2 for red in reds]
    return middles, [time for _, time in frames], (frames[0][0].shape[1], frames[0][0].shape[0])


@pytest.mark.parametrize(
    ("rate", "scale", "first", "stop"),
    [
        ((15, 1), 1.0, 0, 60),
        ((60, 1), 1.0, 7, 20),
        ((24, 1), 0.5, 3, 50),
        ((30000, 1001), 2.0, 0, 31),
        (None, 0.3, 0, 9),
    ],
)
def test_size_and_rate_by_closed_forms(
    tmp_path: Path, threads: ThreadPoolExecutor, rate: tuple[int, int] | None, scale: float, first: int, stop: int
) -> None:
    """Each frame of the file shows the moment that it begins at, frames between those of the scene too."""
    path, lost = written(crossing(), "mp4", Choices(rate=rate, scale=scale), tmp_path, threads, first, stop)
    edges, times, size = left_edges(path)
    step = Fraction(30) / Fraction(*(rate or (30, 1)))
    assert len(edges) == -(-(stop - first) // step)
    assert size == (round(320 * scale) // 2 * 2, round(120 * scale) // 2 * 2)
    assert not lost
    wanted = [float(first + n * step) * 4 * scale for n in range(len(edges))]
    assert edges == pytest.approx(wanted, abs=0.25)
    assert [float(time) for time in times] == pytest.approx([float(n * step / 30) for n in range(len(edges))], abs=1e-3)


def test_twice_as_large_is_painted_so_and_not_enlarged() -> None:
    """An edge at a half pixel of the scene is sharp at twice its size."""
    half = crossing(layers=[layer("Square", position=[100.5, 60])])
    (painter,) = frames_of(half, NO_MEDIA, MediaFiles(), [0], 2.0)
    row = painter.pixels()[120, :, 2].astype(int)
    assert len(np.unique(row)) == 2
    (plain,) = frames_of(half, NO_MEDIA, MediaFiles(), [0])
    assert len(np.unique(plain.pixels()[60, :, 2])) == 3


@pytest.mark.parametrize("kind", ["webm", "mp4", "mp4-h265"])
def test_a_size_at_most_is_kept(tmp_path: Path, threads: ThreadPoolExecutor, kind: str) -> None:
    """Grain that no encoder makes small: as large as asked at most, and not much smaller."""
    path, lost = written(grained(), kind, Choices(most=0.06, sound=False), tmp_path, threads)
    assert 0.02e6 <= path.stat().st_size <= 0.06e6 or lost
    with pytest.raises(Refused, match=r"MB hold no film of 2 s"):
        written(grained(), kind, Choices(most=0.001, sound=False), tmp_path, threads)


def test_quality_makes_files_larger(tmp_path: Path, threads: ThreadPoolExecutor) -> None:
    """For every format that takes a quality."""
    for kind, form in FORMATS.items():
        if "quality" in form.takes:
            sizes = []
            for quality in (5, 100):
                (tmp_path / f"{kind}{quality}").mkdir()
                path, _ = written(
                    grained(), kind, Choices(quality=quality), tmp_path / f"{kind}{quality}", threads, 0, 4
                )
                sizes.append(path.stat().st_size)
            assert sizes[0] < sizes[1], kind


@pytest.mark.parametrize(
    ("kind", "choices", "told"),
    [
        ("mp4", {"premultiplied": True}, "takes no choice 'premultiplied'"),
        ("png", {"rate": (10, 1)}, "takes no choice 'rate'"),
        ("webm", {"scale": 16.0}, "5120 × 1920"),
        ("wav", {}, "Nothing is heard"),
        ("webm-av1", {"scale": 0.1}, "no side of less than 64 px"),
    ],
)
def test_what_cannot_be_is_refused_in_words(kind: str, choices: dict[str, Any], told: str) -> None:
    wide = crossing(width=3200, height=1200) if told.startswith("5120") else crossing()
    told = told.replace("5120 × 1920", "51200 × 19200")
    with pytest.raises(Refused, match=told):
        make_order(wide, NO_MEDIA, MediaFiles(), kind, 0, 10, Choices(**choices))


def test_an_order_of_an_earlier_version_is_read() -> None:
    order = make_order(crossing(), NO_MEDIA, MediaFiles(), "webm", 0, 60)
    assert read_order(order.to_json().replace(', "choices": "{}"', "")) == order
    assert order.film == film_of(crossing(), 0, 60, PLAIN)


@pytest.mark.parametrize("kind", ["wav", "flac"])
def test_sound_alone_is_what_is_heard(tmp_path: Path, threads: ThreadPoolExecutor, kind: str) -> None:
    """48 kHz, 24 bits, sample for sample as it is mixed: WAV by its bytes, FLAC by a decoder."""
    tones = np.sin(np.arange(2 * 48_000)[:, None] * [0.06, 0.0371]) * [0.8, 0.3]
    with wave.open(str(tmp_path / "tones.wav"), "wb") as given:
        given.setparams((2, 2, 48_000, 0, "NONE", ""))
        given.writeframes(np.rint(tones * 32767).astype("<i2").tobytes())
    heard = layer("Tones", content={"kind": "sound", "asset": "tones", "sound": {"level": -3}})
    (tmp_path / "scene.json").write_text(crossing(layers=[heard]).to_json())
    opened = open_scene(tmp_path / "scene.json")
    out = tmp_path / f"sound.{kind}"
    assert opened.render(out, first=30, stop=60) == ()
    sound = sound_of(opened.document, opened.assets, opened.files, 30, 60)
    assert sound is not None
    mixed = np.vstack(list(sound.blocks)).astype(np.float64)
    assert np.abs(mixed).max() > 0.3
    if kind == "wav":
        data = out.read_bytes()
        form, begin = data.index(b"fmt ") + 8, data.index(b"data") + 8
        # Channels, samples a second, bytes a frame and bits of a sample, by the RIFF specification.
        assert struct.unpack("<HI4xHH", data[form + 2 : form + 16]) == (2, 48_000, 6, 24)
        (long,) = struct.unpack("<I", data[begin - 4 : begin])
        raw = np.frombuffer(data[begin : begin + long], np.uint8).reshape(-1, 2, 3).astype(np.int32)
        got = ((raw[..., 0] << 8 | raw[..., 1] << 16 | raw[..., 2] << 24) / 2.0**31).astype(np.float64)
    else:
        with av.open(str(out)) as read_back:
            got = np.hstack([frame.to_ndarray() for frame in read_back.decode(audio=0)]).reshape(-1, 2) / 2.0**31
    assert got.shape == mixed.shape == (48_000, 2)
    assert np.abs(got - np.clip(mixed, -1, 1)).max() <= 2.0**-22


@pytest.mark.parametrize("kind", ["webm", "gif", "sequence-exr", "avif"])
def test_a_part_tells_the_whole(
    tmp_path: Path, threads: ThreadPoolExecutor, monkeypatch: pytest.MonkeyPatch, kind: str
) -> None:
    """However busy the machine is: the guess holds the file's size within a third; the parts that were made serve the
    export; the picture moves."""
    monkeypatch.setattr(sample, "PATIENCE", 1e9)
    order = make_order(crossing(), NO_MEDIA, MediaFiles(), kind, 0, 60)
    work = tmp_path / "work"
    told = sample_of(order, MediaFiles(), work, threads, near=30)
    made = {path.name: path.stat().st_mtime_ns for path in work.iterdir()}
    assert ("chunk-0000024" if kind != "avif" else "chunk-0000000") in made
    with Image.open(io.BytesIO(told.picture)) as moving:
        assert getattr(moving, "n_frames", 1) == told.shown == (24 if kind != "avif" else 1)
        assert moving.size == (320, 120)
        seen = np.asarray(moving.convert("RGB")).astype(int)
    edge = (seen[60, :, 0] > 128).nonzero()[0][0]
    assert abs(edge - (96 if kind != "avif" else 0)) <= 1
    out = tmp_path / "out"
    render_file(order, MediaFiles(), out, Run(work, threads))
    assert told.least * 0.67 <= out.stat().st_size <= told.most * 1.5
    assert told.seconds > 0


def test_the_ending_of_a_name_means_the_usual_format() -> None:
    meant = {
        "png": "png",
        "webp": "webp",
        "webm": "webm",
        "mp4": "mp4",
        "mov": "prores",
        "zip": "sequence",
        "wav": "wav",
    }
    assert {ending: kind_of(Path(f"a.{ending}")) for ending in meant} == meant
