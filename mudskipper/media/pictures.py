"""Pictures from outside: known by their content, decoded in a child process with limits, kept as sRGB PNG.

Both painters read the same PNG, so that a decoder's differences can never part the stage from the export.
"""

from __future__ import annotations

import io
import subprocess
import sys
import tempfile
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

from PIL import Image

from ..core.ground.errors import Refused
from .budget import DECODING, of_picture
from .decoding import KINDS, SECONDS, know, known

_opening = threading.Lock()
MOST_BYTES = 64 * 1024 * 1024
MOST_SIDE = 16_384
MOST_PIXELS = 80_000_000


@dataclass(frozen=True)
class Picture:
    """A picture as it is kept: its size in pixels and its PNG file, 8 bits a channel, sRGB, upright."""

    width: int
    height: int
    file: Path


@contextmanager
def read_picture(data: bytes, name: str, folder: Path | None = None) -> Iterator[Picture]:
    """Take a PNG, JPEG, WebP, AVIF or HEIC file in, for the time of a block in a folder within a folder; Refused in
    words where it is none, or too large."""
    if len(data) > MOST_BYTES:
        raise Refused(
            f"A picture file may hold at most {MOST_BYTES // 2**20} MB, and this one holds {len(data) / 2**20:.0f} MB.",
            where=name, mend="Save it smaller, then add it again.",
        )  # fmt: skip
    pixels = check_size(data, name)
    with tempfile.TemporaryDirectory(dir=folder, suffix=".part") as work:
        out = Path(work) / "picture.png"
        command = [sys.executable, "-m", "mudskipper.media.decoding", str(out)]
        try:
            with DECODING.of(of_picture(pixels, len(data))):
                child = subprocess.run(command, input=data, capture_output=True, timeout=SECONDS)
        except subprocess.TimeoutExpired:
            raise Refused(f"It could not be decoded within {SECONDS} seconds.", where=name) from None
        if child.returncode != 0:
            raise Refused("The file begins like a picture but is damaged.", where=name, mend="Save it again and retry.")
        with Image.open(out) as done:
            size = done.size
        yield Picture(*size, out)


@contextmanager
def _any_size() -> Iterator[None]:
    """A block in which Pillow opens pictures of any size: it is looked at here, in words."""
    with _opening:
        usual, Image.MAX_IMAGE_PIXELS = Image.MAX_IMAGE_PIXELS, None
        try:
            yield
        finally:
            Image.MAX_IMAGE_PIXELS = usual


def check_size(data: bytes, name: str) -> int:
    """How many pixels a picture has, from its header alone; Refused where it is no picture or is too large."""
    try:
        know(data)
        with _any_size(), Image.open(io.BytesIO(data), formats=[kind for kind in KINDS if kind in known()]) as image:
            width, height = image.size
    except Exception:
        raise Refused(
            "A picture must be a PNG, JPEG, WebP, AVIF or HEIC file, and this is none of them by its content.",
            where=name, mend="Save it as PNG, JPEG or WebP, then add it again. Films, animated pictures, sounds, SVG "
            "files and ZIP files of numbered pictures are taken, too.",
        ) from None  # fmt: skip
    if max(width, height) > MOST_SIDE or width * height > MOST_PIXELS:
        raise Refused(
            f"A picture may be at most {MOST_SIDE:,} pixels wide and high and hold {MOST_PIXELS // 10**6} million "
            f"pixels, and this one is {width:,} × {height:,}.",
            where=name, mend="Make it smaller, then add it again.",
        )  # fmt: skip
    return width * height
