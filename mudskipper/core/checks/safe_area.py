"""Text at rest outside the title-safe area, the middle 90 % (SMPTE ST 2046-1)."""

from __future__ import annotations

from typing import ClassVar

import numpy as np

from ..document.scene import Scene
from ..edits import Edit
from ..edits.many_keys import EditValues
from ..edits.values_and_keys import KeyRef, MoveLayers
from ..ground.time import timecode
from ..moves.position_keys import parts_of
from ..resolve.bounds import reached
from ..resolve.layers import ResolvedLayer
from ..tracks.evaluate import value_at
from .base import Check, Finding, box_at, opacity_of, points

SAFE = {"action": 0.93, "title": 0.90}
"""The middle parts of the frame that are safe for action and for titles (SMPTE ST 2046-1)."""


class SafeArea(Check):
    """Text at rest outside the title-safe area, the middle 90 % (SMPTE ST 2046-1): the step that brings it in."""

    name: ClassVar[str] = "safe area"

    def find(self, scene: Scene, one: ResolvedLayer) -> Finding | None:
        if one.layer.content.words is None:
            return None
        ends = reached(one)
        count = len(one.frames)
        still = np.ones(count, dtype=bool)
        still[1:] = np.abs(np.diff(ends, axis=0)).max(axis=1) < 0.01 if count > 1 else True
        margin = np.array([scene.width, scene.height]) * (1 - SAFE["title"]) / 2
        low = margin - ends[:, :2]
        high = ends[:, 2:] - (np.array([scene.width, scene.height]) - margin)
        # A text that waits entirely outside the frame is about to come in, and nobody reads it there.
        frame_size = np.array([scene.width, scene.height])
        seen = (ends[:, 2:] > 0.01).all(axis=1) & (ends[:, :2] < frame_size - 0.01).all(axis=1)
        out = (np.maximum(low, high).max(axis=1) > 0.01) & one.visible & still & seen & (opacity_of(one) > 0.5)
        if not out.any():
            return None
        frame = int(np.flatnonzero(out)[0])
        step = np.maximum(low[frame], 0) - np.maximum(high[frame], 0)
        both = (low[frame] > 0.01) & (high[frame] > 0.01)
        away = float(np.maximum(low[frame], high[frame]).max())
        sides = " on both sides" if both.any() else ""
        return Finding(
            check=self.name, layer=one.layer.id, frame=frame, figure=away,
            sentence=f"'{one.layer.name}' stands {away:.0f} px outside the title-safe area{sides} at "
            f"{timecode(frame, scene.frame_rate)}.",
            # What is larger than the area comes in by no step.
            edits=() if both.any() else _stepped(one, frame, (float(step[0]), float(step[1]))),
            lines=(points(_rectangle(margin, frame_size - margin)), box_at(one, frame)),
        )  # fmt: skip


def _rectangle(low: np.ndarray, high: np.ndarray) -> np.ndarray:
    """The line around an upright rectangle (5, 2)."""
    (left, top), (right, bottom) = low, high
    return np.array([(left, top), (right, top), (right, bottom), (left, bottom), (left, top)])


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
