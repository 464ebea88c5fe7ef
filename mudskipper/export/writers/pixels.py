"""Formats that hold pixels: frames are painted and encoded by chunks, at once, and laid one after another."""

from __future__ import annotations

import shutil
from abc import abstractmethod
from collections.abc import Iterable, Iterator
from concurrent.futures import Future, as_completed
from pathlib import Path
from typing import TYPE_CHECKING

import av
import numpy as np
from av.video.reformatter import Colorspace

from ...core.resolve.context import Context
from ...core.resolve.sound.mix import heard
from ..film import Film, Sound
from ..frames import frames_of, on_colour, sound_of
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
    """A kind of file that takes pixels. Frames are (height, width, 4) bytes r g b a, straight unless it was chosen that
    they are premultiplied; a format without alpha gets the picture over black."""

    takes: tuple[str, ...] = ("scale", "rate", "behind")

    @abstractmethod
    def encode(self, path: Path, frames: Iterable[np.ndarray], film: Film) -> None:
        """Write some frames as a chunk of its own, in any process."""

    @abstractmethod
    def join(self, chunks: list[Path], lengths: list[int], out: Path, film: Film, sound: Sound | None = None) -> None:
        """Lay chunks, of `lengths` frames each, one after another in one file, with a sound where it can be heard."""

    def look(self, path: Path, film: Film) -> Iterator[np.ndarray]:
        """The frames of a file that it made, as bytes r g b a, straight."""
        with av.open(str(path)) as file:
            stream = file.streams.video[0]
            through = film.alpha and self.alpha
            decoder = av.CodecContext.create("libvpx-vp9", "r") if through and stream.codec.name == "vp9" else None
            if decoder is not None:  # the usual one knows no alpha
                decoder.extradata = stream.codec_context.extradata
                frames = (frame for packet in file.demux(stream) for frame in decoder.decode(packet))
            else:
                frames = file.decode(stream)
            for frame in frames:
                if not frame.format.is_rgb:
                    frame = frame.reformat(format="rgba", src_colorspace=Colorspace.ITU709)
                yield straight(frame.to_ndarray(format="rgba"), film)

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
        film = order.film
        chunks = chunks_of(film.count)
        paths = [run.work / f"chunk-{start:07d}" for start, _ in chunks]
        self._encoded(order, files, dict(zip(paths, chunks, strict=True)), run)
        lengths = [stop - start for start, stop in chunks]
        try:
            if self.sound and film.choices.sound:
                self.join(paths, lengths, out, film, sound_of(scene, assets, files, order.first, order.stop))
            else:
                self.join(paths, lengths, out, film)
        except Exception:
            for path in paths:
                if not self.is_whole(path):
                    path.unlink(missing_ok=True)  # encoded again with the next start
            raise
        shutil.rmtree(run.work, ignore_errors=True)
        lost = list(self.lost(scene, assets, film))
        size, most = out.stat().st_size, film.choices.most
        if most is not None and size > most * 1e6:
            lost.append(f"{most:g} MB were asked, and it has {size / 1e6:.2f}: its picture needs more.")
        return tuple(lost)

    def lost(self, scene: Scene, assets: Assets, film: Film) -> tuple[str, ...]:
        silent = not self.sound and not self.still and heard(scene, Context(scene, assets))
        return (*((NO_ALPHA,) if film.alpha and not self.alpha else ()), *((NO_SOUND,) if silent else ()))

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


def straight(pixels: np.ndarray, film: Film) -> np.ndarray:
    """Pixels as they were encoded, straight."""
    if not film.choices.premultiplied or not film.alpha:
        return pixels
    alpha = np.maximum(pixels[..., 3:].astype(np.float64), 1.0)
    return np.concatenate([np.clip(np.rint(pixels[..., :3] * 255.0 / alpha), 0, 255), pixels[..., 3:]], axis=2).astype(
        np.uint8
    )


def chunks_of(count: int) -> list[tuple[int, int]]:
    """The chunks of so many frames, as ranges."""
    return [(start, min(start + CHUNK, count)) for start in range(0, count, CHUNK)]


def encode_chunk(form: PixelFormat, order: Order, files: MediaFiles, start: int, stop: int, path: str) -> int:
    """Paint and encode frames start…stop (not included) of a file as one chunk; their number."""
    film = order.film
    scene, assets = order.opened(files)
    seen = on_colour(scene, film.choices.behind)
    moments = [film.choices.moment(order.first, number, scene.frame_rate) for number in range(start, stop)]
    painted = frames_of(seen, assets, files, moments, film.choices.scale)
    width, height = film.size
    over = film.choices.premultiplied or not (film.alpha and form.alpha)
    form.encode(Path(path), (painter.pixels(over)[:height, :width] for painter in painted), film)
    return stop - start
