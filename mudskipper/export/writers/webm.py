"""WebM with VP9, transparent or not."""

from __future__ import annotations

from ..film import Film
from .video import VideoFormat


class WebM(VideoFormat):
    """WebM with VP9, transparent or not."""

    kind = "webm"
    label = "WebM (VP9)"
    suffix = ".webm"
    media_type = "video/webm"
    alpha = True
    codec = "libvpx-vp9"
    container = "webm"
    sound_codec = "libopus"
    takes: tuple[str, ...] = (*VideoFormat.takes, "premultiplied")

    def options(self, film: Film) -> dict[str, str]:
        fixed = {"deadline": "good", "cpu-used": "4", "row-mt": "1", "auto-alt-ref": "0"}
        return fixed | {"b": "0"} | self.rate_options(film, f"{self.by_quality(film, 12, 2, 60):.0f}")

    def note(self, transparent: bool) -> str:
        return "Film with transparency, for the web and for editing." if transparent else "Film for the web."
