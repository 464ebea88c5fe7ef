"""Documents that were at hand lately, so that undo and redo do not read them again."""

from __future__ import annotations

import threading
from contextlib import suppress

from cachetools import LRUCache

from ..core.document.scene import Scene

MOST_TEXT = 60_000_000
"""Characters of JSON that all of them have."""
LEAST_EACH = MOST_TEXT // 64
"""What a document counts at least, so that there are never too many of them."""


class KeptScenes:
    """The latest documents by their revisions. Those that differ in one layer share all others, and cost next to
    nothing; how many stay is bounded as if they shared none."""

    def __init__(self) -> None:
        self._scenes: LRUCache[int, Scene] = LRUCache(MOST_TEXT, _counts)
        self._lock = threading.Lock()
        self._last: tuple[int, Scene] | None = None

    def get(self, revision: int) -> Scene | None:
        """The document of a revision, where it is still at hand."""
        with self._lock:
            if self._last is not None and self._last[0] == revision:
                return self._last[1]
            return self._scenes.get(revision)

    def keep(self, revision: int, scene: Scene) -> None:
        """Have a document at hand, whatever its size, until the next; those used longest ago go."""
        with self._lock:
            self._last = revision, scene
            with suppress(ValueError):  # larger than all that is kept
                self._scenes[revision] = scene


def _counts(scene: Scene) -> int:
    return max(sum(len(layer.json_text) for layer in scene.layers), LEAST_EACH)
