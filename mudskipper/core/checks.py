"""Automatic looks at the work. Each finding names layer, frame and figure, and brings the edits that mend it."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from .assets import Assets
from .coverage import shortfall
from .edits import Edit, apply_edits
from .edits.bulk import EditValues, Ripple
from .edits.layers import TrimSpan
from .edits.motion import KeyRef, MoveLayers, SetProperty
from .edits.scenes import SetScene
from .errors import Refused
from .geometry import bounds, corners
from .model import Model
from .position import parts_of
from .resolve import ResolvedLayer, resolve, resolve_layers
from .scene import Scene
from .time import timecode
from .tracks import Track, value_at

SAFE = {"action": 0.93, "title": 0.90}
LETTERS_A_SECOND = 15.0
LEAST_SECONDS = 1.0
JUMP = 8.0
COVERS_AT_REST = 0.98


class Finding(Model):
    """Something that a check found: `figure` in the unit that the sentence tells."""

    check: str
    layer: str
    frame: int
    figure: float
    sentence: str
    edits: tuple[Edit, ...] = ()


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
    return [finding for check in CHECKS if (finding := check(scene, one)) is not None]


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


def coverage(scene: Scene, one: ResolvedLayer) -> Finding | None:
    """A ground that covers the scene at most frames but not at all: the first bare frame, and the scale that mends it.

    A layer counts as a ground when it covers at its largest, or holds at least 98 % of the scene's width and height.
    """
    size = (scene.width, scene.height)
    if not one.layer.content.can_cover:
        return None
    count = len(one.frames)
    grow = shortfall(corners(one), np.broadcast_to(one.values["position"], (count, 2)), size)
    shown = one.visible
    covered = shown & (grow <= 1)
    ends = bounds(one)
    nearly = ((ends[:, 2:] - ends[:, :2]) >= COVERS_AT_REST * np.array(size)).all(axis=1) & shown
    if (not covered.any() and not nearly.any()) or covered[shown].all():
        return None
    if covered.sum() < 0.5 * shown.sum() and not nearly[shown].all():
        return None
    bare = int(np.flatnonzero(shown & ~covered)[0])
    need = float(grow[shown].max())
    name = one.layer.name
    told = f"'{name}' does not cover the scene at {timecode(bare, scene.frame_rate)}"
    if not np.isfinite(need):
        sentence = f"{told}; its anchor lies at or beyond the bare edge, so no scale alone mends it."
        return Finding(check="coverage", layer=one.layer.id, frame=bare, figure=0.0, sentence=sentence)
    factor = np.ceil(need * 10_000) / 10_000
    sentence = f"{told}; scaled by {factor * 100:.2f} % it covers at every frame."
    return Finding(
        check="coverage", layer=one.layer.id, frame=bare, figure=float(factor), sentence=sentence,
        edits=_scaled(one, float(factor), bare),
    )  # fmt: skip


def sharpness(scene: Scene, one: ResolvedLayer) -> Finding | None:
    """A picture enlarged beyond its own pixels: the largest enlargement, and the first frame beyond 100 %."""
    if not one.layer.content.pictures:
        return None
    matrix = np.broadcast_to(one.matrix, (len(one.frames), 6))
    sizes = np.maximum(np.hypot(matrix[:, 0], matrix[:, 1]), np.hypot(matrix[:, 2], matrix[:, 3]))
    soft = np.flatnonzero((sizes > 1.0001) & one.visible)
    if not soft.size:
        return None
    most, first = float(sizes[one.visible].max()), int(soft[0])
    return Finding(
        check="sharpness", layer=one.layer.id, frame=first, figure=most, edits=_scaled(one, 1 / most, first),
        sentence=f"'{one.layer.name}' is enlarged to {most * 100:.0f} % of its pixels; it goes soft from "
        f"{timecode(first, scene.frame_rate)} on.",
    )  # fmt: skip


def safe_area(scene: Scene, one: ResolvedLayer) -> Finding | None:
    """Text at rest outside the title-safe area, the middle 90 % (SMPTE ST 2046-1): the step that brings it in."""
    if one.layer.content.words is None:
        return None
    ends = bounds(one)
    count = len(one.frames)
    still = np.ones(count, dtype=bool)
    still[1:] = np.abs(np.diff(ends, axis=0)).max(axis=1) < 0.01 if count > 1 else True
    margin = np.array([scene.width, scene.height]) * (1 - SAFE["title"]) / 2
    low = margin - ends[:, :2]
    high = ends[:, 2:] - (np.array([scene.width, scene.height]) - margin)
    # A text that waits wholly outside the frame is about to come in, and nobody reads it there.
    frame_size = np.array([scene.width, scene.height])
    seen = (ends[:, 2:] > 0.01).all(axis=1) & (ends[:, :2] < frame_size - 0.01).all(axis=1)
    out = (np.maximum(low, high).max(axis=1) > 0.01) & one.visible & still & seen & (_opacity(one) > 0.5)
    if not out.any():
        return None
    frame = int(np.flatnonzero(out)[0])
    step = np.maximum(low[frame], 0) - np.maximum(high[frame], 0)
    away = float(np.abs(step).max())
    return Finding(
        check="safe area", layer=one.layer.id, frame=frame, figure=away,
        sentence=f"'{one.layer.name}' stands {away:.0f} px outside the title-safe area at "
        f"{timecode(frame, scene.frame_rate)}.",
        edits=_stepped(one, frame, (float(step[0]), float(step[1]))),
    )  # fmt: skip


def reading_time(scene: Scene, one: ResolvedLayer) -> Finding | None:
    """Text that is up for less time than it takes to read: 15 letters a second, and one second at least."""
    words = one.layer.content.words
    if words is None:
        return None
    shown = np.flatnonzero(one.visible & (_opacity(one) >= 0.5))
    if not shown.size:
        return None
    seconds = len(shown) / scene.fps
    needed = max(len("".join(words.split())) / LETTERS_A_SECOND, LEAST_SECONDS)
    if seconds >= needed:
        return None
    more = int(np.ceil((needed - seconds) * scene.fps))
    span = one.layer.span
    edits: tuple[Edit, ...] = (TrimSpan(layer=one.layer.id, start=span.start, length=span.length + more),)
    if span.end + more > scene.length:
        edits = (SetScene(length=span.end + more), *edits)
    return Finding(
        check="reading time", layer=one.layer.id, frame=int(shown[0]), figure=seconds,
        sentence=f"'{one.layer.name}' is up for {seconds:.1f} s and takes {needed:.1f} s to read.",
        edits=edits,
    )  # fmt: skip


def jump(scene: Scene, one: ResolvedLayer) -> Finding | None:
    """A step between two frames far larger than those around it that no hold or step explains."""
    places = corners(one)
    if len(places) < 4:
        return None
    steps = np.sqrt((np.diff(places, axis=0) ** 2).sum(axis=2)).max(axis=1)
    steps[~(one.visible[1:] & one.visible[:-1])] = 0
    around = np.maximum(np.concatenate([[0], steps[:-1]]), np.concatenate([steps[1:], [0]]))
    wild = (steps > JUMP * np.maximum(around, 1.0)) & (steps > 0.02 * np.hypot(scene.width, scene.height))
    for index in np.flatnonzero(wild):
        frame = int(index) + 1
        if not _explained(one, frame):
            return Finding(
                check="jump", layer=one.layer.id, frame=frame, figure=float(steps[index]),
                sentence=f"'{one.layer.name}' jumps by {steps[index]:.0f} px at {timecode(frame, scene.frame_rate)}.",
                edits=_eased_over(one, frame),
            )  # fmt: skip
    return None


CHECKS: tuple[Callable[[Scene, ResolvedLayer], Finding | None], ...] = (
    coverage, sharpness, safe_area, reading_time, jump,
)  # fmt: skip


def _opacity(one: ResolvedLayer) -> np.ndarray:
    return np.broadcast_to(one.opacity, (len(one.frames), 1))[:, 0]


def _scaled(one: ResolvedLayer, factor: float, frame: int) -> tuple[Edit, ...]:
    """The layer's scale multiplied: all its keys, or its rest."""
    layer = one.layer
    if layer.scale.keys:
        keys = tuple(
            KeyRef(layer=layer.id, property="scale", frame=k.frame + layer.span.start) for k in layer.scale.keys
        )
        return (EditValues(keys=keys, way="multiply", value=factor),)
    x, y = layer.scale.rest
    return (SetProperty(layer=layer.id, property="scale", value=(x * factor, y * factor), frame=float(frame)),)


def _stepped(one: ResolvedLayer, frame: int, by: tuple[float, float]) -> tuple[Edit, ...]:
    """The layer moved where it rests at a frame: all position keys that stand where it stands, or its rest."""
    layer = one.layer
    edits: list[Edit] = []
    if max(map(abs, by)) > 1e6:
        return ()
    for name, track in parts_of(layer).items():
        if not track.keys:
            continue
        here = np.atleast_1d(value_at(track, frame - layer.span.start, 1.0))
        rests = [key for key in track.keys if np.abs(np.atleast_1d(key.value) - here).max() < 0.01]
        keys = tuple(KeyRef(layer=layer.id, property=name, frame=key.frame + layer.span.start) for key in rests)
        for axis, step in enumerate(by):
            mine = name == "position" or name.endswith("xy"[axis])
            if keys and step and mine:
                part = axis if name == "position" else None
                edits.append(EditValues(keys=keys, way="add", value=step, axis=part))
    if edits or any(track.keys for track in parts_of(layer).values()):
        return tuple(edits)
    return (MoveLayers(layers=(layer.id,), frame=float(frame), by=by),)


def _tracks(one: ResolvedLayer) -> list[tuple[str, Track]]:
    return [(name, track) for name, track in one.layer.tracks.items() if len(track.keys) > 1]


def _explained(one: ResolvedLayer, frame: int) -> bool:
    """Whether a hold or steps of some track end, or a cadence or a repeat starts over, at a frame."""
    local = frame - one.layer.span.start
    for _, track in _tracks(one):
        if track.cadence is not None or "repeat" in (track.before, track.after):
            return True
        for key, after in zip(track.keys, track.keys[1:], strict=False):
            if key.frame < local <= after.frame + 1e-9 and (key.ease == "hold" or hasattr(key.ease, "steps")):
                return True
    return False


def _eased_over(one: ResolvedLayer, frame: int) -> tuple[Edit, ...]:
    """Later keys moved on, so that the stretch in which the jump lies takes six frames more."""
    return (Ripple(layers=(one.layer.id,), frame=float(frame), by=6.0),)
