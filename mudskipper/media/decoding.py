"""Decoding in a child process: a picture of any kind comes in, an upright sRGB PNG goes out.

It imports nothing of the application, so that it is there at once.
"""

from __future__ import annotations

import io
import resource
import sys
from fractions import Fraction

from PIL import Image, ImageCms, ImageOps

KINDS = {"PNG": "image/png", "JPEG": "image/jpeg", "WEBP": "image/webp"}
LARGE = 8_000_000
"""Pixels of a picture that is encoded quickly rather than small."""
SECONDS = 60
MEMORY = 3 * 1024**3


def normalise(data: bytes) -> bytes:
    """Decode a picture, turn it upright, bring it to sRGB, and encode it as PNG."""
    image: Image.Image = Image.open(io.BytesIO(data), formats=list(KINDS))
    profile = image.info.get("icc_profile")
    image = ImageOps.exif_transpose(image)
    has_alpha = "A" in image.getbands() or "transparency" in image.info
    if profile:
        mode = "RGBA" if has_alpha and image.mode != "P" else "RGB"
        if image.mode in ("RGB", "RGBA", "CMYK", "L"):
            alpha = image.getchannel("A") if mode == "RGBA" else None
            flat = image.convert("RGB") if image.mode == "RGBA" else image
            try:
                source = ImageCms.ImageCmsProfile(io.BytesIO(profile))
                converted = ImageCms.profileToProfile(flat, source, ImageCms.createProfile("sRGB"), outputMode="RGB")
            except (ImageCms.PyCMSError, OSError, ValueError):
                converted = None  # a profile that cannot be used says nothing: the numbers are taken as sRGB
            if converted is not None:
                image = converted
                if alpha is not None:
                    image.putalpha(alpha)
    if image.mode.startswith("I"):
        # 16 bits of grey: Pillow would cut them off, not scale them.
        image = image.convert("I").point(lambda grey: grey * (1 / 257) + 0.5).convert("L")
    image = image.convert("RGBA" if has_alpha else "RGB")
    image.info.clear()
    if image.width * image.height > LARGE:
        return quick_png(image)
    out = io.BytesIO()
    image.save(out, "PNG", compress_level=3)
    return out.getvalue()


def quick_png(image: Image.Image) -> bytes:
    """A large picture as a PNG file, each row as its difference from the one above: Pillow tries five ways forevery
    row, which takes two to three times as long for a file about as large."""
    import av  # these take long to load, and few pictures need them
    import numpy as np

    form = {"RGB": "rgb24", "RGBA": "rgba"}[image.mode]
    encoder = av.CodecContext.create("png", "w")
    encoder.width, encoder.height, encoder.pix_fmt = image.width, image.height, form
    encoder.time_base = Fraction(1, 1)
    encoder.options = {"pred": "up", "compression_level": "1"}
    frame = av.VideoFrame.from_ndarray(np.asarray(image), format=form)
    return b"".join(bytes(packet) for packet in [*encoder.encode(frame), *encoder.encode(None)])


if __name__ == "__main__":
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_CPU, (SECONDS, SECONDS))
    Image.MAX_IMAGE_PIXELS = None
    sys.stdout.buffer.write(normalise(sys.stdin.buffer.read()))
