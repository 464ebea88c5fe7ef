"""Documents that were at hand lately, so that undo and redo do not read them again."""

from __future__ import annotations

import threading
from collections import OrderedDict

from ..core.document.scene import Scene

MOST = 64
MOST_TEXT = 60_000_000
"""Characters of JSON that all of them have."""


class KeptScenes:
    """The latest documents by their revisions. Those that differ in one layer share all others, and cost next to
    nothing; how many stay is bounded as if they shared none."""

    def __init__(self) -> None:
        self._scenes: OrderedDict[int, tuple[Scene, int]] = OrderedDict()
        self._lock = threading.Lock()
        self._text = 0

    def get(self, revision: int) -> Scene | None:
        """The document of a revision, where it is still at hand."""
        with self._lock:
            found = self._scenes.get(revision)
            if found is None:
                return None
            self._scenes.move_to_end(revision)
            return found[0]

    def keep(self, revision: int, scene: Scene) -> None:
        """Have a document at hand; the ones used longest ago go, but for this one."""
        text = sum(len(layer.json_text) for layer in scene.layers)
        with self._lock:
            self._text += text - self._scenes.pop(revision, (scene, 0))[1]
            self._scenes[revision] = (scene, text)
            while len(self._scenes) > 1 and (len(self._scenes) > MOST or self._text > MOST_TEXT):
                _, (_, fewer) = self._scenes.popitem(last=False)
                self._text -= fewer
