"""A single frame as a PNG file."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path

import numpy as np
from PIL import Image

from ..film import Film, Sound
from .base import whole
from .pixels import PixelFormat


class PNG(PixelFormat):
    """A single frame as a PNG file."""

    kind = "png"
    label = "PNG still"
    suffix = ".png"
    media_type = "image/png"
    alpha = True
    still = True
    group = "still"

    def note(self, transparent: bool) -> str:
        return "The frame at the playhead, every pixel as on the stage."

    def encode(self, path: Path, frames: Iterable[np.ndarray], film: Film) -> None:
        with whole(path) as part:
            Image.fromarray(next(iter(frames))).save(part, "PNG", compress_level=3)

    def join(self, chunks: list[Path], lengths: list[int], out: Path, film: Film, sound: Sound | None = None) -> None:
        chunks[0].replace(out)
