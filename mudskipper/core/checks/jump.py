"""A step between two frames far larger than those around it that no hold or step explains."""

from __future__ import annotations

from itertools import pairwise
from typing import ClassVar

import numpy as np

from ..document.scene import Layer, Scene
from ..easings.cut import jumps_of
from ..edits import Edit
from ..edits.many_keys import Ripple
from ..formulas.language import read
from ..formulas.reader import Program
from ..geometry.bezier import Floats
from ..geometry.transform import apply, inverse, multiply
from ..ground.time import timecode
from ..resolve.corners import content_corners, corners
from ..resolve.layers import ResolvedLayer
from ..tracks.base import Track
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
        # A jump of what carries it is found there.
        own = _in_carrier(one, places)
        if own is None:
            return None
        steps = np.sqrt((np.diff(own, axis=0) ** 2).sum(axis=2)).max(axis=1)
        steps[~(one.visible[1:] & one.visible[:-1])] = 0
        around = np.maximum(np.concatenate([[0], steps[:-1]]), np.concatenate([steps[1:], [0]]))
        wild = (steps > JUMP * np.maximum(around, 1.0)) & (steps > 0.02 * np.hypot(scene.width, scene.height))
        for index in np.flatnonzero(wild):
            frame = int(index) + 1
            if not _explained(one.layer, scene, frame):
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


def _in_carrier(one: ResolvedLayer, places: Floats) -> Floats | None:
    """Places (n, k, 2) in the space of what carries a layer, as large as they are seen at the first frame; None where
    that has collapsed."""
    if one.carrier is None or len(one.carrier) == 1:
        return places
    back = inverse(one.carrier)
    return None if back is None else apply(multiply(one.carrier[:1], back)[:, None], places)


BY_NATURE = (".copies", ".sides", ".points", ".written")
"""How the paths of tracks end whose values step by nature: copies, corners, words."""
STEPPING = frozenset({"step", "floor", "ceil", "round", "square", "saw", "fract", "stepped", "if_before", "index"})
"""Words of formulas that jump on purpose."""


def _explained(layer: Layer, scene: Scene, frame: int, seen: frozenset[str] = frozenset()) -> bool:
    """Whether a hold or steps of some track end, a cadence or a repeat starts over, copies come or go, or a formula
    jumps on purpose, at a scene frame: of the layer itself, or of one that its formulas read."""
    local = frame - layer.span.start
    for path, track in layer.tracks.items():
        if track.formula is not None and _jumps_on_purpose(track.formula):
            return True
        if path.endswith(BY_NATURE) and track.moves:
            return True
        if len(track.keys) > 1 and _steps_at(track, local):
            return True
    read = [one for one in scene.layers if one.name in layer.named and one.id not in seen]
    around = seen | {layer.id}
    delayed = any(".at(" in text for text in layer.formulas.values())
    return any(_holds(one) if delayed else _explained(one, scene, frame, around) for one in read)


def _steps_at(track: Track, local: float) -> bool:
    """Whether a track jumps on purpose at a frame counted from its layer's start."""
    if track.cadence is not None or "repeat" in (track.before, track.after):
        return True
    return any(
        key.frame < local <= after.frame + 1e-9 and (key.ease == "hold" or jumps_of(key.ease))
        for key, after in pairwise(track.keys)
    )


def _holds(layer: Layer) -> bool:
    """Whether anything of a layer ever jumps on purpose."""
    return any(
        track.cadence is not None or "repeat" in (track.before, track.after)
        or any(key.ease == "hold" or jumps_of(key.ease) for key in track.keys[:-1])
        for track in layer.tracks.values()
    )  # fmt: skip


def _jumps_on_purpose(text: str) -> bool:
    found = read(text)
    return isinstance(found, Program) and (
        bool(found.names & STEPPING) or " if " in text or "%" in text or "//" in text
    )


def _eased_over(one: ResolvedLayer, frame: int) -> tuple[Edit, ...]:
    """Later keys moved on, so that the stretch in which the jump lies takes six frames more."""
    return (Ripple(layers=(one.layer.id,), frame=float(frame), by=6.0),)
