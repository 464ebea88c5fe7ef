"""Keys that an edit put between two renewals of a cadence, where they are not seen at once: what is said of them, and
the edit that brings them to the nearest renewal."""

from __future__ import annotations

from ..document.properties import label_of
from ..document.scene import Layer, Scene
from ..tracks.base import SAME, tidy_frame
from ..tracks.cadence import Cadence
from ..tracks.evaluate import key_at
from .values_and_keys import KeyRef, MoveKeys


def off_renewal(before: Scene, after: Scene, changed: tuple[str, ...]) -> tuple[str, list[MoveKeys]]:
    """What is said where keys are new, or have new values, at frames at which their cadence renews nothing, and the
    edits that move them; no words where there are none. Of several the first is named."""
    words, edits = "", list[MoveKeys]()
    for layer_id in changed:
        layer = after.layer(layer_id)
        was = before.layer(layer_id) if layer_id in before.places else None
        for path, track in layer.tracks.items():
            old = was.tracks.get(path) if was else None
            if track.cadence is None or old is None or old is track or old.cadence != track.cadence:
                continue
            if was is not None and was.span.start != layer.span.start:
                continue
            fresh = [key.frame for key in track.keys if not _same(key_at(old, key.frame), key)]
            if len(fresh) != 1 or _renews(track.cadence, fresh[0], after.fps):
                continue
            frame = fresh[0] + layer.span.start
            goal = _nearest(track.cadence, fresh[0], layer, after.fps)
            words = words or _words(layer, path, frame, goal + layer.span.start)
            key = KeyRef(layer=layer_id, property=path, frame=frame)
            edits.append(MoveKeys(keys=(key,), by=tidy_frame(goal - fresh[0])))
    return words, edits


def _same(old: object, new: object) -> bool:
    return old is not None and getattr(old, "value", None) == getattr(new, "value", None)


def _renews(cadence: Cadence, local: float, rate: float) -> bool:
    return cadence.renewals(local - SAME, local + SAME, rate).size > 0


def _nearest(cadence: Cadence, local: float, layer: Layer, rate: float) -> float:
    """The renewal next to a frame counted from the layer's start, within its span."""
    step = cadence.step(rate)
    around = cadence.renewals(local - step, local + step, rate)
    inside = [float(one) for one in around if 0 <= one < layer.span.length] or [float(one) for one in around]
    return tidy_frame(min(inside, key=lambda one: (abs(one - local), one)))


def _words(layer: Layer, path: str, frame: float, goal: float) -> str:
    return (
        f"{label_of(path, layer)} of '{layer.name}' has a cadence: what is keyed at frame {frame:g} is seen from its "
        f"next renewal on. The nearest one is at frame {goal:g}."
    )
