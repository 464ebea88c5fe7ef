"""The arrays of the last trial of a scene: where it is kept as it was tried, they are not worked out again."""

from __future__ import annotations

import numpy as np

from ..core.contents.assets import Assets
from ..core.document.scene import Scene
from ..core.geometry.bezier import Floats
from ..core.resolve.context import reads
from ..core.resolve.resolved import ResolveCache, Resolved, window_facts
from .recent import Recent


class LastTrial:
    """Of one scene."""

    def __init__(self) -> None:
        self._resolved: Resolved | None = None

    def keep(self, resolved: Resolved) -> None:
        """Keep the arrays of a trial in place of those of the one before."""
        self._resolved = resolved

    def into(self, cache: ResolveCache, scene: Scene, frames: Floats, assets: Assets) -> None:
        """Put the arrays into a cache, where the scene is the very one that was tried, at the same frames (n,)."""
        last, self._resolved = self._resolved, None
        if last is None or last.scene is not scene or not np.array_equal(last.frames, frames):
            return
        read = reads([one.layer for one in last.layers.values()], scene, assets)
        for name, one in last.layers.items():
            cache.put(read[name], window_facts(frames, scene), one)


tried = Recent(LastTrial)
