"""A single frame as a picture file."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from pathlib import Path

import numpy as np

from ..film import Film, Sound
from .base import whole
from .picture_files import PictureFile
from .pixels import PixelFormat


class Still(PixelFormat):
    """A single frame as a picture file of a kind."""

    still = True
    group = "still"

    def __init__(self, kind: str, file: PictureFile) -> None:
        self.kind, self._file = kind, file
        self.by_ending = file.suffix != ".webp"  # which means one that moves
        self.label, self.suffix = f"{file.label} still", file.suffix
        self.media_type, self.alpha = file.media_type, file.alpha
        self.takes = ("scale", "behind", *file.takes)

    def note(self, transparent: bool) -> str:
        return f"The frame at the playhead, {self._file.good_for}."

    def encode(self, path: Path, frames: Iterable[np.ndarray], film: Film) -> None:
        with whole(path) as part:
            self._file.save(next(iter(frames)), film, part)

    def join(self, chunks: list[Path], lengths: list[int], out: Path, film: Film, sound: Sound | None = None) -> None:
        chunks[0].replace(out)

    def look(self, path: Path, film: Film) -> Iterator[np.ndarray]:
        yield self._file.read(path, film)
