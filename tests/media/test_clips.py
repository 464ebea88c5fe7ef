"""Films from outside: every frame by its number, in any order; size, turn, colours, alpha; what is none, in words."""

from __future__ import annotations

import io
import json
import os
import random
import struct
import subprocess
import sys
import zipfile
from collections.abc import Iterator
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import numpy as np
import pytest
from PIL import Image

from mudskipper.core.ground.errors import Refused
from mudskipper.media.clips import ClipFile, ClipFrames, Decoder, probe_clip
from mudskipper.media.folder import clip_at
from tests.films import SIZE, bars, number_in, write_film

UNEVEN = [0, *np.cumsum([20 + i * 37 % 60 for i in range(39)]).tolist()]
FILMS: dict[str, dict[str, Any]] = {
    "a.mp4": {"count": 70, "rate": (30, 1), "gop": 25},
    "b.mkv": {"count": 50, "rate": (24000, 1001), "gop": 30},
    "c.webm": {"count": 40, "codec": "libvpx-vp9", "gop": 9, "cpu-used": "8"},
    "d.webm": {"count": 30, "codec": "libvpx-vp9", "form": "yuva420p", "cpu-used": "8"},
    "e.mov": {"count": 20, "rate": (30000, 1001), "codec": "prores_ks", "form": "yuva444p10le"},
    "f.mkv": {"count": 40, "stamps": UNEVEN},
}
ANIMATED = {"g.gif": {"duration": [40 + i % 3 * 10 for i in range(20)]}, "h.png": {"duration": 40},
            "i.webp": {"duration": 40, "lossless": True}}  # fmt: skip


@pytest.fixture(scope="module")
def frames() -> Iterator[ClipFrames]:
    made = ClipFrames()
    yield made
    made.close()


def pixels(frames: ClipFrames, clip: ClipFile, index: int) -> np.ndarray:
    info = clip.info("x")
    return np.frombuffer(frames.exact(clip, index), np.uint8).reshape(info.height, info.width, 4)


@pytest.mark.parametrize("name", [*FILMS, *ANIMATED])
def test_every_frame_is_found_by_its_number(name: str, tmp_path: Path, frames: ClipFrames) -> None:
    """Forward, backward and in any order; with the times at which it was written, and its alpha."""
    path = tmp_path / name
    if name in FILMS:
        write_film(path, **FILMS[name])
        count, alpha = FILMS[name]["count"], "a" in FILMS[name].get("form", "")
    else:
        count, alpha = 20, False
        first, *rest = [Image.fromarray(bars(n)) for n in range(count)]
        first.save(path, save_all=True, append_images=rest, **ANIMATED[name])
    clip = clip_at(path)
    info = clip.info("x")
    assert (info.width, info.height, len(info.times)) == (*SIZE, count)
    order = [*range(count), *random.Random(1).sample(range(count), 15), *reversed(range(count - 9, count))]
    assert [number_in(pixels(frames, clip, at)) for at in order] == order
    empty = pixels(frames, clip, 3)[:8, :, 3]
    assert (empty < 8).all() if alpha else (empty == 255).all()
    rate = FILMS.get(name, {}).get("rate", (25, 1))
    times = [at * rate[1] / rate[0] for at in range(count)]
    if name == "f.mkv":
        times = [at / 1000 for at in UNEVEN]
    if name == "g.gif":
        times = [0, *np.cumsum(ANIMATED[name]["duration"])[:-1] / 1000]
    assert info.times == pytest.approx(times, abs=1e-9)
    small = list(frames.small(clip, [3, 1], 40))
    assert [Image.open(io.BytesIO(block)).size for block in small] == [SIZE, SIZE]


@pytest.mark.parametrize(("space", "wide"), [(1, False), (1, True), (5, False), (5, True)])
def test_colours_are_those_that_were_meant(space: int, wide: bool, tmp_path: Path, frames: ClipFrames) -> None:
    """By BT.709 and BT.601, of limited and of full range: one colour written by the closed form, read back."""
    kr, kb = (0.2126, 0.0722) if space == 1 else (0.299, 0.114)
    meant = np.array([200, 90, 30]) / 255
    luma = kr * meant[0] + (1 - kr - kb) * meant[1] + kb * meant[2]
    chroma = (meant[2] - luma) / (2 - 2 * kb), (meant[0] - luma) / (2 - 2 * kr)
    scale, floor, spread = (255, 0, 255) if wide else (219, 16, 224)
    values = [round(floor + scale * luma), *(round(128 + spread * part) for part in chroma)]
    path = tmp_path / "colour.mkv"
    with av.open(str(path), "w") as container:
        stream: Any = container.add_stream("ffv1", rate=25)
        stream.width, stream.height, stream.pix_fmt = *SIZE, "yuv444p"
        stream.codec_context.color_range = 2 if wide else 1
        stream.codec_context.colorspace = space
        frame = av.VideoFrame.from_ndarray(
            np.stack([np.full(SIZE[::-1], value, np.uint8) for value in values]), format="yuv444p"
        )
        frame.colorspace, frame.color_range = space, 2 if wide else 1
        container.mux(stream.encode(frame))
        container.mux(stream.encode(None))
    found = pixels(frames, clip_at(path), 0)
    assert np.abs(found[45, 80, :3] - meant * 255).max() <= 2


def test_turned_and_stretched_films_stand_upright(tmp_path: Path, frames: ClipFrames) -> None:
    """A film that says it is turned by 90° is turned, and pixels that are not square are made so."""
    path = write_film(tmp_path / "t.mp4", 3)
    data = bytearray(path.read_bytes())
    at = data.index(b"tkhd") + 4 + 40
    data[at : at + 36] = struct.pack(">9i", 0, 65536, 0, -65536, 0, 0, 0, 0, 1 << 30)
    path.write_bytes(data)
    turned = clip_at(path)
    assert (turned.info("x").width, turned.info("x").height) == SIZE[::-1]
    assert number_in(np.rot90(pixels(frames, turned, 2))) == 2
    wide = tmp_path / "wide.mp4"
    with av.open(str(wide), "w") as container:
        stream: Any = container.add_stream("libx264", rate=25)
        stream.width, stream.height, stream.pix_fmt = *SIZE, "yuv420p"
        stream.codec_context.sample_aspect_ratio = Fraction(4, 3)
        container.mux(stream.encode(av.VideoFrame.from_ndarray(bars(5), format="rgb24")))
        container.mux(stream.encode(None))
    stretched = clip_at(wide)
    assert stretched.info("x").width == round(160 * 4 / 3)
    assert number_in(pixels(frames, stretched, 0)) == 5


def spoilt(kind: str, folder: Path) -> Path:
    """A file that cannot be taken in, or only in part."""
    path = folder / {"short.mkv": "short.mkv", "cut": "cut.mp4", "sound": "sound.mp4"}.get(kind, "x.mp4")
    if kind == "cut":
        whole = write_film(folder / "a.mp4", 50).read_bytes()
        path.write_bytes(whole[: len(whole) // 3])
    elif kind == "short.mkv":
        whole = write_film(folder / "a.mkv", 200, gop=10).read_bytes()
        path.write_bytes(whole[: len(whole) // 2])
    elif kind == "sound":
        with av.open(str(path), "w") as container:
            stream: Any = container.add_stream("aac", rate=48000)
            frame = av.AudioFrame.from_ndarray(np.zeros((1, 1024), np.float32), format="fltp", layout="mono")
            frame.rate = 48000
            container.mux(stream.encode(frame))
            container.mux(stream.encode(None))
    else:
        path.write_bytes({"empty": b"", "text": b"Low tide\n" * 90, "noise": os.urandom(5000)}[kind])
    return path


@pytest.mark.parametrize(
    ("kind", "why"),
    [
        ("empty", "The file is empty"), ("text", "this is a text by its content"), ("noise", "this is none of them"),
        ("cut", "its end is missing"),
    ],
)  # fmt: skip
def test_what_is_no_film_is_refused_in_words(kind: str, why: str, tmp_path: Path) -> None:
    with pytest.raises(Refused, match=why):
        probe_clip(spoilt(kind, tmp_path), tmp_path / "s.npy", "film.mp4")


def test_of_a_film_that_is_cut_off_what_is_there_is_taken(tmp_path: Path, frames: ClipFrames) -> None:
    path = spoilt("short.mkv", tmp_path)
    facts = probe_clip(path, tmp_path / "s.npy", "short.mkv")
    clip = ClipFile("short", str(path), str(tmp_path / "s.npy"), json.dumps(facts))
    count = len(clip.info("x").times)
    assert 20 < count < 180
    assert "cut off" in facts["note"]
    assert [number_in(pixels(frames, clip, at)) for at in (0, count // 2, count - 3)] == [0, count // 2, count - 3]


def zipped(path: Path, pictures: dict[str, bytes]) -> Path:
    with zipfile.ZipFile(path, "w") as pack:
        for name, data in pictures.items():
            pack.writestr(name, data)
    return path


def png(number: int, size: tuple[int, int] = SIZE) -> bytes:
    out = io.BytesIO()
    Image.fromarray(bars(number, alpha=True)).resize(size, Image.Resampling.NEAREST).save(out, "PNG")
    return out.getvalue()


def test_numbered_pictures_are_one_clip(tmp_path: Path, frames: ClipFrames) -> None:
    """In the order of their numbers, also without zeros before them, at the rate that is given, with their alpha."""
    names = {f"flag_{number}.png": png(number) for number in random.Random(2).sample(range(8, 24), 16)}
    path = zipped(tmp_path / "flag.zip", names | {"__MACOSX/._flag_8.png": b"?"})
    stamps = tmp_path / "s.npy"
    facts = probe_clip(path, stamps, "flag.zip", "30000/1001")
    clip = ClipFile("flag", f"{stamps}.mkv", str(stamps), json.dumps(facts))
    assert (facts["count"], facts["rate"]) == (16, [30000, 1001])
    assert [number_in(pixels(frames, clip, at)) for at in range(16)] == [*range(8, 24)]
    assert (pixels(frames, clip, 3)[:8, :, 3] == 0).all()


@pytest.mark.parametrize(
    ("pictures", "why"),
    [
        ({}, "holds no pictures"),
        ({"a1.png": b"Low tide"}, "a1.png is no PNG"),
        ({"a1.png": png(1), "a2.png": png(2, (80, 45))}, "a2.png 80 × 45"),
    ],
)
def test_a_pack_that_is_none_is_refused_in_words(pictures: dict[str, bytes], why: str, tmp_path: Path) -> None:
    with pytest.raises(Refused, match=why):
        probe_clip(zipped(tmp_path / "a.zip", pictures), tmp_path / "s.npy", "a.zip")


def test_a_film_that_goes_away_or_hangs_is_said_and_the_next_one_goes_on(
    tmp_path: Path, frames: ClipFrames, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A child that is killed is started again, twice; a missing file is said; one that does not answer is ended."""
    clip = clip_at(write_film(tmp_path / "a.mp4", 30))
    assert number_in(pixels(frames, clip, 4)) == 4
    child = frames._decoder(clip)._child
    assert child
    for wanted in ([5, 6], [7], [20, 3]):
        assert len(list(frames.small(clip, wanted, 160))) == len(wanted)
    assert frames._decoder(clip)._child is child, "an answer that is taken leaves the decoder as it is"
    child.kill()
    child.wait()
    assert number_in(pixels(frames, clip, 9)) == 9
    started: list[int] = []

    def ends_at_once(_: Decoder) -> subprocess.Popen[bytes]:
        started.append(1)
        return subprocess.Popen(["true"], stdin=subprocess.PIPE, stdout=subprocess.PIPE, bufsize=0)

    with monkeypatch.context() as patch:
        patch.setattr(Decoder, "_start", ends_at_once)
        frames._decoder(clip).end()
        with pytest.raises(Refused, match="could not be decoded"):
            pixels(frames, clip, 8)
    assert len(started) == 3
    # Others that come to be read end no child that is read from.
    coming = frames._decoder(clip).frames([1, 2, 3], 160)
    assert next(coming)
    for number in range(4):
        other = ClipFile(f"other {number}", clip.path, clip.stamps, clip.facts)
        assert len(frames.small(other, [1], 160)) == 1
    assert len(list(coming)) == 2
    gone = ClipFile("gone", str(tmp_path / "no.mp4"), clip.stamps, clip.facts)
    with pytest.raises(Refused, match="is missing"):
        frames.exact(gone, 0)
    monkeypatch.setattr("mudskipper.media.clips.ANSWERING", 0)
    with pytest.raises(Refused, match="could not be decoded"):
        pixels(frames, clip, 20)
    monkeypatch.undo()
    assert number_in(pixels(frames, clip, 20)) == 20


@pytest.mark.thorough
def test_a_large_animated_picture_comes_in_frame_by_frame(tmp_path: Path, frames: ClipFrames) -> None:
    """In another codec than small ones, whose encoder would need too much memory: each frame and each time as it is."""
    size = (2_400, 1_800)
    shades = [(14, 63, 69, 255), (226, 180, 80, 128), (9, 200, 9, 40)]
    parts = [Image.new("RGBA", size, shade) for shade in shades]
    parts[0].save(tmp_path / "a.png", save_all=True, append_images=parts[1:], duration=[100, 250, 40], disposal=1)
    facts = probe_clip(tmp_path / "a.png", tmp_path / "a.npy", "a.png")
    assert (facts["count"], facts["codec"], facts["alpha"]) == (3, "png", True)
    clip = ClipFile("large", str(tmp_path / "a.npy.mkv"), str(tmp_path / "a.npy"), json.dumps(facts))
    assert np.allclose(clip.info("large").times, [0, 0.1, 0.35])
    for number, shade in enumerate(shades):
        found = np.frombuffer(frames.exact(clip, number), np.uint8).reshape(size[1], size[0], 4)
        assert (found[::300, ::300] == np.array(shade)).all()


@pytest.mark.parametrize("first", [(10, 10), (16_000, 15_000)])
def test_pictures_of_a_pack_are_measured_before_they_are_decoded(tmp_path: Path, first: tuple[int, int]) -> None:
    """One of another size, or too large, is refused by its header: it would take a gigabyte to find out later."""
    with zipfile.ZipFile(tmp_path / "a.zip", "w") as pack:
        for number, size in enumerate((first, (16_000, 15_000))):
            out = io.BytesIO()
            Image.new("1", size).save(out, "PNG")
            pack.writestr(f"{number}.png", out.getvalue())
    script = "import sys; from mudskipper.media.clip_child import probe; print(probe.main(*sys.argv[1:])); "
    script += "print(open('/proc/self/status').read().partition('VmHWM:')[2].split()[0])"
    command = [sys.executable, "-c", script, str(tmp_path / "a.zip"), str(tmp_path / "a.npy")]
    told, peak = subprocess.run(command, capture_output=True, text=True, check=True).stdout.splitlines()
    assert "pixels wide and high" in told
    assert int(peak) < 300_000
