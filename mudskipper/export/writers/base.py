"""What every format of a file is: what it can hold, how a chunk of frames is written, and how chunks become a file."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import ClassVar

import av
import numpy as np


@dataclass(frozen=True)
class Film:
    """What is written: its size in pixels, frames a second, whether it is transparent, and its first frame."""

    size: tuple[int, int]
    rate: tuple[int, int]
    alpha: bool = False
    first: int = 0


@dataclass(frozen=True)
class Sound:
    """What is heard of a film: samples a second, how many there are, and blocks (n, 2) of them."""

    rate: int
    count: int
    blocks: Iterator[np.ndarray]


class Format(ABC):
    """A kind of file. Frames are (height, width, 4) bytes r g b a, not premultiplied."""

    kind: ClassVar[str]
    label: ClassVar[str]
    suffix: ClassVar[str]
    media_type: ClassVar[str]
    alpha: ClassVar[bool] = False
    """Whether it can be transparent; where it cannot, it is given the picture over black."""
    sound: ClassVar[bool] = False
    """Whether it can be heard."""
    still: ClassVar[bool] = False
    """Whether it holds a single frame."""

    def check(self, film: Film) -> None:  # noqa: B027, most formats hold anything
        """Refuse, in words, what the format cannot hold."""

    @abstractmethod
    def note(self, transparent: bool) -> str:
        """What it is good for, in a sentence."""

    @abstractmethod
    def write(self, path: Path, frames: Iterable[np.ndarray], film: Film) -> None:
        """Write some frames as a chunk of its own."""

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


@contextmanager
def whole(path: Path) -> Iterator[Path]:
    """A path to write to, which becomes `path` once all is written; what is written by halves is removed."""
    part = path.with_name(path.name + ".part")
    try:
        yield part
        part.replace(path)
    finally:
        part.unlink(missing_ok=True)
