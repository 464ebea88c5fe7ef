"""Films with AV1, in MP4 and in WebM."""

from __future__ import annotations

import os

from ..film import Film
from .mp4 import EvenFilm

# The encoder tells each of its settings otherwise.
os.environ.setdefault("SVT_LOG", "1")


class AV1(EvenFilm):
    """MP4 with AV1."""

    kind = "mp4-av1"
    label = "MP4 (AV1)"
    suffix = ".mp4"
    media_type = "video/mp4"
    codec = "libsvtav1"
    container = "mp4"
    sound_codec = "aac"
    fewest = 64
    """Pixels of a side that the encoder takes at least."""

    def options(self, film: Film) -> dict[str, str]:
        return {"preset": "8", "svtav1-params": "lp=1"} | self.rate_options(
            film, f"{self.by_quality(film, 20, 5, 60):.0f}"
        )

    def note(self, transparent: bool) -> str:
        through = " It holds no transparency: the picture lies on black." if transparent else ""
        return f"The smallest film, for players and browsers of today; it takes longer.{through}"


class WebMAV1(AV1):
    """WebM with AV1."""

    kind = "webm-av1"
    label = "WebM (AV1)"
    suffix = ".webm"
    media_type = "video/webm"
    container = "webm"
    sound_codec = "libopus"
