"""Makes the film of the demo, `mudskipper/demo/harbour_at_dusk.mp4`, and what a probe finds of it."""

from __future__ import annotations

import json
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import numpy as np
import skia

from mudskipper.demo.harbour import FILM_FRAMES, film_frame
from mudskipper.demo.harbour_sound import RATE, harbour_sound
from mudskipper.media.clips import probe_clip
from mudskipper.paint.painter import new_surface

HERE = Path(__file__).resolve().parent.parent / "mudskipper" / "demo"


def main() -> None:
    film = HERE / "harbour_at_dusk.mp4"
    surface = new_surface(1920, 1080)
    info = skia.ImageInfo.Make(1920, 1080, skia.kRGBA_8888_ColorType, skia.kPremul_AlphaType)
    pixels = np.empty((1080, 1920, 4), np.uint8)
    with av.open(str(film), "w") as container:
        stream: Any = container.add_stream("libx264", rate=Fraction(30))
        stream.width, stream.height, stream.pix_fmt = 1920, 1080, "yuv420p"
        stream.gop_size, stream.options = 60, {"crf": "24", "preset": "slow"}
        stream.codec_context.colorspace, stream.codec_context.color_range = 1, 1
        voice: Any = container.add_stream("aac", rate=RATE, layout="stereo")
        voice.bit_rate = 128_000
        sound = harbour_sound()
        for begin in range(0, sound.shape[1], RATE):
            part = av.AudioFrame.from_ndarray(sound[:, begin : begin + RATE].copy(), format="fltp", layout="stereo")
            part.sample_rate, part.pts, part.time_base = RATE, begin, Fraction(1, RATE)
            container.mux(voice.encode(part))
        container.mux(voice.encode(None))
        for number in range(FILM_FRAMES):
            film_frame(number, surface)
            surface.readPixels(skia.Pixmap(info, pixels, 1920 * 4), 0, 0)
            frame = av.VideoFrame.from_ndarray(pixels[..., :3].copy(), format="rgb24")
            frame = frame.reformat(format="yuv420p", dst_colorspace="ITU709", dst_color_range="MPEG")
            container.mux(stream.encode(frame))
        container.mux(stream.encode(None))
    facts = probe_clip(film, HERE / "harbour_at_dusk.npy", film.name)
    (HERE / "harbour_at_dusk.json").write_text(json.dumps(facts, indent=1) + "\n")


if __name__ == "__main__":
    main()
