"""Calls as deep as formulas follow one another, allowed while some are evaluated, and not before or after."""

from __future__ import annotations

import sys
import threading
from collections.abc import Iterator
from contextlib import contextmanager

DEEPEST = 20_000
"""Calls of Python functions take no room on the stack of the process."""
_lock = threading.Lock()
_open = 0
_before = 0


@contextmanager
def deep_calls() -> Iterator[None]:
    """A block in which calls may go `DEEPEST` deep; from any thread."""
    global _open, _before
    with _lock:
        if not _open:
            _before = sys.getrecursionlimit()
            sys.setrecursionlimit(max(_before, DEEPEST))
        _open += 1
    try:
        yield
    finally:
        with _lock:
            _open -= 1
            if not _open:
                sys.setrecursionlimit(_before)
