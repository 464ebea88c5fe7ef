"""What a film is: its size, frames and colours, as JSON on standard output; its time stamps in a file.

`python -m mudskipper.media.clip_child.probe FILM STAMPS [RATE]` answers {"refused": …, "mend": …} where it is none. An
animated picture, and a pack of numbered ones at a rate, is written as a film to STAMPS.mkv, and "converted" says so.
"""

from __future__ import annotations

import json
import resource
import sys
from fractions import Fraction
from typing import Any

import av
import numpy as np
from PIL import Image

from .animated import MOST_PIXELS as MOST_ANIMATED
from .animated import Spoilt, animated, animation_as_film, pack, pack_as_film
from .colour import has_alpha
from .ending import end_with_parent
from .limits import MOST_SIDE, fits
from .reading import set_threads

SECONDS, MEMORY = 300, 3 * 2**30
MOST_FRAMES = 1_000_000
MOST_HOURS = 6
MOST_STREAMS = 64
ALPHA_DECODERS = {"vp8": "libvpx", "vp9": "libvpx-vp9"}
MISSING = 1.0
"""Seconds by which a film may be shorter than it says."""
NEAR = 0.51
"""Ticks of its clock by which a frame may be off a constant rate, since its time was rounded to one."""


class Unreadable(Exception):
    """What is wrong with a film, and what can be done."""

    def __init__(self, sentence: str, mend: str = "Save it as MP4 (H.264), then add it again.") -> None:
        super().__init__(sentence)
        self.sentence, self.mend = sentence, mend


def probe(path: str) -> tuple[dict[str, Any], np.ndarray]:
    """The facts of a film; and of each frame in order (2, m) its time stamp in units of its stream, and whether it is a
    key frame."""
    try:
        container = av.open(path, options={"fflags": "+genpts"})
    except av.error.FFmpegError as error:
        raise Unreadable(_why_not(path, error)) from None
    with container:
        if len(container.streams) > MOST_STREAMS:
            raise Unreadable(f"The file holds {len(container.streams)} streams, and at most {MOST_STREAMS} are read.")
        videos = [one for one in container.streams.video if not _is_cover(one)]
        if not videos and container.streams.audio:
            return _sound_facts(container), np.zeros((2, 1), dtype=np.int64)
        if not videos:
            raise Unreadable("The file holds neither a film nor a sound.", "Choose a film or a sound file.")
        stream = videos[0]
        if stream.codec_context is None or stream.codec_context.name is None:
            raise Unreadable("The film is written by a codec that is not known here.")
        _check_size(stream.codec_context.width, stream.codec_context.height)
        stamps, keys, last = _stamps(container, stream)
        first = _first_frame(path, stream)
        facts = _facts(container, stream, stamps, last, first)
        says = (container.duration or 0) / av.time_base
        if says > facts["length"] + MISSING:
            facts["note"] = (
                f"The film is cut off: it says that it lasts {says:.1f} s, and {facts['length']:.1f} s of it are there."
            )
        return facts, np.stack([stamps, np.isin(stamps, keys)])


def _sound_facts(container: Any) -> dict[str, Any]:
    """The facts of a file that holds only sound, as of a film without a picture."""
    stream = container.streams.audio[0]
    ends, begins = 0, None
    try:
        for packet in container.demux(stream):
            if packet.size and packet.pts is not None:
                begins = packet.pts if begins is None else min(begins, packet.pts)
                ends = max(ends, packet.pts + (packet.duration or 0))
    except av.error.FFmpegError:
        pass  # what came before the damage is taken
    length = float((ends - (begins or 0)) * stream.time_base)
    if length <= 0:
        raise Unreadable(
            "No sound can be found in the file: it is cut off or damaged.", "Save it as WAV, then add that."
        )
    if length > MOST_HOURS * 3600:
        raise Unreadable(
            f"A sound may last at most {MOST_HOURS} hours, and this one lasts {length / 3600:.1f}.",
            "Cut the part that is needed out of it, then add that.",
        )
    return {
        "count": 1, "rate": None, "length": length, "base": [1, 1], "width": 0, "height": 0, "turn": 0, "decoder": "",
        "alpha": False, "codec": stream.codec_context.name, "sound": True, "stream": stream.index,
    }  # fmt: skip


def _facts(container: Any, stream: Any, stamps: np.ndarray, last: int, first: av.VideoFrame) -> dict[str, Any]:
    base = Fraction(stream.time_base)
    facts = _times(stamps, last, base, stream.average_rate)
    if facts["length"] > MOST_HOURS * 3600:
        raise Unreadable(
            f"A film may last at most {MOST_HOURS} hours, and this one lasts {facts['length'] / 3600:.1f}.",
            "Cut the part that is needed out of it, then add that.",
        )
    lasts = (container.duration or 0) / av.time_base
    if lasts > facts["length"] + MISSING:
        facts["note"] = (
            f"The film is cut off: it says that it lasts {lasts:.1f} s, and {facts['length']:.1f} s of it are there."
        )
    codec = stream.codec_context.name
    says_alpha = "1" in (stream.metadata.get("alpha_mode"), stream.metadata.get("ALPHA_MODE"))
    decoder = ALPHA_DECODERS.get(codec, "") if says_alpha else ""
    width, height, turn = _upright(first, stream)
    _check_size(width, height)
    return facts | {
        "base": [base.numerator, base.denominator], "width": width, "height": height, "turn": turn,
        "decoder": decoder, "alpha": bool(decoder) or has_alpha(first.format.name), "codec": codec,
        "sound": bool(container.streams.audio), "stream": stream.index,
    }  # fmt: skip


def _converted(image: Image.Image, out: str) -> tuple[dict[str, Any], np.ndarray]:
    _check_size(image.width, image.height)
    count = getattr(image, "n_frames", 1)
    pixels = count * image.width * image.height
    if pixels > MOST_ANIMATED:
        raise Unreadable(
            f"The {count:,} frames of this picture hold {pixels / 1e9:.1f} thousand million pixels together, and at "
            f"most {MOST_ANIMATED / 1e9:g} are taken in.",
            "Save it as MP4 (H.264), then add it again.",
        )
    try:
        timing = animation_as_film(image, out)
    except (OSError, SyntaxError, ValueError, EOFError):
        raise Unreadable("The picture begins well but is damaged.", "Save it again and retry.") from None
    facts, stamps = probe(out)
    return facts | timing | {"codec": str(image.format).lower(), "converted": True}, stamps


def _is_cover(stream: Any) -> bool:
    return bool(int(getattr(stream, "disposition", 0) or 0) & 0x400)


def _check_size(width: int, height: int) -> None:
    if not fits(width, height):
        raise Unreadable(
            f"A film may be at most {MOST_SIDE:,} pixels wide and high, and this one is {width:,} × {height:,}.",
            "Save it smaller, then add it again.",
        )


def _why_not(path: str, error: Exception) -> str:
    with open(path, "rb") as file:
        start = file.read(4096)
    if not start:
        return "The file is empty."
    if b"ftyp" in start[:64]:
        return "The film has no index, so its end is missing: the file is cut off or was not finished."
    if all(byte in b"\t\n\r" or 32 <= byte < 127 for byte in start[:512]):
        return "A clip must be a film, and this is a text by its content."
    return (
        "A clip must be an MP4, MOV, WebM, MKV, GIF, animated PNG or WebP file, a ZIP of pictures, or a WAV, MP3, AAC, "
        "FLAC, Ogg or Opus sound, and this is none of them."
    )


def _stamps(container: Any, stream: Any) -> tuple[np.ndarray, list[int], int]:
    """The time stamps of all frames, those of the key frames, and for how long the last one is shown."""
    found: list[int] = []
    keys: list[int] = []
    last: tuple[int, int] = (-(2**62), 0)
    try:
        for packet in container.demux(stream):
            if not packet.size or packet.pts is None or packet.is_discard:
                continue
            if len(found) >= MOST_FRAMES:
                raise Unreadable(
                    f"A film may have at most {MOST_FRAMES:,} frames, and this one has more.",
                    "Cut the part that is needed out of it, then add that.",
                )
            found.append(packet.pts)
            last = max(last, (packet.pts, packet.duration or 0))
            if packet.is_keyframe:
                keys.append(packet.pts)
    except av.error.FFmpegError:
        pass  # what came before the damage is taken
    if not found:
        raise Unreadable("No frame of the film can be found: the file is cut off or damaged.")
    return np.unique(np.array(found, dtype=np.int64)), sorted(keys), last[1]


def _first_frame(path: str, stream: Any) -> av.VideoFrame:
    """The first frame that can be decoded."""
    try:
        with av.open(path) as again:
            found = again.streams[stream.index]
            set_threads(found)
            for frame in again.decode(found):
                return frame
    except av.error.FFmpegError as error:
        if "encrypt" in str(error).lower():
            mend = "Choose a file without protection."
            raise Unreadable("The film is encrypted, and cannot be read.", mend) from None
        raise Unreadable(f"The film cannot be decoded ({stream.codec_context.name}).") from None
    raise Unreadable("No frame of the film can be decoded: it is damaged, encrypted, or its codec is missing.")


def _upright(frame: av.VideoFrame, stream: Any) -> tuple[int, int, int]:
    """Width and height with square pixels, upright, and by how many degrees it is turned for that, anticlockwise."""
    aspect = stream.sample_aspect_ratio or Fraction(1)
    wide = Fraction(aspect) if aspect and aspect > 0 else Fraction(1)
    size = (max(round(frame.width * wide), 1), frame.height)
    turn = round(getattr(frame, "rotation", 0) or 0) % 360
    return (*(size[::-1] if turn in (90, 270) else size), turn)


def _times(stamps: np.ndarray, last: int, base: Fraction, rate: Fraction | None) -> dict[str, Any]:
    """Frames at a constant rate where they are that but for the rounding of their stamps, else each with its own."""
    count = len(stamps)
    from_first = stamps - stamps[0]
    for one in _rates(from_first, base, rate):
        exact = np.arange(count) / (float(one) * float(base))
        if np.abs(exact - from_first).max() <= NEAR:
            return {"count": count, "rate": [one.numerator, one.denominator], "length": count / float(one)}
    step = last or (int(from_first[-1] - from_first[-2]) if count > 1 else 0)
    shown = float(base) * step if step else float(1 / rate if rate else Fraction(1, 25))
    return {"count": count, "rate": None, "length": float(base) * int(from_first[-1]) + shown}


def _rates(from_first: np.ndarray, base: Fraction, rate: Fraction | None) -> list[Fraction]:
    """Rates that a film may have: what it says, and the usual one nearest to its mean."""
    found = [Fraction(rate)] if rate else []
    if len(from_first) > 1 and from_first[-1]:
        mean = Fraction(len(from_first) - 1) / (int(from_first[-1]) * base)
        usual = [Fraction(n * 1000, 1001) for n in (24, 30, 48, 60, 120)] + [Fraction(max(round(mean), 1))]
        found.append(min(usual, key=lambda one: abs(one - mean)))
        found.append(mean.limit_denominator(1001))
    return [one for one in found if Fraction(1, 10) <= one <= 1000]


def main(path: str, stamps_path: str, rate: str = "25/1") -> dict[str, Any]:
    try:
        facts, stamps = _read(path, f"{stamps_path}.mkv", Fraction(rate))
    except Unreadable as why:
        return {"refused": why.sentence, "mend": why.mend}
    np.save(stamps_path, stamps)
    return facts


def _read(path: str, out: str, rate: Fraction) -> tuple[dict[str, Any], np.ndarray]:
    """Probe a film as it is, or what is no film yet after it was written as one."""
    image, pictures = animated(path), pack(path)
    if image is not None:
        return _converted(image, out)
    if pictures is not None:
        with pictures:
            try:
                timing = pack_as_film(pictures, rate, out)
            except Spoilt as why:
                raise Unreadable(str(why), "Pack numbered pictures of one size, and nothing else.") from None
        facts, stamps = probe(out)
        return facts | timing | {"codec": "pictures", "converted": True}, stamps
    return probe(path)


if __name__ == "__main__":
    end_with_parent()
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_CPU, (SECONDS, SECONDS))
    print(json.dumps(main(*sys.argv[1:4])))
