"""Automatic looks at the work, each a file of its own and a line in the list here.

A finding names layer, frame and figure, and brings the edits that mend it.
"""

from __future__ import annotations

import numpy as np

from ..contents.assets import Assets
from ..document.scene import Scene
from ..edits import apply_edits
from ..ground.errors import Refused
from ..ground.kinds import Kinds
from ..resolve.cache import LayerCache
from ..resolve.context import Context, reads
from ..resolve.layers import ResolvedLayer
from ..resolve.resolved import resolve
from .base import Check, Finding, or_left, rescaled
from .block import BlockCheck
from .cascade import CascadeCheck
from .clip_end import ClipEnd
from .coverage import Coverage
from .cut_step import CutStep
from .font import FontCheck
from .formula import Formula
from .jump import Jump
from .never_shows import NeverShows
from .reading_time import ReadingTime
from .safe_area import SAFE, SafeArea
from .sharpness import Sharpness
from .split_shots import parts_of_shot

CHECKS: Kinds[Check] = Kinds(
    "mudskipper.checks",
    Coverage(),
    Sharpness(),
    SafeArea(),
    ReadingTime(),
    Jump(),
    Formula(),
    FontCheck(),
    BlockCheck(),
    CascadeCheck(),
    ClipEnd(),
    NeverShows(),
    CutStep(),
)

AT_ONCE = 200_000
"""Layers times frames that are resolved together: what is kept in memory of a large scene is bounded."""


CheckCache = LayerCache[list[Finding]]
"""Keeps what was found in layers that did not change, in a scene of the same size, length and rate."""


def check_scene(scene: Scene, assets: Assets, cache: LayerCache[list[Finding]] | None = None) -> list[Finding]:
    """All findings of a scene, by layer, front first; a mend is offered only where it clears its finding and adds
    none. What a layer leaves as it is stands among them as `left`."""
    cache = LayerCache() if cache is None else cache
    facts = (scene.width, scene.height, scene.length, scene.frame_rate)
    read = reads(scene.layers, scene, assets)
    found = {layer.id: cache.get(read[layer.id], facts) for layer in scene.layers}
    missing = [name for name, known in found.items() if known is None]
    step = max(AT_ONCE // scene.length, 1)
    for start in range(0, len(missing), step):
        part = resolve(scene, np.arange(scene.length), assets, ids=missing[start : start + step])
        for name, one in part.layers.items():
            found[name] = _findings(scene, one, part.context)
            cache.put(read[name], facts, found[name] or [])
    cache.keep_only(set(found))
    _beside_others(scene, found, assets)
    every = [finding for layer in reversed(scene.layers) for finding in found[layer.id] or ()]
    figures = {one.layer: one.figure for one in every if one.check == Coverage.name and one.edits}
    return [_with_parts(scene, finding, figures, assets) for finding in every]


def _beside_others(scene: Scene, found: dict[str, list[Finding] | None], assets: Assets) -> None:
    """Add what checks find that look at layers beside others, which is not kept."""
    every = _over(scene, assets)
    known = {(one.check, one.layer) for one in every}
    for finding in every:
        finding = or_left(finding, scene.layer(finding.layer))
        if not finding.left and not _clears_beside(scene, finding, known, assets):
            finding = _unmended(finding)
        found[finding.layer] = [*(found[finding.layer] or ()), finding]


def _over(scene: Scene, assets: Assets) -> list[Finding]:
    """What all checks find in layers beside others."""
    context = Context(scene, assets)
    return [finding for check in CHECKS for finding in check.over(scene, context)]


def _clears_beside(scene: Scene, finding: Finding, known: set[tuple[str, str]], assets: Assets) -> bool:
    """Whether a mend clears what was found in a layer beside others, and leaves what it changes well."""
    if not finding.edits:
        return True
    try:
        after = apply_edits(scene, list(finding.edits), assets).scene
    except Refused:
        return False
    then = {(one.check, one.layer) for one in _over(after, assets)}
    if (finding.check, finding.layer) in then or then - known:
        return False
    return _stay_well(scene, finding.model_copy(update={"parts": finding.edits}), assets)


def _findings(scene: Scene, one: ResolvedLayer, context: Context) -> list[Finding]:
    """What is found in a layer, with the mends that clear it; what it leaves as it is last."""
    assets = context.assets
    mine = _of_layer(scene, one, context)
    left = [finding for finding in mine if finding.check in one.layer.unchecked]
    return [
        *(
            finding if _clears(scene, finding, one, mine, assets) else _unmended(finding)
            for finding in mine
            if finding not in left
        ),
        *(or_left(finding, one.layer) for finding in left),
    ]


def _of_layer(scene: Scene, one: ResolvedLayer, context: Context) -> list[Finding]:
    """What the checks find in one layer."""
    if not one.visible.any() or not one.layer.content.shows:
        return []
    found = (check.look(scene, one, context) for check in CHECKS)
    return [finding for finding in found if finding is not None]


def _unmended(finding: Finding) -> Finding:
    return finding.model_copy(update={"edits": ()})


def _with_parts(scene: Scene, finding: Finding, figures: dict[str, float], assets: Assets) -> Finding:
    """The finding with the mend of all parts of its shot, where it has others and all of them stay well: by the largest
    of the factors that they need."""
    if finding.check != Coverage.name or not finding.edits:
        return finding
    layer = scene.layer(finding.layer)
    shot = [layer, *parts_of_shot(scene, layer)]
    factor = max(figures.get(part.id, 0.0) for part in shot)
    edits = tuple(edit for part in shot for edit in rescaled(part, factor, part.span.start))
    mended = finding.model_copy(update={"parts": edits})
    return mended if len(shot) > 1 and _stay_well(scene, mended, assets) else finding


def _stay_well(scene: Scene, finding: Finding, assets: Assets) -> bool:
    """Whether the mend of all parts of a shot leaves each of the others without any finding that it had not."""
    try:
        after = apply_edits(scene, list(finding.parts), assets).scene
    except Refused:
        return False
    changed = [layer.id for layer in after.layers if layer is not scene.layer(layer.id)]
    was, now = (resolve(one, np.arange(one.length), assets, ids=changed) for one in (scene, after))
    for name in changed:
        before, then = was.layers[name], now.layers[name]
        known = {other.check for other in _of_layer(scene, before, was.context)}
        if any(check.spoilt(after, before, then) for check in CHECKS):
            return False
        if any(other.check not in known for other in _of_layer(after, then, now.context)):
            return False
    return True


def _clears(scene: Scene, finding: Finding, was: ResolvedLayer, before: list[Finding], assets: Assets) -> bool:
    """Whether a finding's edits can be made, and leave the layer without it and without any that was not there."""
    if not finding.edits:
        return True
    try:
        after = apply_edits(scene, list(finding.edits), assets).scene
    except Refused:
        return False
    resolved = resolve(after, np.arange(after.length), assets, ids=[finding.layer])
    one = resolved.layers[finding.layer]
    if any(check.spoilt(after, was, one) for check in CHECKS):
        return False
    known = {other.check for other in before} - {finding.check}
    return all(other.check in known for other in _of_layer(after, one, resolved.context))


__all__ = ["CHECKS", "SAFE", "Check", "CheckCache", "Finding", "check_scene"]
