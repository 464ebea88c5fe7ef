"""A film's frames by their number: decoded forward from the nearest key frame, and what was decoded last is kept."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Iterator
from typing import Any

import av
import numpy as np

from .colour import Developer

KEPT = 256 * 2**20
"""Bytes of decoded frames that are kept for what is asked next."""


REORDERED = 16
"""Frames by which a codec may change the order of frames, at most."""


LARGE = 16_000_000
"""Pixels of a frame, beyond 4K, from which on a codec gets no threads: each holds frames of its own back."""


def set_threads(stream: Any) -> None:
    """Let a stream be decoded by several threads, but for large frames."""
    context = stream.codec_context
    if context.width * context.height > LARGE:
        context.thread_count = 1
    else:
        stream.thread_type = "AUTO"


class Film:
    """One opened film. `table` (2, m) holds of its frames in order the presentation times in units of its stream, and
    whether each can be decoded by itself."""

    def __init__(self, path: str, facts: dict[str, Any], table: np.ndarray) -> None:
        self.facts = facts
        self.develop = Developer(facts)
        self._path = path
        self._stamps = table[0]
        self._keys = np.flatnonzero(table[1])
        self._kept: OrderedDict[int, av.VideoFrame] = OrderedDict()
        self._coming: Iterator[tuple[int, av.VideoFrame]] | None = None
        self._next = 0
        self._open()

    def _open(self) -> None:
        self._container = av.open(self._path)
        self._stream = self._container.streams.video[0]
        set_threads(self._stream)

    def frame(self, index: int) -> av.VideoFrame:
        """The frame of a number, as it was decoded; that before it where the film is damaged there."""
        found = self._kept.get(index)
        if found is not None:
            self._kept.move_to_end(index)
            return found
        key = self._key_before(index)
        if self._coming is None or not self._next <= index or key > self._next:
            self._seek(key, index)
        last = None
        for _ in range(2):
            for at, frame in self._coming or ():
                self._next = at + 1
                self._keep(at, frame)
                if at == index:
                    return frame
                if at > index:
                    break
                last = frame
            if last is not None:
                return last
            self._seek(0, 0)
        if last is None:
            raise LookupError(index)
        return last

    def _key_before(self, index: int) -> int:
        place = int(np.searchsorted(self._keys, index, side="right")) - 1
        return int(self._keys[place]) if place >= 0 else 0

    def _seek(self, index: int, wanted: int) -> None:
        """Go to a key frame, on the way to a wanted frame: those that no other needs are left out but for the last."""
        self._container.seek(int(self._stamps[index]), stream=self._stream, backward=True)
        self._next = index
        self._whole_from = int(self._stamps[max(wanted - REORDERED, 0)])
        self._coming = self._decoded()

    def _decoded(self) -> Iterator[tuple[int, av.VideoFrame]]:
        """Frames from where the container stands, with their numbers, but those that the film does not count."""
        for frame in self._frames():
            stamp = frame.pts
            if stamp is None:
                continue
            place = int(np.searchsorted(self._stamps, stamp))
            if place < len(self._stamps) and self._stamps[place] == stamp:
                yield place, frame

    def _frames(self) -> Iterator[av.VideoFrame]:
        name, decoder = self.facts["decoder"], self._stream.codec_context
        if name:
            decoder = av.CodecContext.create(name, "r")
            decoder.extradata = self._stream.codec_context.extradata
        for packet in self._container.demux(self._stream):
            if packet.pts is not None:
                decoder.skip_frame = "NONREF" if packet.pts < self._whole_from else "DEFAULT"
            try:
                yield from decoder.decode(packet if packet.size else None)
            except av.error.InvalidDataError:
                continue  # what is damaged is left out; what can be decoded after it comes

    def _keep(self, index: int, frame: av.VideoFrame) -> None:
        self._kept[index] = frame
        size = sum(plane.buffer_size for plane in frame.planes)
        while len(self._kept) > max(KEPT // size, 2):
            self._kept.popitem(last=False)
