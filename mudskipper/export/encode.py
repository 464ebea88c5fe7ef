"""Frames to video chunks, and chunks to one file."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
from av.video.reformatter import ColorRange, Colorspace

from ..core.errors import Refused


@dataclass(frozen=True)
class Format:
    """A kind of file: its ending, its media type, and how its video is encoded; stills have no codec.

    `chunk` is the container of a chunk on its own, `reorder` how many frames the encoder may look ahead.
    """

    label: str
    suffix: str
    media_type: str
    codec: str = ""
    container: str = ""
    options: tuple[tuple[str, str], ...] = ()
    alpha: bool = False
    chunk: str = "matroska"
    reorder: int = 0

    @property
    def is_video(self) -> bool:
        """Whether it holds more than one frame."""
        return bool(self.codec)


FORMATS: dict[str, Format] = {
    "webm": Format(
        "WebM (VP9)", ".webm", "video/webm", "libvpx-vp9", "webm",
        (("crf", "12"), ("b", "0"), ("deadline", "good"), ("cpu-used", "4"), ("row-mt", "1"), ("auto-alt-ref", "0")),
        alpha=True,
    ),
    "mp4": Format(
        "MP4 (H.264)", ".mp4", "video/mp4", "libx264", "mp4",
        (("crf", "14"), ("preset", "medium"), ("x264-params", "bframes=2:b-pyramid=none")), chunk="mp4", reorder=2
    ),
    "png": Format("PNG still", ".png", "image/png", alpha=True),
}  # fmt: skip


def check_size(kind: str, width: int, height: int) -> None:
    """Refuse, in words, a size that the format cannot hold."""
    if kind == "mp4" and (width % 2 or height % 2):
        raise Refused(
            f"MP4 (H.264) needs an even width and height, and this scene is {width} × {height}.",
            mend=f"Export WebM, or make the scene {width + width % 2} × {height + height % 2}.",
        )


def encode_chunk(
    path: Path, kind: str, frames: Iterable[np.ndarray], size: tuple[int, int], rate: tuple[int, int], alpha: bool
) -> None:
    """Write frames, (height, width, 4) bytes r g b a, not premultiplied, as a chunk of its own."""
    form = FORMATS[kind]
    part = path.with_name(path.name + ".part")
    with av.open(str(part), "w", format=form.chunk) as container:
        stream = container.add_stream(form.codec, rate=Fraction(*rate))
        stream.width, stream.height = size
        stream.pix_fmt = "yuva420p" if alpha and form.alpha else "yuv420p"
        context = stream.codec_context
        context.options = dict(form.options)
        context.time_base = Fraction(rate[1], rate[0])
        context.thread_count = 1
        context.colorspace = Colorspace.ITU709
        context.color_range = ColorRange.MPEG
        context.color_primaries = 1
        context.color_trc = 13
        for number, pixels in enumerate(frames):
            frame = av.VideoFrame.from_ndarray(pixels, format="rgba")
            frame = frame.reformat(
                format=stream.pix_fmt, src_colorspace=Colorspace.ITU709, dst_colorspace=Colorspace.ITU709,
                src_color_range=ColorRange.JPEG, dst_color_range=ColorRange.MPEG,
            )  # fmt: skip
            frame.pts = number
            frame.time_base = context.time_base
            container.mux(stream.encode(frame))
        container.mux(stream.encode(None))
    part.replace(path)


def join_chunks(chunks: list[Path], lengths: list[int], out: Path, kind: str, rate: tuple[int, int]) -> None:
    """Lay chunks one after another in one file, without encoding again; `lengths` are their numbers of frames."""
    form = FORMATS[kind]
    part = out.with_name(out.name + ".part")
    tick = Fraction(rate[1], rate[0])
    with av.open(str(part), "w", format=form.container) as container:
        stream = None
        offset = 0
        for chunk, length in zip(chunks, lengths, strict=True):
            with av.open(str(chunk)) as source:
                given = source.streams.video[0]
                if stream is None:
                    stream = container.add_stream_from_template(given)
                    stream.time_base = tick
                    stream.metadata.update(given.metadata)
                packets = [packet for packet in source.demux(given) if packet.size]
                begin = min(packet.pts for packet in packets)
                for number, packet in enumerate(packets):
                    packet.pts = round((packet.pts - begin) * packet.time_base / tick) + offset
                    packet.dts = number - form.reorder + offset
                    packet.duration = 1
                    packet.time_base = tick
                    packet.stream = stream
                    container.mux(packet)
            offset += length
    part.replace(out)
