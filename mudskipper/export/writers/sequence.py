"""A picture for each frame, in one ZIP file."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Iterable
from pathlib import Path

import numpy as np
from PIL import Image

from ..film import Film, Sound
from .base import whole
from .pixels import PixelFormat


class PictureSequence(PixelFormat):
    """A PNG file for each frame, named by its number, in one ZIP file."""

    kind = "sequence"
    label = "PNG sequence"
    suffix = ".zip"
    media_type = "application/zip"
    alpha = True

    def note(self, transparent: bool) -> str:
        return "A PNG for each frame, every pixel as on the stage, for compositing."

    def encode(self, path: Path, frames: Iterable[np.ndarray], film: Film) -> None:
        with whole(path) as part, zipfile.ZipFile(part, "w") as files:
            for number, pixels in enumerate(frames):
                file = io.BytesIO()
                Image.fromarray(pixels if film.alpha else pixels[..., :3]).save(file, "PNG", compress_level=3)
                files.writestr(f"{number:06d}.png", file.getvalue())

    def join(self, chunks: list[Path], lengths: list[int], out: Path, film: Film, sound: Sound | None = None) -> None:
        number = film.first
        with whole(out) as part, zipfile.ZipFile(part, "w") as files:
            for chunk in chunks:
                with zipfile.ZipFile(chunk) as given:
                    for name in sorted(given.namelist()):
                        files.writestr(f"{number:06d}.png", given.read(name))
                        number += 1

    def is_whole(self, chunk: Path) -> bool:
        try:
            with zipfile.ZipFile(chunk) as files:
                return files.testzip() is None
        except (zipfile.BadZipFile, OSError):
            return False
