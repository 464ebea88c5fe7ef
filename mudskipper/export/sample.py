"""A small part of an export made beforehand: how it looks, how large the file will be and how long it takes."""

from __future__ import annotations

import io
import os
import shutil
import time
from collections.abc import Iterator
from concurrent.futures import Executor
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np
from PIL import Image

from ..core.resolve.context import Context
from ..core.resolve.sound.mix import RATE, heard
from ..media.files import MediaFiles
from .film import Film
from .order import Order
from .writers import FORMATS
from .writers.base import Cancelled, Run
from .writers.pixels import PixelFormat, chunks_of, encode_chunk

PATIENCE = 1.5
"""Seconds after which no further part is tried."""
FEWEST = 4
"""Frames that are shown at least, where there are as many."""
WIDEST, HIGHEST = 360, 220
"""Pixels of the moving picture that is shown."""


@dataclass(frozen=True)
class Sample:
    """A moving picture (animated WebP; empty where nothing is shown) of `shown` frames from the frame `at` of the file
    on; bytes of the whole file, at least and at most as its parts differ, 0 where that is not known, and seconds that
    it takes; what the format cannot say, a sentence each."""

    picture: bytes
    at: int
    shown: int
    least: int
    most: int
    seconds: float
    lost: tuple[str, ...] = ()


def sample_of(order: Order, files: MediaFiles, work: Path, executor: Executor, near: int, workers: int = 2) -> Sample:
    """Encode parts of an order, that at a frame of the file first; those that are whole chunks into `work`, where the
    export finds them. Where its frames take long it is a part of a chunk."""
    form, film = FORMATS[order.kind], order.film
    scene, assets = order.opened(files)
    sound = 0.0
    if form.sound and film.choices.sound and heard(scene, Context(scene, assets)):
        sound = (order.stop - order.first) / scene.fps * (form.sound_bytes or RATE * 6)
    lost = form.lost(scene, assets, film)
    if form.group == "sound":
        least = sound * (0.4 if form.suffix == ".flac" else 1)
        return Sample(b"", 0, 0, round(least), round(sound), sound / 4e7, lost)
    if not isinstance(form, PixelFormat):
        return _whole(order, files, executor, work, lost)
    work.mkdir(parents=True, exist_ok=True)
    chunks = chunks_of(film.count)
    long = chunks[0][1] - chunks[0][0]
    here = min(max(near, 0) // long, len(chunks) - 1)
    with TemporaryDirectory(dir=work.parent) as folder:
        parts = _Parts(order, files, form, film, executor, Path(folder))
        start, stop = chunks[here]
        slow, first = parts.made(start, start + 1)
        if slow < PATIENCE:
            slow, first = parts.made(start, start + 1)  # now that the process is ready
        shown = min(max(int(PATIENCE / slow), FEWEST), stop - start)
        if shown < stop - start:
            start = min(max(near, start), stop - shown)
            slow, size = parts.made(start, start + shown)
            each = (size - first) / max(shown - 1, 1)
            whole = (first + each * (long - 1)) / long
            least = most = whole * film.count
            picture = parts.picture()
        else:
            sizes: list[float] = []
            spent: list[float] = []
            picture = b""
            begun = time.monotonic()
            for number in dict.fromkeys([here, len(chunks) // 2, 0, len(chunks) - 1]):
                if sizes and time.monotonic() - begun > PATIENCE:
                    break
                took, size = parts.made(*chunks[number], kept=work / f"chunk-{chunks[number][0]:07d}")
                sizes.append(size / (chunks[number][1] - chunks[number][0]))
                spent += [took] if took else []
                picture = picture or parts.picture()
            slow = float(np.mean(spent)) if spent else slow
            least, most = (one * film.count for one in (min(sizes), max(sizes)))
    seconds = slow * film.count / min(workers, len(chunks))
    return Sample(picture, start, shown, round(least + sound), round(most + sound), seconds, lost)


def _whole(order: Order, files: MediaFiles, executor: Executor, work: Path, lost: tuple[str, ...]) -> Sample:
    """What is soon written is written; nothing is told of the size of what is not."""
    begun = time.monotonic()
    scene, assets = order.opened(files)
    form = FORMATS[order.kind]
    work.parent.mkdir(parents=True, exist_ok=True)
    with TemporaryDirectory(dir=work.parent) as folder:
        out = Path(folder) / "file"
        run = Run(Path(folder) / "work", executor, stopped=lambda: time.monotonic() - begun > 2 * PATIENCE)
        try:
            form.write(scene, assets, files, order, out, run)
        except Cancelled:
            return Sample(b"", 0, 0, 0, 0, 0.0, lost)
        size = out.stat().st_size
    return Sample(b"", 0, 0, size, size, time.monotonic() - begun, lost)


@dataclass
class _Parts:
    """Parts of a film, each as a file of its own."""

    order: Order
    files: MediaFiles
    form: PixelFormat
    film: Film
    executor: Executor
    folder: Path

    def made(self, start: int, stop: int, kept: Path | None = None) -> tuple[float, int]:
        """Make frames start…stop (not included): seconds for a frame, 0 where they were there, and bytes of the file.

        An export of the same film may be under way: what it has made is copied, what is made here is laid beside it
        whole, and neither waits for the other."""
        chunk = self.folder / "chunk"  # which joining may move away
        took = 0.0
        try:
            shutil.copyfile(kept or self.folder / "none", chunk)
        except FileNotFoundError:
            begun = time.monotonic()
            job = self.executor.submit(encode_chunk, self.form, self.order, self.files, start, stop, str(chunk))
            job.result()
            took = (time.monotonic() - begun) / (stop - start)
            if kept is not None:
                with suppress(OSError):
                    os.link(chunk, kept)
        self.form.join([chunk], [stop - start], self._file, self.film)
        return took, self._file.stat().st_size

    @property
    def _file(self) -> Path:
        return self.folder / f"file{self.form.suffix}"

    def picture(self) -> bytes:
        """What was made last, small and moving."""
        return _moving(self.form.look(self._file, self.film), self.film)


def _moving(frames: Iterator[np.ndarray], film: Film) -> bytes:
    """Frames (height, width, 4), small, as an animated WebP at their rate."""
    small = []
    for pixels in frames:
        image = Image.fromarray(pixels)
        image.thumbnail((WIDEST, HIGHEST), Image.Resampling.LANCZOS)
        small.append(image)
    if not small:
        return b""
    out = io.BytesIO()
    small[0].save(
        out, "WEBP", save_all=True, append_images=small[1:], loop=0, quality=90, method=2,
        duration=max(round(1000 * film.rate[1] / film.rate[0]), 1),
    )  # fmt: skip
    return out.getvalue()
