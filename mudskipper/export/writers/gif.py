"""A GIF with one palette for the whole film."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction
from pathlib import Path

import av
import av.filter
import numpy as np

from ...core.ground.errors import Refused
from ..film import Film
from .animated import AnimatedFormat, Frames, encode

MOST_RATE = 50
"""Frames a second: viewers slow down what is shown for less than two hundredths of a second."""


class GIF(AnimatedFormat):
    """A GIF with one palette for the whole film; a pixel is transparent or not, at half of its alpha."""

    kind = "gif"
    label = "GIF"
    suffix = ".gif"
    media_type = "image/gif"

    def check(self, film: Film) -> None:
        if Fraction(*film.rate) > MOST_RATE:
            raise Refused(
                f"A GIF shows at most {MOST_RATE} frames a second, and these would be {film.rate[0] / film.rate[1]:g}.",
                mend="Export an animated WebP, or choose a lower rate.",
            )

    def note(self, transparent: bool) -> str:
        edges = " Soft edges become hard ones." if transparent else ""
        return f"A moving picture for anywhere, in 256 colours for the whole film.{edges}"

    def finish(self, path: Path, frames: Frames, film: Film) -> None:
        tick = Fraction(1, 100)
        # The file says how often it is shown again; -1, that it is not.
        again = {0: 0, 1: -1}.get(film.choices.plays, film.choices.plays - 1)
        encode(path, _in_palette(frames, film), film, "gif", "gif", "pal8", tick, {}, {"loop": str(again)})


def _given(frames: Frames) -> Iterator[av.VideoFrame]:
    for number, pixels in enumerate(frames()):
        frame = av.VideoFrame.from_ndarray(np.ascontiguousarray(pixels), format="rgba")
        frame.pts = number
        yield frame


def _in_palette(frames: Frames, film: Film) -> Iterator[av.VideoFrame]:
    """The frames in the 256 colours that serve the film best, dithered."""
    (width, height), second = film.size, Fraction(film.rate[1], film.rate[0])
    making = av.filter.Graph()
    source = making.add_buffer(width=width, height=height, format="rgba", time_base=second)
    colours = making.add("palettegen", f"reserve_transparent={int(film.alpha)}")
    sink = making.add("buffersink")
    source.link_to(colours)
    colours.link_to(sink)
    making.configure()
    for frame in _given(frames):
        source.push(frame)
    source.push(None)
    palette = sink.pull()

    using = av.filter.Graph()
    source = using.add_buffer(width=width, height=height, format="rgba", time_base=second)
    table = using.add_buffer(width=palette.width, height=palette.height, format=palette.format.name, time_base=second)
    painted = using.add("paletteuse", "dither=sierra2_4a:alpha_threshold=128")
    sink = using.add("buffersink")
    source.link_to(painted, 0, 0)
    table.link_to(painted, 0, 1)
    painted.link_to(sink)
    using.configure()
    table.push(palette)
    table.push(None)
    for frame in _given(frames):
        source.push(frame)
        yield from _pulled(sink)
    source.push(None)
    yield from _pulled(sink)


def _pulled(sink: av.filter.context.FilterContext) -> Iterator[av.VideoFrame]:
    while True:
        try:
            yield sink.pull()
        except (av.BlockingIOError, av.EOFError):
            return
