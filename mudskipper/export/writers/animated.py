"""Moving pictures that are encoded as a whole: their chunks are kept without loss until then."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Callable, Iterable, Iterator
from fractions import Fraction
from pathlib import Path

import av
import numpy as np

from ..film import Film, Sound
from .base import whole
from .pixels import PixelFormat

Frames = Callable[[], Iterator[np.ndarray]]
"""All frames from the first to the last, as often as they are asked for."""


class AnimatedFormat(PixelFormat):
    """A moving picture; chunks are FFV1 films."""

    alpha = True
    takes: tuple[str, ...] = (*PixelFormat.takes, "plays")

    def encode(self, path: Path, frames: Iterable[np.ndarray], film: Film) -> None:
        with whole(path) as part, av.open(str(part), "w", format="matroska") as container:
            stream = container.add_stream("ffv1", rate=Fraction(*film.rate))
            stream.width, stream.height = film.size
            stream.pix_fmt = "bgra"
            for number, pixels in enumerate(frames):
                frame = av.VideoFrame.from_ndarray(np.ascontiguousarray(pixels[..., [2, 1, 0, 3]]), format="bgra")
                frame.pts = number
                container.mux(stream.encode(frame))
            container.mux(stream.encode(None))

    def join(self, chunks: list[Path], lengths: list[int], out: Path, film: Film, sound: Sound | None = None) -> None:
        def frames() -> Iterator[np.ndarray]:
            for chunk in chunks:
                with av.open(str(chunk)) as given:
                    for frame in given.decode(video=0):
                        yield np.ascontiguousarray(frame.to_ndarray(format="bgra")[..., [2, 1, 0, 3]])

        with whole(out) as part:
            self.finish(part, frames, film)

    @abstractmethod
    def finish(self, path: Path, frames: Frames, film: Film) -> None:
        """Write all frames as one file."""


def encode(
    path: Path, frames: Iterable[av.VideoFrame], film: Film, codec: str, container: str, form: str, tick: Fraction,
    options: dict[str, str], endless: dict[str, str],
) -> None:  # fmt: skip
    """Encode frames one after another; `tick` is the unit, in seconds, in which the file counts time, `endless` what
    the container is marked so that it plays again and again."""
    with av.open(str(path), "w", format=container, container_options=endless) as file:
        stream = file.add_stream(codec, rate=Fraction(*film.rate))
        stream.width, stream.height = film.size
        stream.pix_fmt = form
        stream.codec_context.time_base = tick
        stream.codec_context.options = options
        for number, frame in enumerate(frames):
            frame.time_base = tick
            # Rounded from the first frame on, so that a rate that is no whole number of ticks never drifts.
            frame.pts = round(Fraction(number * film.rate[1], film.rate[0]) / tick)
            frame.duration = round(Fraction((number + 1) * film.rate[1], film.rate[0]) / tick) - frame.pts
            file.mux(stream.encode(frame))
        file.mux(stream.encode(None))
