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
