"""Films whose chunks are encoded apart and joined without encoding again."""

from __future__ import annotations

from collections.abc import Iterable
from fractions import Fraction
from pathlib import Path
from typing import Any, ClassVar

import av
import numpy as np
from av.video.reformatter import ColorRange, Colorspace

from ..film import Film, Sound
from .base import whole
from .pixels import PixelFormat


class VideoFormat(PixelFormat):
    """A film of BT.709 video: its codec and container, the encoder's options, the container of a chunk, and how many
    frames the encoder may look ahead."""

    codec: ClassVar[str]
    container: ClassVar[str]
    options: ClassVar[dict[str, str]]
    chunk: ClassVar[str] = "matroska"
    reorder: ClassVar[int] = 0
    sound: ClassVar[bool] = True
    group = "film"
    sound_codec: ClassVar[str]
    sound_bits: ClassVar[int] = 192_000

    def encode(self, path: Path, frames: Iterable[np.ndarray], film: Film) -> None:
        with whole(path) as part, av.open(str(part), "w", format=self.chunk) as container:
            stream = container.add_stream(self.codec, rate=Fraction(*film.rate))
            stream.width, stream.height = film.size
            stream.pix_fmt = "yuva420p" if film.alpha and self.alpha else "yuv420p"
            context = stream.codec_context
            context.options = dict(self.options)
            context.time_base = Fraction(film.rate[1], film.rate[0])
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

    def join(self, chunks: list[Path], lengths: list[int], out: Path, film: Film, sound: Sound | None = None) -> None:
        tick = Fraction(film.rate[1], film.rate[0])
        with whole(out) as part, av.open(str(part), "w", format=self.container) as container:
            stream = None
            offset = 0
            voice: _Voice | None = None
            for chunk, length in zip(chunks, lengths, strict=True):
                with av.open(str(chunk)) as source:
                    given = source.streams.video[0]
                    if stream is None:
                        stream = container.add_stream_from_template(given)
                        stream.time_base = tick
                        stream.metadata.update(given.metadata)
                        if sound is not None:
                            voice = _Voice(container, self.sound_codec, self.sound_bits, sound)
                    packets = [packet for packet in source.demux(given) if packet.size]
                    begin = min(packet.pts for packet in packets)
                    for number, packet in enumerate(packets):
                        packet.pts = round((packet.pts - begin) * packet.time_base / tick) + offset
                        packet.dts = number - self.reorder + offset
                        packet.duration = 1
                        packet.time_base = tick
                        packet.stream = stream
                        container.mux(packet)
                offset += length
                if voice is not None:
                    voice.until(float(offset * tick))
            if voice is not None:
                voice.end()


class _Voice:
    """The sound of a film, encoded as its picture goes on, so that neither waits for the other in the file."""

    def __init__(self, container: Any, codec: str, bits: int, sound: Sound) -> None:
        self._container, self._sound = container, sound
        self._stream = container.add_stream(codec, rate=sound.rate, layout="stereo")
        self._stream.bit_rate = bits
        self._written = 0

    def until(self, seconds: float) -> None:
        """Write what is heard up to a time, a block more or less."""
        while self._written < min(seconds * self._sound.rate, self._sound.count):
            block = np.clip(next(self._sound.blocks), -1.0, 1.0)
            frame = av.AudioFrame.from_ndarray(np.ascontiguousarray(block.T), format="fltp", layout="stereo")
            frame.sample_rate = self._sound.rate
            frame.pts, frame.time_base = self._written, Fraction(1, self._sound.rate)
            self._written += len(block)
            self._container.mux(self._stream.encode(frame))

    def end(self) -> None:
        """Write what the encoder still holds."""
        self._container.mux(self._stream.encode(None))
