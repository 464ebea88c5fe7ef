"""A picture for each frame, in one ZIP file."""

from __future__ import annotations

import zipfile
from collections.abc import Iterable, Iterator
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np

from ..film import Film, Sound
from .base import whole
from .picture_files import PictureFile
from .pixels import PixelFormat


class PictureSequence(PixelFormat):
    """A picture file of a kind for each frame, named by its number, in one ZIP file."""

    suffix = ".zip"
    media_type = "application/zip"
    group = "sequence"

    def __init__(self, kind: str, file: PictureFile) -> None:
        self.kind, self._file = kind, file
        self.label, self.alpha = f"{file.label} sequence", file.alpha
        self.takes = (*PixelFormat.takes, *file.takes)

    def note(self, transparent: bool) -> str:
        return f"Each frame as {self._file.label}, {self._file.good_for}; all of them in one ZIP file."

    def encode(self, path: Path, frames: Iterable[np.ndarray], film: Film) -> None:
        with whole(path) as part, zipfile.ZipFile(part, "w") as files, TemporaryDirectory() as folder:
            one = Path(folder) / f"frame{self._file.suffix}"
            for number, pixels in enumerate(frames):
                self._file.save(pixels, film, one)
                files.write(one, f"{number:06d}{self._file.suffix}")

    def join(self, chunks: list[Path], lengths: list[int], out: Path, film: Film, sound: Sound | None = None) -> None:
        number = film.first
        with whole(out) as part, zipfile.ZipFile(part, "w") as files:
            for chunk in chunks:
                with zipfile.ZipFile(chunk) as given:
                    for name in sorted(given.namelist()):
                        files.writestr(f"{number:06d}{self._file.suffix}", given.read(name))
                        number += 1

    def look(self, path: Path, film: Film) -> Iterator[np.ndarray]:
        with zipfile.ZipFile(path) as files, TemporaryDirectory() as folder:
            for name in sorted(files.namelist()):
                yield self._file.read(Path(files.extract(name, folder)), film)

    def is_whole(self, chunk: Path) -> bool:
        try:
            with zipfile.ZipFile(chunk) as files:
                return files.testzip() is None
        except (zipfile.BadZipFile, OSError):
            return False
