"""An animated WebP."""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path

import av
import numpy as np

from ..film import Film
from .animated import AnimatedFormat, Frames, encode


class AnimatedWebP(AnimatedFormat):
    """An animated WebP, transparent or not."""

    kind = "webp"
    label = "Animated WebP"
    suffix = ".webp"
    media_type = "image/webp"

    takes = (*AnimatedFormat.takes, "quality")

    def note(self, transparent: bool) -> str:
        return "A moving picture for the web, smaller than GIF, in all colours."

    def finish(self, path: Path, frames: Frames, film: Film) -> None:
        given = (
            av.VideoFrame.from_ndarray(np.ascontiguousarray(pixels[..., [2, 1, 0, 3]]), format="bgra")
            for pixels in frames()
        )
        quality = round(min(film.choices.quality * 1.125, 100))
        options = {"quality": str(quality), "compression_level": "4", "lossless": str(int(film.choices.quality == 100))}
        encode(
            path,
            given,
            film,
            "libwebp_anim",
            "webp",
            "bgra",
            Fraction(1, 1000),
            options,
            {"loop": str(film.choices.plays)},
        )
