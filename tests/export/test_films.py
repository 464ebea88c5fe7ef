"""Films as another decoder reads them: colours, alpha, times, and chunks that are laid together."""

from __future__ import annotations

import io
import zipfile
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import numpy as np
import OpenEXR
import pytest
from PIL import Image

from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.ground.errors import Refused
from mudskipper.export.choices import PLAIN, Choices
from mudskipper.export.order import make_order
from mudskipper.export.writers import FORMATS, Film
from mudskipper.export.writers.pixels import PixelFormat, encode_chunk
from mudskipper.media.files import MediaFiles
from tests.conftest import layer, scene

# Kr and Kb of ITU-R BT.709.
KR, KB = 0.2126, 0.0722
RED_GREEN_BLUE = [[230, 40, 30], [20, 200, 60], [30, 60, 220]]
PATCHES = np.array([*RED_GREEN_BLUE, [128] * 3, [255] * 3, [0] * 3, [240, 180, 60], [14, 63, 69]], dtype=np.uint8)
SIZE = (128, 64)


def pixels(kind: str) -> PixelFormat:
    """A format that takes pixels."""
    found = FORMATS[kind]
    assert isinstance(found, PixelFormat)
    return found


def picture(turn: int = 0, alpha: Any = 255) -> np.ndarray:
    """Eight patches, (64, 128, 4), the first of them by `turn` farther on."""
    out = np.full((SIZE[1], SIZE[0], 4), alpha, dtype=np.uint8)
    for place in range(8):
        x, y = place % 4 * 32, place // 4 * 32
        out[y : y + 32, x : x + 32, :3] = PATCHES[(place + turn) % 8]
    return out


def middles(plane: np.ndarray) -> np.ndarray:
    """The middle of each patch, averaged: (8, channels)."""
    return np.array([
        plane[p // 4 * 32 + 8 : p // 4 * 32 + 24, p % 4 * 32 + 8 : p % 4 * 32 + 24].mean(axis=(0, 1)) for p in range(8)
    ])  # fmt: skip


def plane_of(frame: av.VideoFrame, number: int) -> np.ndarray:
    """A plane of a frame (h, w) in 256ths of its range, whatever its bits, as large as the frame."""
    plane, deep = frame.planes[number], frame.format.components[0].bits
    kind: Any = np.uint8 if deep == 8 else np.uint16
    wide = plane.line_size // np.dtype(kind).itemsize
    found = np.frombuffer(bytes(plane), kind).reshape(plane.height, wide)[:, : plane.width] / 2 ** (deep - 8)
    return np.kron(found, np.ones((frame.height // plane.height, frame.width // plane.width)))


def of_planes(frame: av.VideoFrame) -> np.ndarray:
    """A frame's R'G'B' computed from its own planes by BT.709, limited range: (h, w, 3), not clipped."""
    luma = (plane_of(frame, 0) - 16) / 219
    cb, cr = ((plane_of(frame, number) - 128) / 224 for number in (1, 2))
    red, blue = luma + 2 * (1 - KR) * cr, luma + 2 * (1 - KB) * cb
    green = (luma - KR * red - KB * blue) / (1 - KR - KB)
    return np.stack([red, green, blue], axis=-1) * 255


def read(path: Path) -> tuple[list[av.VideoFrame], Any]:
    """A film's frames and its stream; transparency needs the codec's own decoder."""
    with av.open(str(path)) as film:
        stream = film.streams.video[0]
        if stream.codec_context.name == "vp9" or stream.codec.name == "vp9":
            decoder = av.CodecContext.create("libvpx-vp9", "r")
            decoder.extradata = stream.codec_context.extradata
            frames = [frame for packet in film.demux(stream) for frame in decoder.decode(packet)]
        else:
            frames = list(film.decode(video=0))
    return frames, stream


@pytest.mark.parametrize(
    ("kind", "rate"),
    [(kind, (25, 1)) for kind in ("webm", "webm-av1", "mp4", "mp4-h265", "mp4-av1", "prores", "prores-4444")]
    + [(kind, (30000, 1001)) for kind in ("webm", "mp4", "mp4-h265")],
)
def test_chunks_lie_one_after_another_with_true_colours_and_times(
    tmp_path: Path, kind: str, rate: tuple[int, int]
) -> None:
    """Three chunks of 5, 1 and 4 frames: ten frames at n / rate, each with its patches within 6 of 255 by BT.709."""
    lengths, turn, chunks = [5, 1, 4], 0, []
    for number, length in enumerate(lengths):
        chunks.append(tmp_path / f"chunk{number}")
        frames = [picture(turn + n) for n in range(length)]
        pixels(kind).encode(chunks[-1], frames, Film(SIZE, rate))
        turn += length
    film = tmp_path / f"film{FORMATS[kind].suffix}"
    pixels(kind).join(chunks, lengths, film, Film(SIZE, rate))
    frames, stream = read(film)
    assert len(frames) == 10
    tick = Fraction(rate[1], rate[0])
    times = [Fraction(frame.pts) * (frame.time_base or stream.time_base) for frame in frames]
    slack = Fraction(1, 1000) if film.suffix == ".webm" else 0  # a WebM file counts milliseconds
    assert all(abs(time - times[0] - n * tick) <= slack for n, time in enumerate(times))
    assert stream.average_rate == pytest.approx(Fraction(*rate), rel=0.02)
    context = stream.codec_context
    assert (context.color_primaries, context.colorspace, context.color_range) == (1, 1, 1)
    for n, frame in enumerate(frames):
        gap = np.abs(middles(of_planes(frame)) - PATCHES[(np.arange(8) + n) % 8])
        assert gap.max() <= 6, (n, gap)


def test_a_film_can_be_seen_through(tmp_path: Path) -> None:
    """WebM with alpha: each patch has its own, within 4 of 255; without, there is none to be found."""
    steps = np.array([0, 36, 73, 109, 146, 182, 219, 255])
    alpha = np.kron(steps.reshape(2, 4), np.ones((32, 32))).astype(np.uint8)
    through = picture()
    through[..., 3] = alpha
    film = Film(SIZE, (25, 1), alpha=True)
    pixels("webm").encode(tmp_path / "chunk", [through] * 3, film)
    pixels("webm").join([tmp_path / "chunk"], [3], tmp_path / "film.webm", film)
    frames, _ = read(tmp_path / "film.webm")
    # Matroska's AlphaMode, 0x53C0, is what browsers go by.
    assert b"\x53\xc0\x81\x01" in (tmp_path / "film.webm").read_bytes()
    assert [frame.format.name for frame in frames] == ["yuva420p"] * 3
    assert np.abs(middles(plane_of(frames[1], 3)[..., None])[:, 0] - steps).max() <= 4


THROUGH = Choices(premultiplied=True)
OVER_BLUE = Choices(behind="#0000ff")


@pytest.mark.parametrize(
    ("kind", "choices", "colour"),
    [
        ("mp4", PLAIN, [102, 0, 0]), ("webm", PLAIN, [255, 0, 0]), ("webm", THROUGH, [102, 0, 0]),
        ("webm", OVER_BLUE, [102, 0, 153]), ("mp4-av1", OVER_BLUE, [102, 0, 153]), ("prores", PLAIN, [102, 0, 0]),
        ("prores-4444", PLAIN, [255, 0, 0]), ("prores-4444", THROUGH, [102, 0, 0]),
    ],
)  # fmt: skip
def test_what_is_seen_through_keeps_its_colour(tmp_path: Path, kind: str, choices: Choices, colour: list[int]) -> None:
    """A red at 40 % on nothing: over black or what lies behind where a film holds no alpha, straight where it does
    unless it was chosen that it is premultiplied."""
    item = {"shape": "rectangle", "size": [128, 64], "fill": "#ff0000"}
    plate = layer("Plate", content={"kind": "shape", "items": [item]}, position=[64, 32], opacity=40)
    order = make_order(scene(plate, width=128, height=64, length=3), NO_MEDIA, MediaFiles(), kind, 0, 3, choices)
    encode_chunk(pixels(kind), order, MediaFiles(), 0, 3, str(tmp_path / "chunk"))
    film = tmp_path / f"film{FORMATS[kind].suffix}"
    pixels(kind).join([tmp_path / "chunk"], [3], film, order.film)
    (frame, *_), _ = read(film)
    assert np.abs(middles(of_planes(frame)) - colour).max() <= 4
    through = len(frame.format.components) == 4
    assert through == (kind in ("webm", "prores-4444") and choices.behind is None)
    if through:
        deep = frame.format.components[3].bits - 8
        assert np.abs(middles(plane_of(frame, 3)[..., None]) - 102).max() <= 4, deep


def test_a_chunk_is_whole_or_not_there(tmp_path: Path) -> None:
    """A painter that fails in the middle leaves no chunk under its name."""

    def failing() -> Any:
        yield picture()
        raise RuntimeError("the painter fell over")

    with pytest.raises(RuntimeError, match="fell over"):
        pixels("mp4").encode(tmp_path / "chunk", failing(), Film(SIZE, (25, 1)))
    assert list(tmp_path.iterdir()) == []


@pytest.mark.parametrize(
    ("size", "mend"), [((641, 360), "642 × 360"), ((640, 361), "640 × 362"), ((641, 361), "642 × 362")]
)
def test_an_odd_size_is_refused_with_an_even_one(size: tuple[int, int], mend: str) -> None:
    with pytest.raises(Refused) as told:
        FORMATS["mp4"].check(Film(size, (25, 1)))
    assert mend in told.value.mend
    FORMATS["webm"].check(Film(size, (25, 1)))
    FORMATS["mp4"].check(Film((size[0] + size[0] % 2, size[1] + size[1] % 2), (25, 1)))


SEQUENCES = {
    "sequence": "png", "sequence-jpeg": "jpg", "sequence-webp": "webp", "sequence-tiff": "tif", "sequence-exr": "exr",
}  # fmt: skip


def another_reader(data: bytes, kind: str) -> Any:
    """A picture (h, w, 4) as a reader shows it that did not write it: EXR and TIFF by FFmpeg, all else by Pillow."""
    if kind not in ("exr", "tif"):
        return Image.open(io.BytesIO(data)).convert("RGBA")
    codec = av.CodecContext.create("exr" if kind == "exr" else "tiff", "r")
    (frame,) = [*codec.decode(av.Packet(data)), *codec.decode(None)]
    if kind == "tif":
        return frame.to_ndarray(format="rgba")
    light = np.stack([
        np.frombuffer(bytes(plane), np.float16).reshape(frame.height, -1)[:, : frame.width] for plane in frame.planes
    ], axis=-1).astype(float)  # fmt: skip
    green_blue_red = np.where(light <= 0.0031308, light * 12.92, 1.055 * np.maximum(light, 1e-9) ** (1 / 2.4) - 0.055)
    alpha = light[..., 3] if light.shape[2] == 4 else np.ones(light.shape[:2])
    return np.rint(np.stack([*(green_blue_red[..., n] for n in (2, 0, 1)), alpha], axis=-1) * 255)


@pytest.mark.parametrize("through", [False, True])
@pytest.mark.parametrize("kind", ["gif", "webp", "apng", *SEQUENCES])
def test_moving_pictures_as_another_reader_sees_them(tmp_path: Path, kind: str, through: bool) -> None:
    """Two chunks: every frame with its patches, where it is in time, and seen through where it is to be; it loops."""
    rate, lengths, chunks = (30, 1), [4, 3], []
    # Plays three times: a GIF says how often it is shown again, the others how often it is shown.
    film = Film(SIZE, rate, alpha=through, first=12, choices=Choices(plays=3 if through else 0))
    plays_told = {"gif": 2, "webp": 3, "apng": 3} if through else {"gif": 0, "webp": 0, "apng": 0}
    through = through and kind != "sequence-jpeg"
    wanted = [picture(n) for n in range(7)]
    for one in wanted:
        one[:32, :32, 3] = 0 if through else 255
    for number, length in enumerate(lengths):
        chunks.append(tmp_path / f"chunk{number}")
        pixels(kind).encode(chunks[-1], wanted[4 * number : 4 * number + length], film)
        assert pixels(kind).is_whole(chunks[-1])
    out = tmp_path / f"out{FORMATS[kind].suffix}"
    pixels(kind).join(chunks, lengths, out, film)
    if kind in SEQUENCES:
        with zipfile.ZipFile(out) as files:
            assert files.namelist() == [f"{number:06d}.{SEQUENCES[kind]}" for number in range(12, 19)]
            frames = [another_reader(files.read(name), SEQUENCES[kind]) for name in files.namelist()]
    else:
        with Image.open(out) as moving:
            assert moving.n_frames == 7
            assert moving.info.get("loop", 1) == plays_told[kind]
            frames, times = [], [0.0]
            for number in range(7):
                moving.seek(number)
                frames.append(moving.convert("RGBA"))
                times.append(times[-1] + moving.info["duration"])
        step = {"gif": 10, "webp": 1, "apng": 0.5}[kind]
        assert np.abs(np.array(times[:7]) - np.arange(7) * 1000 / 30).max() <= step
    slack = {"gif": 12, "webp": 12, "sequence-webp": 12, "sequence-jpeg": 12}.get(kind, 0)
    for got, real in zip(frames, wanted, strict=True):
        there = real[..., 3] > 0
        shown = np.asarray(got).astype(int)
        assert ((shown[..., 3] > 0) == there).all()
        gap = np.abs(middles(shown[..., :3].astype(float)) - middles(real[..., :3].astype(float)))
        assert gap[1 if through else 0 :].max() <= slack


@pytest.mark.parametrize(
    ("kind", "choices", "wanted"),
    [
        ("sequence-tiff", PLAIN, [255, 0, 0, 102]), ("sequence-tiff", THROUGH, [102, 0, 0, 102]),
        ("sequence-exr", PLAIN, [1.0, 0, 0, 0.4]), ("sequence-exr", THROUGH, [0.4, 0, 0, 0.4]),
    ],
)  # fmt: skip
def test_frames_for_compositing_hold_what_was_chosen(
    tmp_path: Path, kind: str, choices: Choices, wanted: list[float]
) -> None:
    """A red at 40 %: TIFF in bytes, EXR in light, straight or times its alpha; the preview shows the same of both."""
    film = Film((64, 32), (25, 1), alpha=True, choices=choices)
    red = np.full((32, 64, 4), [255, 0, 0, 102], np.uint8)
    painted = np.full_like(red, [102, 0, 0, 102]) if choices.premultiplied else red
    pixels(kind).encode(tmp_path / "chunk", iter([painted]), film)
    pixels(kind).join([tmp_path / "chunk"], [1], tmp_path / "out.zip", film)
    with zipfile.ZipFile(tmp_path / "out.zip") as files:
        data = files.read(files.namelist()[0])
    if kind == "sequence-exr":
        (tmp_path / "a.exr").write_bytes(data)
        got = next(iter(OpenEXR.File(str(tmp_path / "a.exr")).channels().values())).pixels
    else:
        # As it stands in the file: readers make it straight by its tag 338, extra samples.
        with Image.open(io.BytesIO(data)) as image:
            assert image.tag_v2[338] == ((1,) if choices.premultiplied else (2,))  # type: ignore[attr-defined]
        codec = av.CodecContext.create("tiff", "r")
        (frame,) = [*codec.decode(av.Packet(data)), *codec.decode(None)]
        got = frame.to_ndarray(format="rgba")
    assert np.abs(np.asarray(got, dtype=float) - wanted).max() <= 1e-3
    (shown,) = pixels(kind).look(tmp_path / "out.zip", film)
    assert np.abs(shown.astype(int) - red).max() <= 1


def test_a_gif_is_refused_where_viewers_would_slow_it_down() -> None:
    FORMATS["gif"].check(Film(SIZE, (50, 1)))
    with pytest.raises(Refused, match="at most 50 frames a second, and these would be 60"):
        FORMATS["gif"].check(Film(SIZE, (60, 1)))
