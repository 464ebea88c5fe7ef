"""MP4 with H.264 and H.265."""

from __future__ import annotations

from ...core.ground.errors import Refused
from ..film import Film
from .video import VideoFormat


class EvenFilm(VideoFormat):
    """A film whose sides are whole numbers of twos."""

    even = True

    def check(self, film: Film) -> None:
        super().check(film)
        width, height = film.size
        if width % 2 or height % 2:
            raise Refused(
                f"{self.label} needs an even width and height, and this scene is {width} × {height}.",
                mend=f"Export WebM, or make the scene {width + width % 2} × {height + height % 2}.",
            )


class MP4(EvenFilm):
    """MP4 with H.264."""

    kind = "mp4"
    label = "MP4 (H.264)"
    suffix = ".mp4"
    media_type = "video/mp4"
    codec = "libx264"
    container = "mp4"
    sound_codec = "aac"
    chunk = "mp4"
    reorder = 2
    says = "Film that plays everywhere."

    def options(self, film: Film) -> dict[str, str]:
        fixed = {"preset": "medium", "x264-params": "bframes=2:b-pyramid=none"}
        return fixed | self.rate_options(film, f"{self.by_quality(film, 14, 5, 48):.1f}")

    def note(self, transparent: bool) -> str:
        through = " It holds no transparency: the picture lies on black." if transparent else ""
        return f"{self.says}{through}"


class H265(MP4):
    """MP4 with H.265."""

    kind = "mp4-h265"
    label = "MP4 (H.265)"
    codec = "libx265"
    tag = "hvc1"
    says = "Film half as large as with H.264, for players of today."

    def options(self, film: Film) -> dict[str, str]:
        fixed = "bframes=2:b-pyramid=0:open-gop=0:pools=none:frame-threads=1:log-level=error"
        return {"preset": "medium", "x265-params": fixed} | self.rate_options(
            film, f"{self.by_quality(film, 17, 6, 48):.1f}"
        )
