"""Decoding in a child process: a picture of any kind comes in, an upright sRGB PNG goes out.

`python -m mudskipper.media.decoding OUT < PICTURE`. It imports nothing of the application, so that it is there at once.
"""

from __future__ import annotations

import io
import resource
import struct
import sys
import zlib
from typing import BinaryIO

from PIL import Image, ImageCms, ImageOps

KINDS = {
    "PNG": "image/png", "JPEG": "image/jpeg", "WEBP": "image/webp", "AVIF": "image/avif", "HEIF": "image/heic",
}  # fmt: skip
BRANDS = (b"heic", b"heix", b"heim", b"heis", b"mif1", b"msf1", b"hevc")
"""By which files of the High Efficiency Image Format are known (ISO/IEC 23008-12)."""
LARGE = 8_000_000
"""Pixels of a picture that is encoded quickly rather than small."""
SECONDS = 60
MEMORY = 2 * 1024**3
STRIP = 64
"""Rows of a large picture that are written at once."""


def know(data: bytes) -> None:
    """Have what reads a picture of this kind; of most kinds it is there."""
    if data[4:8] == b"ftyp" and data[8:12] in BRANDS:
        import pillow_heif  # it takes long to load, and few pictures need it

        pillow_heif.register_heif_opener()


def normalise(data: BinaryIO, to: BinaryIO) -> None:
    """Decode a picture, turn it upright, bring it to sRGB, and write it as PNG."""
    given = data.read()
    know(given)
    image: Image.Image = Image.open(io.BytesIO(given), formats=[kind for kind in KINDS if kind in known()])
    profile = image.info.get("icc_profile")
    image.load()
    # A picture is as large as all the rest: it is changed where it lies.
    ImageOps.exif_transpose(image, in_place=True)
    has_alpha = "A" in image.getbands() or "transparency" in image.info
    if profile:
        mode = "RGBA" if has_alpha and image.mode != "P" else "RGB"
        if image.mode in ("RGB", "RGBA", "CMYK", "L"):
            alpha = image.getchannel("A") if mode == "RGBA" else None
            flat = image.convert("RGB") if image.mode == "RGBA" else image
            try:
                source = ImageCms.ImageCmsProfile(io.BytesIO(profile))
                converted = ImageCms.profileToProfile(flat, source, ImageCms.createProfile("sRGB"), outputMode="RGB")
                del flat
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
        write_png(image, to)
    else:
        image.save(to, "PNG", compress_level=3)


def known() -> set[str]:
    """The kinds that can be read here and now."""
    Image.init()
    return set(Image.OPEN)


def write_png(image: Image.Image, out: BinaryIO) -> None:
    """A large picture as a PNG file (RFC 2083), strip by strip, each row as its difference from the one above: Pillow
    tries five ways for every row and holds the whole file, which takes two to three times as long."""
    import numpy as np  # it takes long to load, and few pictures need it

    deep = len(image.mode)
    head = struct.pack(">IIBBBBB", image.width, image.height, 8, {3: 2, 4: 6}[deep], 0, 0, 0)
    out.write(b"\x89PNG\r\n\x1a\n" + _chunk(b"IHDR", head))
    squeezed = zlib.compressobj(1)
    above = np.zeros((1, image.width * deep), np.uint8)
    for top in range(0, image.height, STRIP):
        part = np.asarray(image.crop((0, top, image.width, min(top + STRIP, image.height))))
        rows = part.reshape(len(part), -1)
        up = np.full((len(rows), rows.shape[1] + 1), 2, np.uint8)
        np.subtract(rows, np.concatenate([above, rows[:-1]]), out=up[:, 1:])
        above = rows[-1:].copy()
        block = squeezed.compress(up.tobytes())
        if block:
            out.write(_chunk(b"IDAT", block))
    out.write(_chunk(b"IDAT", squeezed.flush()) + _chunk(b"IEND", b""))


def _chunk(kind: bytes, data: bytes) -> bytes:
    return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))


if __name__ == "__main__":
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_CPU, (SECONDS, SECONDS))
    Image.MAX_IMAGE_PIXELS = None
    with open(sys.argv[1], "wb") as out:
        normalise(sys.stdin.buffer, out)
