"""The sound of a film or a sound file as 48 kHz in two channels, 16 bits, in step with the film's first frame.

`python -m mudskipper.media.clip_child.sound FILE OUT START`: START is when the film's first frame is shown, in seconds.
"""

from __future__ import annotations

import resource
import sys
from fractions import Fraction
from typing import BinaryIO

import av
import numpy as np

from .ending import end_with_parent

RATE = 48_000
SECONDS, MEMORY = 900, 2 * 2**30
MOST_SAMPLES = 6 * 3600 * RATE
HELD = 64
"""Samples that a resampler may have taken and not given out."""
LOOSE = RATE // 20
"""Samples by which packets may be off their times before it is mended: rounded times say nothing."""


def write_sound(path: str, out: BinaryIO, start: Fraction | None) -> int:
    """Write the samples of a file's first sound; how many there are. Gaps between its packets are silence."""
    written = 0
    with av.open(path) as container:
        stream = container.streams.audio[0]
        # One channel goes into both as loud as it is; mixers that spread it take 3 dB off.
        layout = "mono" if stream.channels == 1 else "stereo"
        resampler = av.AudioResampler(format="s16", layout=layout, rate=RATE)

        def put(frames: list[av.AudioFrame]) -> None:
            nonlocal written
            for frame in frames:
                block = frame.to_ndarray().reshape(-1, len(frame.layout.channels))
                block = np.repeat(block, 2, axis=1) if block.shape[1] == 1 else block
                room = MOST_SAMPLES - written
                out.write(np.ascontiguousarray(block[:room], dtype="<i2").tobytes())
                written += min(len(block), room)

        first = True
        try:
            for frame in container.decode(stream):
                if frame.pts is not None and frame.time_base is not None:
                    begin = frame.pts * frame.time_base
                    if start is None:
                        start = begin
                    place = round((begin - start) * RATE)
                    behind = place - written - (0 if first else HELD)
                    if first and place < 0:
                        frame = _without_head(frame, -place)
                        if frame is None:
                            continue
                    elif behind > LOOSE or (first and behind > 0):
                        put([*resampler.resample(None)] if not first else [])
                        resampler = av.AudioResampler(format="s16", layout=layout, rate=RATE)
                        gap = min(max(place - written, 0), MOST_SAMPLES - written)
                        # A hole in the file reads as silence, and takes no room.
                        out.seek(4 * gap, 1)
                        written += gap
                frame.pts = None
                put(resampler.resample(frame))
                first = False
        except av.error.FFmpegError:
            pass  # what came before the damage is kept
        put(resampler.resample(None))
    out.truncate(4 * written)
    return written


def _without_head(frame: av.AudioFrame, samples: int) -> av.AudioFrame | None:
    """A frame without what lies before the film's first; None where nothing is left of it."""
    cut = round(samples * frame.sample_rate / RATE)
    if cut >= frame.samples:
        return None
    array = frame.to_ndarray()
    channels = len(frame.layout.channels)
    left = array[:, cut:] if frame.format.is_planar else array[:, cut * channels :]
    made = av.AudioFrame.from_ndarray(np.ascontiguousarray(left), format=frame.format.name, layout=frame.layout.name)
    made.sample_rate = frame.sample_rate
    return made


if __name__ == "__main__":
    end_with_parent()
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_CPU, (SECONDS, SECONDS))
    given = sys.argv[3]
    with open(sys.argv[2], "wb") as file:
        write_sound(sys.argv[1], file, Fraction(given) if given else None)
