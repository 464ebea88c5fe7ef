"""What was computed of each layer, kept while nothing that it came from has changed."""

from __future__ import annotations

from collections.abc import Hashable
from typing import Any, Generic, TypeVar

T = TypeVar("T")

Read = tuple[Any, ...]
"""A layer, and then the layers and scenes that it reads, and the fonts."""


class LayerCache(Generic[T]):
    """A value for each layer, kept while the layer, and all that it reads, are the same objects, and `facts` (a window
    of frames, a scene's size) are equal. From any thread; two that compute the same do it twice."""

    def __init__(self) -> None:
        self._kept: dict[str, tuple[Hashable, Read, T]] = {}

    def get(self, read: Read, facts: Hashable) -> T | None:
        """What is kept for a layer; `read` is the layer itself, and then those that it reads (`context.reads`)."""
        kept = self._kept.get(read[0].id)
        if kept is None or kept[0] != facts or len(kept[1]) != len(read):
            return None
        return kept[2] if all(old is new for old, new in zip(kept[1], read, strict=True)) else None

    def put(self, read: Read, facts: Hashable, value: T) -> None:
        """Keep what was computed."""
        self._kept[read[0].id] = (facts, read, value)

    def keep_only(self, ids: set[str]) -> None:
        """Forget layers that are gone."""
        for gone in set(self._kept) - ids:
            self._kept.pop(gone, None)
