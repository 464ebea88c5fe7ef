"""Sounds of clips as samples: made once by a child process, read from where they are needed."""

from __future__ import annotations

import os
import subprocess
import sys
import threading
from collections import defaultdict
from collections.abc import Callable
from contextlib import suppress
from fractions import Fraction
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from ..core.contents.assets import Squares
from ..core.geometry.bezier import Floats
from ..core.ground.errors import Refused
from ..core.resolve.sound.loudness import BLOCK, squares_of
from .budget import DECODING, EACH
from .clips import ClipFile
from .files import MediaFiles

SECONDS = 960
WHOLE = 32_768.0
PART = 20_000 * BLOCK
"""Samples of which squares are made at once."""
FORM = "2"
"""How samples are made; those of an earlier form, in which one channel was 3 dB too quiet, are made again."""
ON_DISK = 4 * 2**30
"""Bytes of samples that are kept: what was used longest ago goes first."""


class Sounds:
    """The samples of clips by their files, in a folder of their own."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        folder.mkdir(parents=True, exist_ok=True)
        self._open: dict[str, NDArray[np.int16]] = {}
        self._squares: dict[str, Floats] = {}
        self._lock = threading.Lock()
        self._making: defaultdict[str, threading.Lock] = defaultdict(threading.Lock)

    def samples(self, clip: ClipFile) -> NDArray[np.int16]:
        """All samples (n, 2) of a clip at 48 kHz, made where they are not there yet; Refused where they cannot be."""
        with self._lock:
            making = self._making[clip.digest]
        # A long film that is decoded holds up no other.
        with making:
            found = self._open.get(clip.digest)
            if found is None:
                path = self._folder / f"{Path(clip.digest).name}.{FORM}.pcm"
                if path.is_file():
                    path.touch()
                else:
                    self._make(clip, path)
                    self._let_go(path)
                found = self._open[clip.digest] = (
                    np.memmap(path, dtype="<i2", mode="r").reshape(-1, 2)
                    if path.stat().st_size
                    else np.zeros((0, 2), dtype=np.int16)
                )
            return found

    def _let_go(self, fresh: Path) -> None:
        """Remove the samples used longest ago until what is kept is within its bounds; they can be made again."""
        kept = sorted(self._folder.glob("*.pcm"), key=lambda path: path.stat().st_mtime, reverse=True)
        size = 0
        for path in kept:
            size += path.stat().st_blocks * 512
            if size > ON_DISK and path != fresh:
                path.unlink(missing_ok=True)
                with self._lock:
                    self._open.pop(path.name.split(".")[0], None)

    def read(self, clip: ClipFile, first: int, count: int) -> NDArray[np.float32]:
        """Samples (count, 2) from one on, −1…1; silence before the beginning and after the end."""
        samples = self.samples(clip)
        out = np.zeros((count, 2), dtype=np.float32)
        low, high = max(first, 0), min(first + count, len(samples))
        if low < high:
            out[low - first : high - first] = samples[low:high] / WHOLE
        return out

    def peaks(self, clip: ClipFile, edges: NDArray[np.float64]) -> NDArray[np.float32]:
        """The least and the largest sample (n, 2) of either channel between edges (n + 1,) in samples."""
        samples = self.samples(clip)
        out = np.zeros((len(edges) - 1, 2), dtype=np.float32)
        for place in range(len(edges) - 1):
            low, high = sorted((edges[place], edges[place + 1]))
            part = samples[max(int(low), 0) : max(int(np.ceil(high)), int(low) + 1)]
            if len(part):
                thin = part[:: max(len(part) // 4_000, 1)]
                out[place] = thin.min() / WHOLE, thin.max() / WHOLE
        return out

    def squares(self, clip: ClipFile) -> Floats:
        """How loud a clip is: the sums of the squares of its samples (`core.loudness.squares_of`), made once."""
        found = self._squares.get(clip.digest)
        if found is None:
            path = self._folder / f"{Path(clip.digest).name}.{FORM}.squares.npy"
            if path.is_file():
                found = np.load(path)
            else:
                samples = self.samples(clip)
                blocks = [
                    squares_of(samples[first : first + PART] / WHOLE) for first in range(0, max(len(samples), 1), PART)
                ]
                ends = np.cumsum([0.0, *(part[-1] for part in blocks)])
                found = np.concatenate([[0.0], *(part[1:] + end for part, end in zip(blocks, ends, strict=False))])
                written = path.with_name(f"{path.name}.{os.getpid()}.part")
                with written.open("wb") as file:
                    np.save(file, found)
                written.replace(path)
            self._squares[clip.digest] = found
        return found

    @staticmethod
    def _make(clip: ClipFile, path: Path) -> None:
        if not Path(clip.path).is_file():
            raise Refused("The file of the clip is missing.", where="clip", mend="Find it again in Media.")
        facts = clip.known
        begins = ""
        if facts["width"]:
            first = int(np.load(clip.stamps)[0, 0])
            begins = str(Fraction(first * facts["base"][0], facts["base"][1]))
        part = path.with_name(f"{path.name}.{os.getpid()}.part")
        try:
            with DECODING.of(EACH * 2):
                made = subprocess.run(
                    [sys.executable, "-m", "mudskipper.media.clip_child.sound", clip.path, str(part), begins],
                    capture_output=True, timeout=SECONDS,
                )  # fmt: skip
            if made.returncode != 0:
                raise Refused("The sound of the clip could not be decoded.", where="clip",
                              mend="Save it as MP4 (H.264 and AAC), then put that in its place.")  # fmt: skip
            part.replace(path)
        except subprocess.TimeoutExpired:
            raise Refused(
                f"The sound of the clip could not be decoded in {SECONDS // 60} minutes.", where="clip"
            ) from None
        finally:
            with suppress(OSError):
                part.unlink(missing_ok=True)


def squares_in(files: MediaFiles) -> Squares:
    """How loud the clips of a project are, by their ids; found when a formula asks for it."""
    sounds: list[Sounds] = []

    def squares(clip: str) -> Floats:
        if not sounds:
            sounds.append(Sounds(Path(files.sounds)))
        return sounds[0].squares(files.clips[clip])

    return squares


def samples_in(files: MediaFiles) -> Callable[[str, int, int], NDArray[np.float32]]:
    """What reads samples of the clips of a project, by their ids."""
    sounds: list[Sounds] = []

    def read(clip: str, first: int, count: int) -> NDArray[np.float32]:
        if not sounds:
            sounds.append(Sounds(Path(files.sounds)))
        return sounds[0].read(files.clips[clip], first, count)

    return read
