"""Things kept by a key, the ones used last."""

from __future__ import annotations

import threading
from collections.abc import Callable, Hashable
from typing import Generic, TypeVar

from cachetools import LRUCache

T = TypeVar("T")


class Recent(Generic[T]):
    """Makes a thing for each key, and keeps those used last; from any thread."""

    def __init__(self, made: Callable[[], T], most: int = 16) -> None:
        self._made = made
        self._kept: LRUCache[Hashable, T] = LRUCache(most)
        self._lock = threading.Lock()

    def of(self, *key: Hashable) -> T:
        """The thing of a key."""
        with self._lock:
            found = self._kept.get(key)
            if found is None:
                found = self._kept[key] = self._made()
            return found
