"""An animated PNG: every pixel as it is, transparent or not."""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path

import av

from ..film import Film
from .animated import AnimatedFormat, Frames, encode


class AnimatedPNG(AnimatedFormat):
    """An animated PNG: every pixel as it is, transparent or not."""

    kind = "apng"
    label = "Animated PNG"
    suffix = ".png"
    by_ending = False
    media_type = "image/apng"

    def note(self, transparent: bool) -> str:
        return "A moving picture without loss, for the web. Large: best for little that moves."

    def finish(self, path: Path, frames: Frames, film: Film) -> None:
        form = "rgba" if film.alpha else "rgb24"
        given = (
            av.VideoFrame.from_ndarray(pixels if film.alpha else pixels[..., :3].copy(), format=form)
            for pixels in frames()
        )
        tick = Fraction(film.rate[1], film.rate[0])
        encode(path, given, film, "apng", "apng", form, tick, {"pred": "mixed"}, {"plays": str(film.choices.plays)})
