"""Animated pictures (GIF, PNG, WebP) and packs of numbered pictures as a film without loss, whose every frame can be
reached by itself."""

from __future__ import annotations

import re
import zipfile
from collections.abc import Iterable, Iterator
from fractions import Fraction
from typing import Any

import av
import numpy as np
from PIL import Image, ImageOps, ImageSequence

from .limits import MOST_SIDE, fits

LARGE = 4_000_000
"""Pixels of a frame from which on it is written as PNG."""
ANIMATED = ("GIF", "PNG", "WEBP")
STILL = ("PNG", "JPEG", "WEBP")
MOST_PIXELS = 6_000_000_000
"""Pixels of all frames together."""
MOST_PICTURES = 50_000
MOST_BYTES = 256 * 2**20
"""Bytes of one picture of a pack."""
UNSAID = 100
"""Milliseconds that a frame is shown which gives no time, as browsers show it."""


class Spoilt(Exception):
    """What is wrong with a pack of pictures."""


def animated(path: str) -> Image.Image | None:
    """An animated picture, opened; None where the file is none."""
    Image.MAX_IMAGE_PIXELS = None
    try:
        image = Image.open(path, formats=ANIMATED)
    except Exception:
        return None
    return image if image.format == "GIF" or getattr(image, "n_frames", 1) > 1 else None


def animation_as_film(image: Image.Image, out: str) -> dict[str, Any]:
    """Write an animated picture as a film; how many frames it has, and how long it and each of them lasts."""
    lasts: list[int] = []

    def frames() -> Iterator[np.ndarray]:
        for part in ImageSequence.Iterator(image):
            # Reading a frame makes its time known.
            pixels = np.asarray(part if part.mode == "RGBA" else part.convert("RGBA"))
            lasts.append(round(part.info.get("duration") or UNSAID))
            yield pixels

    _write(frames(), lasts, (image.width, image.height), out)
    rate = Fraction(1000, lasts[0])
    return {
        "count": len(lasts), "length": sum(lasts) / 1000,
        "rate": [rate.numerator, rate.denominator] if len(set(lasts)) == 1 else None,
    }  # fmt: skip


def pack(path: str) -> zipfile.ZipFile | None:
    """A pack of pictures (ZIP), opened; None where the file is none."""
    try:
        return zipfile.ZipFile(path)
    except (zipfile.BadZipFile, OSError, ValueError):
        return None


def pack_as_film(found: zipfile.ZipFile, rate: Fraction, out: str) -> dict[str, Any]:
    """Write numbered pictures as a film at a rate, in the order of their numbers; `Spoilt` says what is wrong."""
    names = sorted(
        (one for one in found.infolist() if not one.is_dir() and not re.search(r"(^|/)(__MACOSX|\.)", one.filename)),
        key=lambda one: [int(part) if part.isdigit() else part for part in re.split(r"(\d+)", one.filename)],
    )
    if not names:
        raise Spoilt("The pack holds no pictures.")
    if len(names) > MOST_PICTURES:
        raise Spoilt(f"A pack may hold at most {MOST_PICTURES:,} pictures, and this one holds {len(names):,}.")
    size = _picture(found, names[0]).size
    if len(names) * size[0] * size[1] > MOST_PIXELS:
        raise Spoilt(f"The {len(names):,} pictures of {size[0]} × {size[1]} px are more than can be taken in at once.")

    def frames() -> Iterator[np.ndarray]:
        for one in names:
            yield np.asarray(_picture(found, one, size))

    _write(frames(), [1] * len(names), size, out)
    return {
        "count": len(names), "rate": [rate.numerator, rate.denominator], "length": float(len(names) / rate),
    }  # fmt: skip


def _picture(found: zipfile.ZipFile, one: zipfile.ZipInfo, size: tuple[int, int] | None = None) -> Image.Image:
    """A picture of a pack, upright, of the size of the first; Spoilt, before it is decoded, where it is of another."""
    if one.file_size > MOST_BYTES:
        raise Spoilt(f"{one.filename} holds {one.file_size / 2**20:.0f} MB, and a picture may hold 256 MB.")
    try:
        with found.open(one) as file:
            image: Image.Image = Image.open(file, formats=STILL)
            if not fits(*image.size):
                raise Spoilt(
                    f"A film may be at most {MOST_SIDE:,} pixels wide and high, and {one.filename} is "
                    f"{image.width:,} × {image.height:,}."
                )
            # A picture may be turned, which is known once it is decoded.
            if size is None or sorted(image.size) == sorted(size):
                image = ImageOps.exif_transpose(image).convert("RGBA")
            if size is not None and image.size != size:
                raise Spoilt(
                    f"All pictures of a clip are of one size: the first is {size[0]} × {size[1]} px, and "
                    f"{one.filename} {image.width} × {image.height} px."
                )
            return image
    except Spoilt:
        raise
    except Exception:
        raise Spoilt(f"{one.filename} is no PNG, JPEG or WebP picture that can be read.") from None


def _write(frames: Iterable[np.ndarray], lasts: list[int], size: tuple[int, int], out: str) -> None:
    """Frames (h, w, 4) as FFV1 in Matroska, large ones as PNG in QuickTime, which takes less than ten bytes a pixel
    where FFV1 takes seventy; a millisecond a tick, each is shown for its number of `lasts`."""
    large = size[0] * size[1] > LARGE
    form, options = ("mov", {"video_track_timescale": "1000"}) if large else ("matroska", {})
    with av.open(out, "w", format=form, options=options) as container:
        stream = container.add_stream("png" if large else "ffv1", rate=1000)
        stream.width, stream.height = size
        stream.pix_fmt = "rgba" if large else "bgra"
        if large:
            stream.options = {"pred": "up", "compression_level": "1"}
        stream.time_base = stream.codec_context.time_base = Fraction(1, 1000)
        stream.gop_size = 1
        # Threads would hold a frame each.
        stream.codec_context.thread_count = 1
        begins = 0
        for number, pixels in enumerate(frames):
            frame = av.VideoFrame.from_ndarray(pixels, format="rgba")
            del pixels
            if not large:
                frame = frame.reformat(format="bgra")
            frame.pts, frame.time_base = begins, Fraction(1, 1000)
            begins += lasts[number]
            container.mux(stream.encode(frame))
        container.mux(stream.encode(None))
