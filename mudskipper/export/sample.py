"""A small part of an export made beforehand: how it looks, how large the file will be and how long it takes."""

from __future__ import annotations

import io
import time
from collections.abc import Iterator
from concurrent.futures import Executor
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
from .writers.pixels import PixelFormat, chunks_of, encode_chunk

PATIENCE = 1.5
"""Seconds after which no further part is tried."""
WIDEST, HIGHEST = 360, 220
"""Pixels of the moving picture that is shown."""


@dataclass(frozen=True)
class Sample:
    """A moving picture (animated WebP; empty where nothing is seen) of `shown` frames from the frame `at` of the file
    on; bytes of the whole file, at least and at most as its parts differ, and seconds that it takes."""

    picture: bytes
    at: int
    shown: int
    least: int
    most: int
    seconds: float


def sample_of(order: Order, files: MediaFiles, work: Path, executor: Executor, near: int, workers: int = 2) -> Sample:
    """Encode whole parts of an order, that at a frame of the file first, into `work`, where the export finds them."""
    form, film = FORMATS[order.kind], order.film
    scene, assets = order.opened(files)
    voiced = form.sound and film.choices.sound and bool(heard(scene, Context(scene, assets)))
    sound = 0.0
    if voiced:
        seconds = (order.stop - order.first) / scene.fps
        sound = seconds * (form.sound_bytes or RATE * 6)
    if not isinstance(form, PixelFormat):
        return Sample(b"", 0, 0, round(sound * (0.4 if form.suffix == ".flac" else 1)), round(sound), sound / 4e7)
    work.mkdir(parents=True, exist_ok=True)
    chunks = chunks_of(film.count)
    here = min(max(near, 0) // (chunks[0][1] - chunks[0][0]), len(chunks) - 1)
    turn = list(dict.fromkeys([here, len(chunks) // 2, 0, len(chunks) - 1]))
    sizes: list[float] = []
    spent: list[float] = []
    picture, shown = b"", 0
    begun = time.monotonic()
    with TemporaryDirectory(dir=work.parent) as folder:
        for number in turn:
            if sizes and time.monotonic() - begun > PATIENCE:
                break
            start, stop = chunks[number]
            path = work / f"chunk-{start:07d}"
            took = time.monotonic()
            if not path.exists():
                executor.submit(encode_chunk, form, order, files, start, stop, str(path)).result()
                spent.append((time.monotonic() - took) / (stop - start))
            out = Path(folder) / f"part{form.suffix}"
            form.join([_copied(path, Path(folder))], [stop - start], out, film)
            sizes.append(out.stat().st_size / (stop - start))
            if not picture:
                picture, shown = _moving(form.look(out, film), film), stop - start
    least, most = (round(one * film.count + sound) for one in (min(sizes), max(sizes)))
    slow = float(np.mean(spent)) if spent else 0.0
    return Sample(picture, chunks[here][0], shown, least, most, slow * film.count / min(workers, len(chunks)))


def _copied(chunk: Path, folder: Path) -> Path:
    """A chunk that may be moved away."""
    copy = folder / "chunk"
    copy.write_bytes(chunk.read_bytes())
    return copy


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
