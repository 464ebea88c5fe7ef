"""Formats that hold pixels: frames are painted and encoded by chunks, at once, and laid one after another."""

from __future__ import annotations

import shutil
from abc import abstractmethod
from collections.abc import Iterable
from concurrent.futures import Future, as_completed
from pathlib import Path
from typing import TYPE_CHECKING

import av
import numpy as np

from ...core.resolve.context import Context
from ...core.resolve.sound.mix import heard
from ..film import Film, Sound
from ..frames import film_of, frames_of, sound_of
from .base import Cancelled, Format, Run

if TYPE_CHECKING:
    from ...core.contents.assets import Assets
    from ...core.document.scene import Scene
    from ...media.files import MediaFiles
    from ..order import Order

CHUNK = 24
NO_ALPHA = "What is transparent lies on black: this format holds no transparency."
NO_SOUND = "The sound is left out: this format holds none."


class PixelFormat(Format):
    """A kind of file that takes pixels. Frames are (height, width, 4) bytes r g b a, not premultiplied; a format
    without alpha gets the picture over black."""

    @abstractmethod
    def encode(self, path: Path, frames: Iterable[np.ndarray], film: Film) -> None:
        """Write some frames as a chunk of its own, in any process."""

    @abstractmethod
    def join(self, chunks: list[Path], lengths: list[int], out: Path, film: Film, sound: Sound | None = None) -> None:
        """Lay chunks, of `lengths` frames each, one after another in one file, with a sound where it can be heard."""

    def is_whole(self, chunk: Path) -> bool:
        """Whether a chunk can be read."""
        try:
            with av.open(str(chunk)) as film:
                return any(packet.size for packet in film.demux(video=0))
        except (av.FFmpegError, IndexError):
            return False

    def write(
        self, scene: Scene, assets: Assets, files: MediaFiles, order: Order, out: Path, run: Run
    ) -> tuple[str, ...]:
        run.work.mkdir(parents=True, exist_ok=True)
        chunks = chunks_of(order.first, order.first + 1 if self.still else order.stop)
        paths = [run.work / f"chunk-{start:07d}" for start, _ in chunks]
        self._encoded(order, files, dict(zip(paths, chunks, strict=True)), run)
        lengths = [stop - start for start, stop in chunks]
        film = film_of(scene, order.first)
        try:
            if self.sound:
                self.join(paths, lengths, out, film, sound_of(scene, assets, files, order.first, order.stop))
            else:
                self.join(paths, lengths, out, film)
        except Exception:
            for path in paths:
                if not self.is_whole(path):
                    path.unlink(missing_ok=True)  # encoded again with the next start
            raise
        shutil.rmtree(run.work, ignore_errors=True)
        lost = [NO_ALPHA] if film.alpha and not self.alpha else []
        if not self.sound and not self.still and heard(scene, Context(scene, assets)):
            lost.append(NO_SOUND)
        return tuple(lost)

    def _encoded(self, order: Order, files: MediaFiles, chunks: dict[Path, tuple[int, int]], run: Run) -> None:
        """All chunks; those that are there already are not encoded again."""
        done = 0
        waiting: dict[Future[int], None] = {}
        for path, (start, stop) in chunks.items():
            if path.exists():
                done += stop - start
            else:
                waiting[run.executor.submit(encode_chunk, self, order, files, start, stop, str(path))] = None
        run.progress(done)
        try:
            for future in as_completed(waiting):
                done += future.result()
                run.progress(done)
                if run.stopped():
                    raise Cancelled
        finally:
            for future in waiting:
                future.cancel()


def chunks_of(first: int, stop: int) -> list[tuple[int, int]]:
    """The chunks of some frames, as ranges."""
    return [(start, min(start + CHUNK, stop)) for start in range(first, stop, CHUNK)]


def encode_chunk(form: PixelFormat, order: Order, files: MediaFiles, first: int, stop: int, path: str) -> int:
    """Paint and encode one chunk to a file; the number of its frames."""
    scene, assets = order.opened(files)
    film = film_of(scene, order.first)
    opaque = not (film.alpha and form.alpha)
    painted = frames_of(scene, assets, files, first, stop)
    form.encode(Path(path), (painter.pixels(opaque=opaque) for painter in painted), film)
    return stop - first
