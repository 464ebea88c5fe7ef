"""A property that was changed on a pose though it is not keyed: what is said of it, and its key in that pose."""

from __future__ import annotations

from typing import Literal

from ..document.items_as_layers import inside
from ..document.properties import label_of, track_of, with_track
from ..document.scene import Layer, Scene
from ..ground.base_model import LayerId
from ..ground.errors import Refused
from ..moves.keys import with_key
from ..tracks.base import SAME, KeyFrame, Track
from .base import Edit, EditContext, label_in, local_frame, name_of, unlocked
from .of_items import parent_of
from .values_and_keys import Given, PropertyName

MOVING = ("position", "position.x", "position.y", "scale", "rotation", "opacity")
"""The properties of which it is said; the others are seldom meant to change from pose to pose."""


class KeyInPose(Edit):
    """Key a property that rests in one pose alone: its value there, and `was` in every other pose of the layer."""

    edit: Literal["key_in_pose"] = "key_in_pose"
    layer: LayerId
    property: PropertyName
    frame: KeyFrame
    was: Given

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        track = track_of(layer, self.property)
        if track.keys:
            raise Refused(
                f"{label_of(self.property, layer)} of '{layer.name}' is keyed already.",
                where="property", mend="Set its value; that makes a key.",
            )  # fmt: skip
        here, rest = local_frame(layer, scene, self.frame), track.rest
        for frame in poses_of(layer):
            if abs(frame - here) > SAME:
                track = with_key(track, self.property, frame, self.was)
        track = with_key(track, self.property, here, rest)
        return scene.with_layer(with_track(layer, self.property, track))

    def words(self, scene: Scene) -> str:
        what = label_in(scene, self.layer, self.property).lower()
        return f"Keyed {what} of {name_of(scene, self.layer)} in the pose at frame {self.frame:g}"


def poses_of(layer: Layer) -> list[float]:
    """The frames, counted from the layer's start, at which any of its properties has a key."""
    return sorted({key.frame for track in layer.tracks.values() for key in track.keys})


def unkeyed_in_pose(
    before: Scene, after: Scene, edits: list[Edit], changed: tuple[str, ...]
) -> tuple[str, list[KeyInPose]]:
    """What is said where edits that set values changed the rest of properties while their frame is that of a pose of
    the layer, and the edits that key them in that pose; no words where nothing of the kind was done."""
    frames = {float(edit.frame) for edit in edits if edit.sets_values and hasattr(edit, "frame")}
    if len(frames) != 1 or not all(edit.sets_values for edit in edits):
        return "", []
    (frame,) = frames
    parents = {parent_of(edit) for edit in edits if not edit.takes_addresses}
    if len(parents) != 1:
        return "", []
    (parent,) = parents
    if parent:
        before, after = inside(before, parent).scene, inside(after, parent).scene
        changed = tuple(layer.id for layer in after.layers)
    found: list[KeyInPose] = []
    labels: dict[str, None] = {}
    for layer_id in changed:
        if layer_id not in before.places:
            continue
        old, layer = before.layer(layer_id), after.layer(layer_id)
        local = frame - layer.span.start
        if old is layer or not any(abs(pose - local) <= SAME for pose in poses_of(layer)):
            continue
        for name in MOVING:
            was, now = old.tracks.get(name), layer.tracks.get(name)
            if was is not None and now is not None and _rests_elsewhere(was, now):
                labels[label_of(name, layer)] = None
                found.append(
                    KeyInPose(
                        layer=f"{parent}/{layer.id}" if parent else layer.id, property=name, frame=frame, was=was.rest
                    )
                )
    if not found:
        return "", []
    names = " and ".join(labels).capitalize()
    verb, whole = "is" if len(labels) == 1 else "are", "shape" if parent else "layer"
    return f"{names} {verb} not keyed: this changes the whole {whole}.", found


def _rests_elsewhere(was: Track, now: Track) -> bool:
    return was is not now and not was.keys and not now.keys and was.rest != now.rest
