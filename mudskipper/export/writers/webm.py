"""WebM with VP9, transparent or not."""

from __future__ import annotations

from typing import ClassVar

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
    options: ClassVar[dict[str, str]] = {
        "crf": "12", "b": "0", "deadline": "good", "cpu-used": "4", "row-mt": "1", "auto-alt-ref": "0",
    }  # fmt: skip

    def note(self, transparent: bool) -> str:
        return "Film with transparency, for the web and for editing." if transparent else "Film for the web."
