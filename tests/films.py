"""Films whose every frame carries its number as a bar code, and pictures read back."""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import numpy as np

SIZE = (160, 90)
BARS = 12


def bars(number: int, alpha: bool = False) -> np.ndarray:
    """A picture (90, 160, 3 or 4) with a number in twelve bars; with alpha its top rows are empty."""
    picture = np.zeros((SIZE[1], SIZE[0], 4 if alpha else 3), np.uint8)
    for bar in range(BARS):
        picture[20:, 4 + bar * 13 : 14 + bar * 13, :3] = 235 if number >> bar & 1 else 20
    if alpha:
        picture[..., 3] = 255
        picture[:10, :, 3] = 0
    return picture


def number_in(picture: np.ndarray) -> int:
    """The number that a picture of bars carries."""
    high, wide = picture.shape[:2]
    line = picture[high * 2 // 3, :, 0]
    return sum(int(line[round((9 + bar * 13) * wide / SIZE[0])] > 128) << bar for bar in range(BARS))


def write_film(
    path: Path,
    count: int,
    rate: tuple[int, int] = (25, 1),
    codec: str = "libx264",
    form: str = "yuv420p",
    stamps: list[int] | None = None,
    gop: int = 12,
    **options: str,
) -> Path:
    """A film of bars; `stamps` are milliseconds at which its frames are shown, else they follow its rate."""
    alpha = "a" in form.replace("gray", "")
    with av.open(str(path), "w") as container:
        stream: Any = container.add_stream(codec, rate=Fraction(*rate))
        stream.width, stream.height, stream.pix_fmt = *SIZE, form
        stream.gop_size, stream.options = gop, options
        if stamps is not None:
            stream.time_base = stream.codec_context.time_base = Fraction(1, 1000)
        for number in range(count):
            frame = av.VideoFrame.from_ndarray(bars(number, alpha), format="rgba" if alpha else "rgb24")
            frame = frame.reformat(format=form)
            if stamps is not None:
                frame.pts, frame.time_base = stamps[number], Fraction(1, 1000)
            container.mux(stream.encode(frame))
        container.mux(stream.encode(None))
    return path


def clicks(seconds: float, at: list[float], rate: int = 48_000) -> np.ndarray:
    """A sound (2, n), silent but for short tones of full height that begin at given seconds; the left one is louder."""
    sound = np.zeros((2, round(seconds * rate)), np.float32)
    tone = np.sin(np.arange(480) * 2 * np.pi * 1000 / rate) * np.hanning(480)
    for moment in at:
        begin = round(moment * rate)
        sound[0, begin : begin + 480] = tone[: sound.shape[1] - begin]
        sound[1, begin : begin + 480] = tone[: sound.shape[1] - begin] / 2
    return sound


def first_sounds(samples: np.ndarray, rate: int = 48_000) -> list[float]:
    """When tones of `clicks` stand at their middle, in seconds: the loudest places of a sound (n, 2)."""
    found: list[float] = []
    loud = np.abs(samples[:, 0])
    while len(loud) and loud.max() > 0.25:
        peak = int(loud.argmax())
        found.append((peak - 240) / rate)
        loud[max(peak - 2400, 0) : peak + 2400] = 0
    return sorted(found)


def write_sound(path: Path, codec: str, sound: np.ndarray, rate: int = 48_000, late: float = 0.0) -> Path:
    """A sound file, or with pictures of bars at 25 a second before it, `late` seconds ahead of the sound."""
    with av.open(str(path), "w") as container:
        if path.suffix in (".mp4", ".mkv", ".webm"):
            stream: Any = container.add_stream("libvpx-vp9" if path.suffix == ".webm" else "libx264", rate=25)
            stream.width, stream.height, stream.pix_fmt = *SIZE, "yuv420p"
        voice: Any = container.add_stream(codec, rate=rate)
        voice.layout = "stereo"
        if path.suffix in (".mp4", ".mkv", ".webm"):
            for number in range(round(sound.shape[1] / rate * 25)):
                container.mux(stream.encode(av.VideoFrame.from_ndarray(bars(number), format="rgb24")))
            container.mux(stream.encode(None))
        for begin in range(0, sound.shape[1], 4800):
            block = np.ascontiguousarray(sound[:, begin : begin + 4800])
            frame = av.AudioFrame.from_ndarray(block, format="fltp", layout="stereo")
            frame.sample_rate = rate
            frame.pts, frame.time_base = begin + round(late * rate), Fraction(1, rate)
            container.mux(voice.encode(frame))
        container.mux(voice.encode(None))
    return path
