"""A step between two frames far larger than those around it that no hold or step explains."""

from __future__ import annotations

from typing import ClassVar

import numpy as np

from ..easing_cut import jumps_of
from ..edits import Edit
from ..edits.many_keys import Ripple
from ..layer_bounds import content_corners, corners
from ..resolved_layer import ResolvedLayer
from ..scene import Scene
from ..time import timecode
from ..tracks import Track
from .base import Check, Finding, Points, box_at, points

JUMP = 8.0
"""How many times larger than those around it a step is a jump."""


class Jump(Check):
    """A step between two frames far larger than those around it that no hold or step explains."""

    name: ClassVar[str] = "jump"

    def find(self, scene: Scene, one: ResolvedLayer) -> Finding | None:
        places = corners(one) if one.framed is None else np.concatenate([corners(one), content_corners(one)], axis=1)
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
                    check=self.name, layer=one.layer.id, frame=frame, figure=float(steps[index]),
                    sentence=f"'{one.layer.name}' jumps by {steps[index]:.0f} px at "
                    f"{timecode(frame, scene.frame_rate)}.",
                    edits=_eased_over(one, frame),
                    lines=(box_at(one, frame - 1), box_at(one, frame), _way(places, frame)),
                )  # fmt: skip
        return None


def _way(places: np.ndarray, frame: int) -> Points:
    """From the middle of the box at the frame before to that at a frame."""
    return points(places[frame - 1 : frame + 1].mean(axis=1))


def _tracks(one: ResolvedLayer) -> list[tuple[str, Track]]:
    return [(name, track) for name, track in one.layer.tracks.items() if len(track.keys) > 1]


def _explained(one: ResolvedLayer, frame: int) -> bool:
    """Whether a hold or steps of some track end, or a cadence or a repeat starts over, at a frame."""
    local = frame - one.layer.span.start
    for _, track in _tracks(one):
        if track.cadence is not None or "repeat" in (track.before, track.after):
            return True
        for key, after in zip(track.keys, track.keys[1:], strict=False):
            if key.frame < local <= after.frame + 1e-9 and (key.ease == "hold" or jumps_of(key.ease)):
                return True
    return False


def _eased_over(one: ResolvedLayer, frame: int) -> tuple[Edit, ...]:
    """Later keys moved on, so that the stretch in which the jump lies takes six frames more."""
    return (Ripple(layers=(one.layer.id,), frame=float(frame), by=6.0),)
