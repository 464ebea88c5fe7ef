"""MOV with ProRes, for editing: every frame by itself, 10 bits a channel and more."""

from __future__ import annotations

from ..film import Film
from .video import VideoFormat


class ProRes(VideoFormat):
    """MOV with ProRes 422."""

    kind = "prores"
    label = "MOV (ProRes 422)"
    suffix = ".mov"
    media_type = "video/quicktime"
    codec = "prores_ks"
    container = "mov"
    chunk = "mov"
    sound_codec = "pcm_s24le"
    sound_form = "s32"
    opaque_form = "yuv422p10le"
    sized = False
    sound_bytes = 0

    def options(self, film: Film) -> dict[str, str]:
        steps = {0: "proxy", 25: "lt", 50: "standard", 75: "hq"}
        return {"profile": steps[max(step for step in steps if step <= film.choices.quality)]}

    def note(self, transparent: bool) -> str:
        through = " It holds no transparency: the picture lies on black." if transparent else ""
        return f"Film for editing, large, each frame by itself.{through}"


class ProResAlpha(ProRes):
    """MOV with ProRes 4444, transparent or not."""

    kind = "prores-4444"
    label = "MOV (ProRes 4444)"
    alpha = True
    opaque_form = "yuv444p10le"
    alpha_form = "yuva444p10le"
    takes: tuple[str, ...] = (*ProRes.takes, "premultiplied")

    def options(self, film: Film) -> dict[str, str]:
        through = {"alpha_bits": "16"} if film.alpha else {}
        return {"profile": "4444xq" if film.choices.quality >= 95 else "4444", **through}

    def note(self, transparent: bool) -> str:
        return "Film for editing with transparency, in full colour, very large."
