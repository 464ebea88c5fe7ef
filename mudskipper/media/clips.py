"""Clips from outside: probed and decoded by child processes with limits; their frames by number, kept within bounds."""

from __future__ import annotations

import json
import select
import struct
import subprocess
import sys
import threading
import time
import zipfile
from collections import OrderedDict
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from cachetools import LRUCache
from diskcache import Cache
from PIL import Image

from ..core.contents.assets import ClipInfo
from ..core.ground.errors import Refused
from .budget import DECODING, MEGABYTE, of_film

MOST_BYTES = 4 * 2**30
PROBING = 330
"""Seconds after which a probe is given up; its child gives up by itself before."""
ANSWERING = 30
"""Seconds without a frame after which a decoding child is ended."""
TRIES = 3
"""How often a child is started for the same frames."""
AT_ONCE = 3
"""Films that are decoded at once."""
A_FILM = 400
"""Megabytes for a film of which nothing is known yet."""
MOST_MEGABYTES = 1_200
"""What the children that decode films may take together; a single one may take more."""
ON_DISK = 2**30
EXACT_IN_MEMORY = 192 * 2**20
USUAL_WIDTH = 960
AHEAD = 300
"""Frames that are made ahead of what was asked for last."""
PAUSE = 0.01
WIDTHS = (160, 320, 480, 640, 960, 1280, 1920)
"""The widths of small frames: a few, so that windows and visits share them."""


@dataclass(frozen=True)
class ClipFile:
    """A clip as it is kept: its film, the time stamps of its frames, and what the probe found."""

    digest: str
    path: str
    stamps: str
    facts: str

    @property
    def known(self) -> dict[str, Any]:
        """What the probe found."""
        found: dict[str, Any] = json.loads(self.facts)
        return found

    def info(self, clip_id: str) -> ClipInfo:
        """What the core must know of it."""
        facts = self.known
        size = facts["width"], facts["height"]
        if facts["rate"] is not None:
            return ClipInfo.steady(clip_id, size, facts["count"], tuple(facts["rate"]), facts["sound"])
        try:
            stamps = np.load(self.stamps)[0]
        except (OSError, ValueError):  # the scene must open without it, too
            times = np.arange(facts["count"]) * (facts["length"] / facts["count"])
            return ClipInfo(clip_id, *size, times, facts["length"], facts["sound"])
        times = (stamps - stamps[0]) * facts["base"][0] / facts["base"][1]
        return ClipInfo(clip_id, *size, times, facts["length"], facts["sound"])


def probe_clip(path: Path, stamps: Path, name: str, rate: str = "25/1") -> dict[str, Any]:
    """What a film is, its time stamps written to a file; Refused in words where it is none that can be read.
    Numbered pictures become one at a `rate`."""
    try:
        with DECODING.of(_size_of(path)):
            child = subprocess.run(
                [sys.executable, "-m", "mudskipper.media.clip_child.probe", str(path), str(stamps), rate],
                capture_output=True, text=True, timeout=PROBING,
            )  # fmt: skip
    except subprocess.TimeoutExpired:
        raise Refused(f"The film could not be read within {PROBING} seconds.", where=name) from None
    if child.returncode != 0 or not child.stdout:
        raise Refused("The film is damaged, or needs more memory than it may take.", where=name,
                      mend="Save it as MP4 (H.264), then add it again.")  # fmt: skip
    found: dict[str, Any] = json.loads(child.stdout)
    if "refused" in found:
        raise Refused(found["refused"], where=name, mend=found["mend"])
    return found


def _size_of(path: Path) -> float:
    """The megabytes that it may take to find out what a film is: of animated pictures by what their header says, since
    they are written as films; of a pack by its first picture, with which all others agree."""
    with suppress(Exception), Image.open(path) as image:
        return of_film(*image.size) + image.width * image.height * 8 / MEGABYTE
    with suppress(Exception), zipfile.ZipFile(path) as pack:
        first = next(one for one in pack.infolist() if not one.is_dir())
        with pack.open(first) as file, Image.open(file) as image:
            return of_film(*image.size) + image.width * image.height * 8 / MEGABYTE
    # Containers are opened by the child alone, which decodes one frame.
    return A_FILM


class Decoder:
    """A child process that decodes one film; one request at a time."""

    def __init__(self, clip: ClipFile) -> None:
        self._clip = clip
        self._lock = threading.Lock()
        self._child: subprocess.Popen[bytes] | None = None
        self._retired = False
        self.megabytes = of_film(clip.known["width"], clip.known["height"])
        """What its child may take."""
        self.waiting = 0
        """How many requests wait for their turn, or have it."""

    def frames(self, indices: list[int], width: int | None) -> Iterator[bytes]:
        """Frames as they are sent, in the order asked for; empty where one cannot be decoded. A child that ended, as by
        a system short of memory, is started again, twice."""
        self.waiting += 1
        with self._lock:
            try:
                yield from self._patiently(indices, width)
            except GeneratorExit:
                self.end()  # an answer that nobody takes would be taken for the next one
                raise
            finally:
                self.waiting -= 1
                if self._retired and not self.waiting:
                    self.end()

    def _patiently(self, indices: list[int], width: int | None) -> Iterator[bytes]:
        left, tries = indices, TRIES
        while left:
            given = 0
            try:
                for block in self._answers(left, width):
                    given += 1
                    yield block
            except (OSError, EOFError) as error:
                self.end()
                tries -= 1
                # A child that says nothing for long says nothing the next time either.
                if not tries or isinstance(error, TimeoutError):
                    raise Refused(
                        "A frame of the clip could not be decoded: its film is damaged, or needs more memory than it "
                        "may take.", where="clip", mend="Save it as MP4 (H.264), and put that in its place.",
                    ) from None  # fmt: skip
            left = left[given:]

    def retire(self) -> None:
        """End the child as soon as nobody reads from it."""
        self._retired = True
        if not self.waiting:
            self.end()

    def _answers(self, indices: list[int], width: int | None) -> Iterator[bytes]:
        child = self._child = self._child or self._start()
        assert child.stdin
        child.stdin.write(json.dumps({"frames": indices, "width": width}).encode() + b"\n")
        child.stdin.flush()
        for _ in indices:
            (size,) = struct.unpack("<I", self._read(child, 4))
            yield self._read(child, size)

    def _start(self) -> subprocess.Popen[bytes]:
        clip = self._clip
        if not Path(clip.path).is_file():
            raise Refused("The file of the clip is missing.", where="clip", mend="Find it again in Media.")
        return subprocess.Popen(
            [sys.executable, "-m", "mudskipper.media.clip_child.serve", clip.path, clip.stamps, clip.facts],
            stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, bufsize=0,
        )  # fmt: skip

    @staticmethod
    def _read(child: subprocess.Popen[bytes], size: int) -> bytes:
        assert child.stdout
        parts, left, until = [], size, time.monotonic() + ANSWERING
        while left:
            wait = until - time.monotonic()
            if wait <= 0 or not select.select([child.stdout], [], [], wait)[0]:
                raise TimeoutError
            part = child.stdout.read(left)
            if not part:
                raise EOFError
            parts.append(part)
            left -= len(part)
        return b"".join(parts)

    def end(self) -> None:
        """End the child; the next request starts another."""
        child, self._child = self._child, None
        if child is not None:
            child.kill()
            child.wait()


class ClipFrames:
    """Frames of clips by their numbers: exact ones in memory, small ones on disk, both within bounds."""

    def __init__(self, folder: Path | None = None) -> None:
        self._decoders: OrderedDict[str, Decoder] = OrderedDict()
        self._exact: LRUCache[tuple[str, int], bytes] = LRUCache(EXACT_IN_MEMORY, len)
        self._lock = threading.Lock()
        self._ahead = ReadAhead(self) if folder else None
        self._small = Cache(str(folder), size_limit=ON_DISK, eviction_policy="least-recently-used") if folder else None

    def exact(self, clip: ClipFile, index: int) -> bytes:
        """A frame as r, g, b, a bytes, not premultiplied, at its own size; Refused where it cannot be decoded."""
        found = self._exact_frame(clip, index)
        if self._ahead is not None:
            # After it, so that it does not wait for those that nobody has asked for.
            self._ahead.look(clip, index, USUAL_WIDTH)
        return found

    def _exact_frame(self, clip: ClipFile, index: int) -> bytes:
        if self._ahead is not None:
            self._ahead.pause()
        key = clip.digest, index
        with self._lock:
            found = self._exact.get(key)
            if found is not None:
                return found
        (found,) = self._decoder(clip).frames([index], None)
        if not found:
            raise Refused(f"Frame {index} of the clip cannot be decoded.", where="frame")
        with self._lock, suppress(ValueError):  # larger than all that is kept
            self._exact[key] = found
        return found

    def small(self, clip: ClipFile, indices: list[int], width: int, ahead: bool = True) -> list[bytes]:
        """Frames as small pictures of the nearest of `WIDTHS` that is not smaller, in the order asked for. Those after
        them are made then, unless it is known that others are wanted next."""
        width = next((one for one in WIDTHS if one >= width), WIDTHS[-1])
        if self._ahead is not None and not ahead:
            self._ahead.pause()
        elif self._ahead is not None:
            self._ahead.look(clip, indices[-1], width)
        kept = {index: self._kept(clip, index, width) for index in indices}
        absent = [index for index, block in kept.items() if block is None]
        if absent:
            # Taken to the end: a decoder whose answer is left half-way is ended.
            for index, block in zip(absent, self._decoder(clip).frames(absent, width), strict=True):
                kept[index] = block
                if self._small is not None and block:
                    self._small.set((clip.digest, width, index), block)
        return [kept[index] or b"" for index in indices]

    def keep_ahead(self, clip: ClipFile, indices: list[int], width: int) -> None:
        """Decode small frames for later, where nobody waits for the decoder."""
        if self._small is None:
            return
        missing = [index for index in indices if (clip.digest, width, index) not in self._small]
        decoder = self._decoder(clip)
        while missing and decoder.waiting:
            time.sleep(PAUSE)
        for index, block in zip(missing, decoder.frames(missing, width) if missing else (), strict=True):
            if block:
                self._small.set((clip.digest, width, index), block)

    def _kept(self, clip: ClipFile, index: int, width: int) -> bytes | None:
        found: bytes | None = None if self._small is None else self._small.get((clip.digest, width, index))
        return found

    def _decoder(self, clip: ClipFile) -> Decoder:
        with self._lock:
            decoder = self._decoders.setdefault(clip.digest, Decoder(clip))
            self._decoders.move_to_end(clip.digest)
            gone = []
            while len(self._decoders) > 1 and (
                len(self._decoders) > AT_ONCE or sum(one.megabytes for one in self._decoders.values()) > MOST_MEGABYTES
            ):
                gone.append(self._decoders.popitem(last=False)[1])
        for one in gone:
            one.retire()
        return decoder

    def close(self) -> None:
        """End all children."""
        if self._ahead is not None:
            self._ahead.close()
        with self._lock:
            decoders = list(self._decoders.values())
            self._decoders.clear()
        for one in decoders:
            one.end()
        if self._small is not None:
            self._small.close()


class ReadAhead:
    """Makes small frames after those that were asked for last, while nobody waits for any: playing finds them."""

    def __init__(self, frames: ClipFrames) -> None:
        self._frames = frames
        self._target: tuple[ClipFile, int, int] | None = None
        self._wake = threading.Event()
        self._closed = False
        self._thread: threading.Thread | None = None

    def look(self, clip: ClipFile, index: int, width: int) -> None:
        """Go on from a frame; what was begun elsewhere is left."""
        self._target = clip, index, width
        self._wake.set()
        if self._thread is None:
            self._thread = threading.Thread(target=self._run, name="clips-ahead", daemon=True)
            self._thread.start()

    def pause(self) -> None:
        """Leave what was begun until it is said where to go on."""
        self._target = None

    def close(self) -> None:
        """Stop, and wait until nothing is under way."""
        self._closed = True
        self._wake.set()
        if self._thread is not None:
            self._thread.join(timeout=ANSWERING)

    def _run(self) -> None:
        while not self._closed:
            self._wake.wait()
            self._wake.clear()
            target = self._target
            if target is None:
                continue
            clip, start, width = target
            stop = min(start + 1 + AHEAD, clip.known["count"])
            try:
                for index in range(start + 1, stop, 2):
                    if self._closed or self._target is not target:
                        break
                    self._frames.keep_ahead(clip, [*range(index, min(index + 2, stop))], width)
            except Exception:
                continue  # what cannot be decoded is said to those who ask for it
