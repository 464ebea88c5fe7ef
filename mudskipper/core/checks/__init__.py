"""Automatic looks at the work, each a file of its own and a line in the list here.

A finding names layer, frame and figure, and brings the edits that mend it.
"""

from __future__ import annotations

import numpy as np

from ..assets import Assets
from ..edits import apply_edits
from ..errors import Refused
from ..resolve import ResolvedLayer, resolve, resolve_layers
from ..scene import Scene
from .base import Check, Finding
from .coverage import Coverage
from .jump import Jump
from .reading_time import ReadingTime
from .safe_area import SAFE, SafeArea
from .sharpness import Sharpness

CHECKS: list[Check] = [Coverage(), Sharpness(), SafeArea(), ReadingTime(), Jump()]
"""A check from outside is added to this list."""


def check_scene(scene: Scene, assets: Assets) -> list[Finding]:
    """All findings of a scene, by layer, front first; a mend is offered only where it clears its finding and adds
    none."""
    resolved = resolve(scene, np.arange(scene.length), assets)
    found: list[Finding] = []
    for one in reversed(list(resolved.layers.values())):
        mine = _of_layer(scene, one)
        found += [finding if _clears(scene, finding, mine, assets) else _unmended(finding) for finding in mine]
    return found


def _of_layer(scene: Scene, one: ResolvedLayer) -> list[Finding]:
    """What the checks find in one layer."""
    if not one.visible.any():
        return []
    return [finding for check in CHECKS if (finding := check.find(scene, one)) is not None]


def _unmended(finding: Finding) -> Finding:
    return finding.model_copy(update={"edits": ()})


def _clears(scene: Scene, finding: Finding, before: list[Finding], assets: Assets) -> bool:
    """Whether a finding's edits can be made, and leave the layer without it and without any that was not there."""
    if not finding.edits:
        return True
    try:
        after = apply_edits(scene, list(finding.edits), assets).scene
    except Refused:
        return False
    (one,) = resolve_layers([after.layer(finding.layer)], np.arange(float(after.length)), assets, after.fps)
    known = {other.check for other in before} - {finding.check}
    return all(other.check in known for other in _of_layer(after, one))


__all__ = ["CHECKS", "SAFE", "Check", "Finding", "check_scene"]
