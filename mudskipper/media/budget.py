"""The memory that decoding what comes in may take: whoever wants more than is left waits for its turn."""

from __future__ import annotations

import threading
from collections import deque
from collections.abc import Iterator
from contextlib import contextmanager

MEGABYTE = 2**20
WHOLE = 900
"""Megabytes of all files that come in, and all sounds, that are decoded at once; beside the server itself, and beside
the films that are shown (`clips.MOST_MEGABYTES`)."""


class Budget:
    """A number of megabytes, given out in the order in which they were asked for."""

    def __init__(self, megabytes: int) -> None:
        self._whole = self._left = megabytes
        self._turn = threading.Condition()
        self._line: deque[object] = deque()

    @contextmanager
    def of(self, megabytes: float) -> Iterator[None]:
        """A block with so much of it; who wants more than there is in all has it to himself."""
        need, me = min(max(int(megabytes), 1), self._whole), object()
        with self._turn:
            self._line.append(me)
            try:
                self._turn.wait_for(lambda: self._line[0] is me and self._left >= need)
                self._left -= need
            finally:
                self._line.remove(me)
                self._turn.notify_all()
        try:
            yield
        finally:
            with self._turn:
                self._left += need
                self._turn.notify_all()

    @property
    def waiting(self) -> int:
        """How many wait."""
        return len(self._line)


DECODING = Budget(WHOLE)
"""What all files that come into this process share."""
EACH = 70
"""Megabytes of a child process that has decoded nothing yet."""


def of_picture(pixels: int, size: int) -> float:
    """The megabytes that it takes to normalise a picture of so many pixels from a file of so many bytes."""
    return EACH + (pixels * 11 + size * 2) / MEGABYTE


def of_film(width: int, height: int) -> float:
    """The megabytes of a decoder of a film: the frames that its codec holds back, and one in three forms."""
    return EACH + width * height * (1.5 * 18 + 4 * 3) / MEGABYTE
