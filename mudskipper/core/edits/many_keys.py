"""Edits of many keys at once: key a pose, copy, stretch, reverse, ripple, snap, change values, reset."""

from __future__ import annotations

from itertools import pairwise
from math import floor
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field

from ..document.properties import label_of, remade, track_of, with_track, within
from ..document.scene import MOTION, Layer, Scene
from ..easings import Bezier
from ..easings.batch import bezier_numbers
from ..ground.base_model import Flag, Ids, LayerId, Number, Pair
from ..ground.errors import Refused
from ..moves.inserted_keys import inserted
from ..moves.keys import without_twins
from ..tracks.base import SAME, KeyFrame, Track, tidy_frame
from .base import Edit, EditContext, View, label_in, local_frame, name_of, names_of, unlocked
from .values_and_keys import Keys, PropertyName, grouped, key_count, refuse_unplaced

Names = Annotated[tuple[PropertyName, ...], Field(min_length=1, max_length=500)]


class KeyPose(Edit):
    """Key several properties of layers at one moment; the motion is unchanged."""

    edit: Literal["key_pose"] = "key_pose"
    layers: Ids
    properties: Names
    frame: KeyFrame

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        for layer_id in self.layers:
            layer = unlocked(scene, layer_id)
            local = local_frame(layer, scene, self.frame)
            for name in self.properties:
                refuse_unplaced(layer, name)
                layer = with_track(layer, name, inserted(track_of(layer, name), name, local, scene.fps))
            scene = scene.with_layer(layer)
        return scene

    def words(self, scene: Scene) -> str:
        labels = dict.fromkeys(label_in(scene, self.layers[0], name).lower() for name in self.properties)
        what = ", ".join(labels) if len(labels) <= 5 else f"{len(labels)} properties"
        return f"Keyed {what} of {names_of(scene, self.layers)} at frame {self.frame:g}"


class CopyKeys(Edit):
    """Copy keys so that the first of them stands at a frame, on their own layers or on another one."""

    edit: Literal["copy_keys"] = "copy_keys"
    keys: Keys
    frame: KeyFrame
    layer: LayerId | None = None

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        by = self.frame - min(ref.frame for ref in self.keys)
        for layer, name, frames in grouped(scene, self.keys):
            target = unlocked(scene, self.layer or layer.id)
            source = track_of(layer, name)
            track = track_of(target, name)
            if source.dims != track.dims:
                raise Refused(f"{label_of(name, target)} of '{target.name}' takes another kind of value.", where="keys")
            away = layer.span.start - target.span.start + by
            copies = [
                k.model_copy(update={"frame": tidy_frame(k.frame + away)}) for k in source.keys if k.frame in frames
            ]
            for key in copies:
                local_frame(target, scene, key.frame + target.span.start)
            kept = without_twins(list(track.keys), copies)
            keys = tuple(sorted([*kept, *copies], key=lambda key: key.frame))
            scene = scene.with_layer(with_track(target, name, remade(track, name, keys=keys)))
        return scene

    def words(self, scene: Scene) -> str:
        where = f" to {name_of(scene, self.layer)}" if self.layer else ""
        return f"Copied {key_count(self.keys)}{where}"


class RetimeKeys(Edit):
    """Change the frames of keys: stretched about a moment by a factor, reversed among themselves, or snapped. With
    `whole` keys on whole frames are stretched to whole frames."""

    edit: Literal["retime_keys"] = "retime_keys"
    keys: Keys
    way: Literal["stretch", "reverse", "snap"]
    about: KeyFrame = 0.0
    factor: Annotated[float, Field(strict=True, gt=0, le=1_000)] = 1.0
    whole: Flag = False

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        times = [ref.frame for ref in self.keys]
        ends = (min(times), max(times))
        for layer, name, frames in grouped(scene, self.keys):
            current = scene.layer(layer.id)
            track = track_of(current, name)
            start = layer.span.start
            keys = self._moved(track, frames, start, ends)
            before = {id(key) for key in track.keys}
            for key in keys:
                if id(key) not in before:
                    local_frame(current, scene, key.frame + start)
            if any(b.frame - a.frame <= SAME for a, b in pairwise(keys)):
                raise Refused(
                    f"Two keys of {label_of(name, current).lower()} of '{current.name}' would stand at the same frame.",
                    mend="Squeeze them less." if self.way == "stretch" else "Nothing was changed.",
                )
            scene = scene.with_layer(with_track(current, name, remade(track, name, keys=keys)))
        return scene

    def _moved(self, track: Track, frames: set[float], start: int, ends: tuple[float, float]) -> tuple[Any, ...]:
        def time(frame: float) -> float:
            if self.way == "stretch":
                stretched = tidy_frame(self.about + (frame - self.about) * self.factor)
                return float(floor(stretched + 0.5)) if self.whole and not frame % 1 else stretched
            return tidy_frame(ends[0] + ends[1] - frame) if self.way == "reverse" else float(round(frame))

        eases = {key.frame: key.ease for key in track.keys}
        ordered = sorted(frames)
        keys = []
        for key in track.keys:
            if key.frame not in frames:
                keys.append(key)
                continue
            changes: dict[str, Any] = {"frame": time(key.frame + start) - start}
            if self.way == "reverse":
                place = ordered.index(key.frame)
                changes["ease"] = turned(eases[ordered[place - 1]]) if place else eases[ordered[-1]]
                if hasattr(key, "leave"):
                    changes |= {"leave": key.arrive, "arrive": key.leave}
            keys.append(key.model_copy(update=changes))
        return tuple(sorted(keys, key=lambda key: key.frame))

    def words(self, scene: Scene) -> str:
        count = key_count(self.keys)
        return {
            "stretch": f"Stretched {count} to {self.factor * 100:g} %",
            "reverse": f"Reversed {count}",
            "snap": f"Snapped {count} to whole frames",
        }[self.way]


def turned(ease: Any) -> Any:
    """A bezier run backwards; easings of other kinds as they are."""
    numbers = bezier_numbers(ease)
    if numbers is None:
        return ease
    x1, y1, x2, y2 = numbers
    return Bezier(bezier=(1 - x2, 1 - y2, 1 - x1, 1 - y1))


class Ripple(Edit):
    """Move every key of layers at or after a frame by a number of frames, so that later moments follow."""

    edit: Literal["ripple"] = "ripple"
    layers: Ids
    frame: KeyFrame
    by: Number

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        moved = 0
        for layer_id in self.layers:
            layer = unlocked(scene, layer_id)
            since = self.frame - layer.span.start
            for name, track in layer.tracks.items():
                before = [key for key in track.keys if key.frame < since - SAME]
                later = [key for key in track.keys if key.frame >= since - SAME]
                after = [key.model_copy(update={"frame": tidy_frame(key.frame + self.by)}) for key in later]
                if not after:
                    continue
                moved += len(after)
                if before and after[0].frame <= before[-1].frame + SAME:
                    raise Refused(
                        f"{label_of(name, layer)} of '{layer.name}' has a key {since - before[-1].frame:g} frames "
                        f"before frame {self.frame:g}; later keys cannot be moved back past it.",
                        where="by",
                    )
                for was, key in zip(later, after, strict=True):
                    # A key that a trim left outside the span is never seen, and may go anywhere.
                    if 0 <= was.frame < layer.span.length:
                        local_frame(layer, scene, key.frame + layer.span.start)
                layer = with_track(layer, name, remade(track, name, keys=(*before, *after)))
            scene = scene.with_layer(layer)
        if not moved:
            raise Refused(
                f"No key of {names_of(scene, self.layers)} stands at frame {self.frame:g} or later; it may have been "
                "moved in another window.",
                where="frame",
                mend="Nothing was changed.",
            )
        return scene

    def words(self, scene: Scene) -> str:
        return f"Moved the later keys of {names_of(scene, self.layers)} by {self.by:+g} frames"


class EditValues(Edit):
    """Set, add to or multiply the values of keys, on one axis (0 is x, 1 is y) or on all; the other stays as it is."""

    edit: Literal["edit_values"] = "edit_values"
    keys: Keys
    way: Literal["set", "add", "multiply"]
    value: Number
    axis: Literal[0, 1] | None = None

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        for layer, name, frames in grouped(scene, self.keys):
            current = scene.layer(layer.id)
            track, label = track_of(current, name), label_of(name, current)

            def changed(value: Any, track: Track = track, label: str = label) -> Any:
                return track.changed(value, self.way, self.value, self.axis, label)

            keys = tuple(
                {**_fields(key), "value": within(current, name, changed(key.value), context.notices)}
                if key.frame in frames
                else key
                for key in track.keys
            )
            scene = scene.with_layer(with_track(current, name, remade(track, name, keys=keys)))
        return scene

    def words(self, scene: Scene) -> str:
        axis = "" if self.axis is None else f"{'xy'[self.axis]} of "
        change = {"set": f"to {self.value:g}", "add": f"by {self.value:+g}", "multiply": f"by × {self.value:g}"}
        return f"Changed {axis}{key_count(self.keys)} {change[self.way]}"


def _fields(key: Any) -> dict[str, Any]:
    return {name: getattr(key, name) for name in type(key).model_fields}


class ResetProperties(Edit):
    """Give properties of a layer, or all of its own, their defaults back, without keys."""

    sets_formulas: ClassVar[bool] = True

    edit: Literal["reset_properties"] = "reset_properties"
    layer: LayerId
    properties: Names | None = None
    position: Pair | None = None
    """Where the position goes back to; the scene's centre unless given."""

    def seen_inside(self, view: View) -> Edit:
        item = next(item for item in view.parent.content.items if item.id == self.layer)
        at_rest = item.model_copy(update={"transform": None}).at_rest
        return self.model_copy(update={"position": at_rest.position.rest})

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        for name in self.properties or MOTION:
            if name not in MOTION:
                raise Refused(f"{label_of(name, layer)} has no default to go back to.", where="properties")
            default = Layer.model_fields[name].default
            if name == "position":
                middle = self.position or (scene.width / 2, scene.height / 2)
                if layer.carrier is not None:
                    x, y = context.of(scene).one(layer, layer.span.start).own_point(middle)
                    middle = float(x), float(y)
                default = default.model_copy(update={"rest": middle})
            layer = layer.model_copy(update={name: default})
        return scene.with_layer(layer)

    def words(self, scene: Scene) -> str:
        what = label_of(self.properties[0]).lower() if self.properties and len(self.properties) == 1 else "motion"
        return f"Reset {what} of {name_of(scene, self.layer)}"
