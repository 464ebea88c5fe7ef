"""MP4 with H.264."""

from __future__ import annotations

from typing import ClassVar

from ...core.ground.errors import Refused
from ..film import Film
from .video import VideoFormat


class MP4(VideoFormat):
    """MP4 with H.264."""

    kind = "mp4"
    label = "MP4 (H.264)"
    suffix = ".mp4"
    media_type = "video/mp4"
    codec = "libx264"
    container = "mp4"
    sound_codec = "aac"
    options: ClassVar[dict[str, str]] = {"crf": "14", "preset": "medium", "x264-params": "bframes=2:b-pyramid=none"}
    chunk = "mp4"
    reorder = 2

    def check(self, film: Film) -> None:
        width, height = film.size
        if width % 2 or height % 2:
            raise Refused(
                f"MP4 (H.264) needs an even width and height, and this scene is {width} × {height}.",
                mend=f"Export WebM, or make the scene {width + width % 2} × {height + height % 2}.",
            )

    def note(self, transparent: bool) -> str:
        through = " It holds no transparency: the picture lies on black." if transparent else ""
        return f"Film that plays everywhere.{through}"
