"""Edits of properties, keys and easing."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from typing import Annotated, Any, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..document.items_as_layers import item_layer
from ..document.properties import label_of, remade, track_of, with_track, within
from ..document.scene import Layer, Scene
from ..easings.batch import Ease
from ..easings.text import ease_words
from ..ground.base_model import Id, Ids, LayerId, Model, Number, Pair
from ..ground.errors import Refused
from ..moves import position_keys as position_of
from ..moves.inserted_keys import inserted
from ..moves.keys import with_key, with_moved_keys, with_value, without_keying, without_keys
from ..moves.under_formula import moved
from ..tracks.base import KeyFrame
from ..tracks.colour import ColourTrack
from ..tracks.evaluate import key_at, value_at
from ..tracks.outline import Points
from .base import Edit, EditContext, View, label_in, leading, local_frame, name_of, names_of, one_step, unlocked
from .formula_notices import say_unseen

UNSEEN = 1e-4
"""Pixels by which what was moved may be off its place without a word."""
PropertyName = Annotated[str, Field(strict=True, max_length=100)]
Given = float | str | tuple[float | None, float | None] | Points


def refuse_unplaced(layer: Layer, name: str) -> None:
    """Refuse a property of its place in words where a layer has none: what is only heard stands nowhere."""
    if not layer.content.placed and not name.startswith(("content.", "masks.", "crop.", "framing.", "effects.")):
        raise Refused(
            f"'{layer.name}' is only heard: it has no {label_of(name, layer).lower()}.", where="property",
            mend="Its sound has a level and fades.",
        )  # fmt: skip


class SetProperty(Edit):
    """Set a property at a frame: a key is written where it is keyed, else its rest.

    A part of a pair that is null keeps its value; with `linked` it keeps its ratio to the other part. A colour may be
    told to be one that the project has under a name, which it follows from then on.
    """

    sets_values: ClassVar[bool] = True

    edit: Literal["set_property"] = "set_property"
    layer: LayerId
    property: PropertyName
    value: Given
    frame: KeyFrame
    linked: bool = False
    named: Id | None = None

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        refuse_unplaced(layer, self.property)
        track = track_of(layer, self.property)
        local = local_frame(layer, scene, self.frame) if track.keys else self.frame - layer.span.start
        now = value_at(track, local, scene.fps)
        given = track.in_ratio(self.value, now) if self.linked else self.value
        value = track.merged(given, now, label_of(self.property))
        value = within(layer, self.property, value, context.notices)
        track = with_value(track, self.property, local, value)
        if isinstance(track, ColourTrack):
            track = remade(track, self.property, named=self.named)
        elif self.named is not None:
            raise Refused(
                f"{label_of(self.property)} is no colour, and the project's colours have names for colours alone.",
                where="named",
            )
        return scene.with_layer(with_track(layer, self.property, track))

    def words(self, scene: Scene) -> str:
        return f"Set {label_in(scene, self.layer, self.property).lower()} of {name_of(scene, self.layer)}"

    def target(self) -> tuple[object, ...]:
        return self.layer, self.property, self.frame


class MoveLayers(Edit):
    """Move layers by (x, y) scene pixels at a frame: a position key is written where position is keyed."""

    sets_values: ClassVar[bool] = True

    edit: Literal["move_layers"] = "move_layers"
    layers: Ids
    frame: KeyFrame
    by: Pair

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        for layer_id in leading(scene, self.layers):
            layer = unlocked(scene, layer_id)
            by: Any = self.by
            if layer.carrier is not None:
                by = context.of(scene).one(layer, self.frame).own_step(by)
            scene = scene.with_layer(stepped(layer, scene, self.frame, by, context))
        return scene

    def seen_inside(self, view: View) -> Edit:
        return self.model_copy(update={"by": view.step(self.by)})

    def words(self, scene: Scene) -> str:
        return f"Moved {names_of(scene, self.layers)} by {self.by[0]:g}, {self.by[1]:g} px"

    def target(self) -> tuple[object, ...]:
        return self.layers, self.frame

    def joined(self, later: Edit) -> Edit | None:
        return one_step(self, later)


def stepped(layer: Layer, scene: Scene, frame: float, by: Any, context: EditContext) -> Layer:
    """The layer moved by (x, y), in the space of its position, at a scene frame, whatever its formulas make of its
    keys; refused outside its span where its position is keyed."""
    if position_of.is_keyed(layer):
        local_frame(layer, scene, frame)
    own = context.of(scene)
    after = moved(layer, frame, by, own)
    parts = [name for name, track in position_of.parts_of(layer).items() if track.formula]
    if parts:
        old, new = own.resolve([layer, after], [frame])
        off = np.abs(new.values["position"][0] - old.values["position"][0] - np.asarray(by)) > UNSEEN
        missed = [name for name in parts if (off.any() if name == "position" else off["xy".index(name[-1])])]
        say_unseen(layer, after, missed, context)
    return after


class StartKeying(Edit):
    """Turn keyframing on, or make a key where there is none at a frame; the motion is unchanged."""

    edit: Literal["start_keying"] = "start_keying"
    layer: LayerId
    property: PropertyName
    frame: KeyFrame

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        refuse_unplaced(layer, self.property)
        track = track_of(layer, self.property)
        local = local_frame(layer, scene, self.frame)
        keyed = inserted(track, self.property, local, scene.fps)
        return scene.with_layer(with_track(layer, self.property, keyed))

    def words(self, scene: Scene) -> str:
        label = label_in(scene, self.layer, self.property).lower()
        return f"Keyed {label} of {name_of(scene, self.layer)} at frame {self.frame:g}"


class StopKeying(Edit):
    """Turn keyframing off: all keys go, and the value at `frame` stays."""

    edit: Literal["stop_keying"] = "stop_keying"
    layer: LayerId
    property: PropertyName
    frame: KeyFrame

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        track = track_of(layer, self.property)
        rested = without_keying(track, self.property, self.frame - layer.span.start, scene.fps)
        count = len(track.keys)
        keys = "1 key" if count == 1 else f"{count} keys"
        context.notices.append(f"Removed {keys} of {label_of(self.property, layer).lower()}.")
        return scene.with_layer(with_track(layer, self.property, rested))

    def words(self, scene: Scene) -> str:
        return f"Stopped keying {label_in(scene, self.layer, self.property).lower()} of {name_of(scene, self.layer)}"


class SetKey(Edit):
    """Write one key: value, and easing to the next key."""

    edit: Literal["set_key"] = "set_key"
    layer: LayerId
    property: PropertyName
    frame: KeyFrame
    value: Given
    ease: Ease | None = None

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        refuse_unplaced(layer, self.property)
        track = track_of(layer, self.property)
        local = local_frame(layer, scene, self.frame)
        value = track.merged(self.value, value_at(track, local, scene.fps), label_of(self.property))
        value = within(layer, self.property, value, context.notices)
        return scene.with_layer(
            with_track(layer, self.property, with_key(track, self.property, local, value, self.ease))
        )

    def words(self, scene: Scene) -> str:
        return f"Set a key of {label_in(scene, self.layer, self.property).lower()} of {name_of(scene, self.layer)}"


class KeyRef(Model):
    """A key by its layer, property and frame of the scene."""

    layer: LayerId
    property: PropertyName
    frame: KeyFrame


Keys = Annotated[tuple[KeyRef, ...], Field(min_length=1, max_length=100_000)]


def key_values(scene: Scene, keys: Sequence[KeyRef]) -> list[float | str | tuple[Any, ...] | None]:
    """The values of keys; null for one that is not there."""
    return [_key_value(scene, ref) for ref in keys]


def _key_value(scene: Scene, ref: KeyRef) -> float | str | tuple[Any, ...] | None:
    try:
        layer = item_layer(scene, ref.layer)
    except Refused:
        return None
    track = layer.tracks.get(ref.property)
    key = key_at(track, ref.frame - layer.span.start) if track is not None else None
    return None if key is None else key.value


class MoveKeys(Edit):
    """Move keys in time by a number of frames. One that lands on an unmoved key takes its place."""

    edit: Literal["move_keys"] = "move_keys"
    keys: Keys
    by: Number

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        replaced = 0
        for layer, name, frames in grouped(scene, self.keys):
            for frame in frames:
                local_frame(layer, scene, frame + layer.span.start + self.by)
            current = scene.layer(layer.id)
            track, over = with_moved_keys(track_of(current, name), name, frames, self.by)
            replaced += over
            scene = scene.with_layer(with_track(current, name, track))
        if replaced:
            context.notices.append(
                "One key was replaced by the one moved onto it." if replaced == 1
                else f"{replaced} keys were replaced by those moved onto them."
            )  # fmt: skip
        return scene

    def words(self, scene: Scene) -> str:
        return f"Moved {key_count(self.keys)} of {owners(scene, self.keys)} by {self.by:+g} frames"


class DeleteKeys(Edit):
    """Delete keys. A property left with none rests where its last key was."""

    edit: Literal["delete_keys"] = "delete_keys"
    keys: Keys

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        for layer, name, frames in grouped(scene, self.keys):
            current = scene.layer(layer.id)
            track = without_keys(track_of(current, name), name, frames)
            scene = scene.with_layer(with_track(current, name, track))
        return scene

    def words(self, scene: Scene) -> str:
        return f"Deleted {key_count(self.keys)} of {owners(scene, self.keys)}"


class SetEasing(Edit):
    """Set the easing from each of these keys to its next."""

    edit: Literal["set_easing"] = "set_easing"
    keys: Keys
    ease: Ease

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        for layer, name, frames in grouped(scene, self.keys):
            current = scene.layer(layer.id)
            track = track_of(current, name)
            keys = tuple(k.model_copy(update={"ease": self.ease}) if k.frame in frames else k for k in track.keys)
            scene = scene.with_layer(with_track(current, name, remade(track, name, keys=keys)))
        return scene

    def target(self) -> tuple[object, ...]:
        return (self.keys,)

    def words(self, scene: Scene) -> str:
        return f"Eased {key_count(self.keys)} of {owners(scene, self.keys)}: {ease_words(self.ease)}"


def owners(scene: Scene, keys: tuple[KeyRef, ...]) -> str:
    """Whose keys these are: a layer by its name, or how many layers."""
    return names_of(scene, tuple(dict.fromkeys(key.layer for key in keys)))


def key_count(keys: tuple[KeyRef, ...]) -> str:
    return "1 key" if len(keys) == 1 else f"{len(keys)} keys"


def grouped(scene: Scene, refs: tuple[KeyRef, ...]) -> list[tuple[Layer, str, set[float]]]:
    """Keys by layer and property, their frames counted from the layer's start; refused where one is not there."""
    groups: dict[tuple[str, str], set[float]] = defaultdict(set)
    for ref in refs:
        layer = unlocked(scene, ref.layer)
        track = track_of(layer, ref.property)
        local = ref.frame - layer.span.start
        key = key_at(track, local)
        if key is None:
            raise Refused(
                f"{label_of(ref.property, layer)} of '{layer.name}' has no key at frame {ref.frame:g}; "
                "it may have been moved in another window.",
                mend="Nothing was changed.",
            )
        groups[ref.layer, ref.property].add(key.frame)
    return [(scene.layer(layer_id), name, frames) for (layer_id, name), frames in groups.items()]
