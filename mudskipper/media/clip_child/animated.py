"""Animated pictures (GIF, PNG, WebP) as a film without loss whose every frame can be reached by itself."""

from __future__ import annotations

from fractions import Fraction
from typing import Any

import av
import numpy as np
from PIL import Image, ImageSequence

ANIMATED = ("GIF", "PNG", "WEBP")
MOST_PIXELS = 6_000_000_000
"""Pixels of all frames together."""
UNSAID = 100
"""Milliseconds that a frame is shown which gives no time, as browsers show it."""


def animated(path: str) -> Image.Image | None:
    """An animated picture, opened; None where the file is none."""
    Image.MAX_IMAGE_PIXELS = None
    try:
        image = Image.open(path, formats=ANIMATED)
    except Exception:
        return None
    return image if image.format == "GIF" or getattr(image, "n_frames", 1) > 1 else None


def as_film(image: Image.Image, out: str) -> dict[str, Any]:
    """Write its frames as a film (FFV1 in Matroska, a millisecond a tick); and how many there are, and how long."""
    lasts: list[int] = []
    with av.open(out, "w", format="matroska") as container:
        stream = container.add_stream("ffv1", rate=1000)
        stream.width, stream.height, stream.pix_fmt = image.width, image.height, "bgra"
        stream.time_base = stream.codec_context.time_base = Fraction(1, 1000)
        stream.gop_size = 1
        for part in ImageSequence.Iterator(image):
            # Reading a frame makes its time known.
            pixels = np.asarray(part.convert("RGBA"))
            frame = av.VideoFrame.from_ndarray(pixels, format="rgba").reformat(format="bgra")
            frame.pts, frame.time_base = sum(lasts), Fraction(1, 1000)
            lasts.append(round(part.info.get("duration") or UNSAID))
            container.mux(stream.encode(frame))
        container.mux(stream.encode(None))
    same = len(set(lasts)) == 1
    rate = Fraction(1000, lasts[0])
    return {
        "count": len(lasts), "length": sum(lasts) / 1000,
        "rate": [rate.numerator, rate.denominator] if same else None,
    }  # fmt: skip
