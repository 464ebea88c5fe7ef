"""Films whose chunks are encoded apart and joined without encoding again."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Iterable
from fractions import Fraction
from pathlib import Path
from typing import Any, ClassVar

import av
import numpy as np
from av.video.reformatter import ColorRange, Colorspace

from ...core.ground.errors import Refused
from ..choices import PLAIN_QUALITY
from ..film import Film, Sound
from .base import whole
from .pixels import PixelFormat

LEAST_BITS = 20_000
"""Bits a second with which a picture is still one."""


class VideoFormat(PixelFormat):
    """A film of BT.709 video: its codec and container, the container of a chunk, how many frames the encoder may look
    ahead, the forms of its pixels, and the tag by which players know its codec where it is not the usual one."""

    codec: ClassVar[str]
    container: ClassVar[str]
    chunk: ClassVar[str] = "matroska"
    reorder: ClassVar[int] = 0
    opaque_form: ClassVar[str] = "yuv420p"
    alpha_form: ClassVar[str] = "yuva420p"
    tag: ClassVar[str] = ""
    takes: tuple[str, ...] = (*PixelFormat.takes, "quality", "most", "sound")
    sized: bool = True
    """Whether it can be asked for a size."""
    fewest: ClassVar[int] = 1
    sound = True
    group = "film"
    sound_codec: ClassVar[str]
    sound_bits: ClassVar[int] = 192_000
    sound_bytes: int = 24_000
    sound_form: ClassVar[str] = "fltp"

    def __init_subclass__(cls) -> None:
        if not cls.sized:
            cls.takes = tuple(name for name in cls.takes if name != "most")

    @abstractmethod
    def options(self, film: Film) -> dict[str, str]:
        """What the encoder is asked for."""

    def by_quality(self, film: Film, plain: float, best: float, least: float) -> float:
        """The encoder's number for a quality: at 80, at 100 and at 0, straight lines between."""
        return float(np.interp(film.choices.quality, [0, PLAIN_QUALITY, 100], [least, plain, best]))

    def rate_options(self, film: Film, quality: str) -> dict[str, str]:
        """An encoder's options for a quality, or for as many bits a second as make a size."""
        if film.choices.most is None:
            return {"crf": quality}
        bits = str(round(self.picture_bits(film)))
        return {"b": bits, "maxrate": bits, "bufsize": bits}

    def picture_bits(self, film: Film) -> float:
        """Bits a second that are left for the picture of a film of a size at most."""
        heard = self.sound_bits if film.choices.sound else 0
        return 0.94 * (film.choices.most or 0.0) * 8e6 / max(film.seconds, 0.04) - heard

    def check(self, film: Film) -> None:
        if min(film.size) < self.fewest:
            raise Refused(
                f"{self.label} holds no side of less than {self.fewest} px, and this one has {min(film.size)}.",
                mend="Export WebM (VP9), or larger.",
            )
        if film.choices.most is not None and film.count and self.picture_bits(film) < LEAST_BITS:
            least = (LEAST_BITS + (self.sound_bits if film.choices.sound else 0)) * film.seconds / 8e6 / 0.94
            raise Refused(
                f"{film.choices.most:g} MB hold no film of {film.seconds:.3g} s.", where="most",
                mend=f"Ask for {np.ceil(least * 100) / 100:g} MB at least, or leave the sound out.",
            )  # fmt: skip

    def encode(self, path: Path, frames: Iterable[np.ndarray], film: Film) -> None:
        with whole(path) as part, av.open(str(part), "w", format=self.chunk) as container:
            stream = container.add_stream(self.codec, rate=Fraction(*film.rate))
            stream.width, stream.height = film.size
            stream.pix_fmt = self.alpha_form if film.alpha and self.alpha else self.opaque_form
            context = stream.codec_context
            context.options = self.options(film)
            if self.tag:
                context.codec_tag = self.tag
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
                # Where every frame has a header of its own, it says these.
                frame.color_primaries, frame.color_trc = 1, 13
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
                        stream = container.add_stream_from_template(given, opaque=True)
                        stream.time_base = tick
                        stream.metadata.update(given.metadata)
                        if sound is not None:
                            voice = _Voice(container, self.sound_codec, self.sound_form, self.sound_bits, sound)
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

    def __init__(self, container: Any, codec: str, form: str, bits: int, sound: Sound) -> None:
        self._container, self._sound, self._form = container, sound, form
        self._stream = container.add_stream(codec, rate=sound.rate, layout="stereo")
        self._stream.bit_rate = bits
        self._written = 0

    def until(self, seconds: float) -> None:
        """Write what is heard up to a time, a block more or less."""
        while self._written < min(seconds * self._sound.rate, self._sound.count):
            block = np.clip(next(self._sound.blocks), -1.0, 1.0)
            if self._form == "fltp":
                samples = np.ascontiguousarray(block.T)
            else:
                samples = np.rint(block.astype(np.float64) * (2**31 - 1)).astype(np.int32).reshape(1, -1)
            frame = av.AudioFrame.from_ndarray(samples, format=self._form, layout="stereo")
            frame.sample_rate = self._sound.rate
            frame.pts, frame.time_base = self._written, Fraction(1, self._sound.rate)
            self._written += len(block)
            self._container.mux(self._stream.encode(frame))

    def end(self) -> None:
        """Write what the encoder still holds."""
        self._container.mux(self._stream.encode(None))
