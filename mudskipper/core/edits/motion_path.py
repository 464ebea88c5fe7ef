"""Edits of the motion path: handles, points, x and y apart or together."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from ..document.properties import remade, with_track
from ..document.scene import Layer, Scene
from ..ground.base_model import LayerId, Pair
from ..ground.errors import Refused
from ..moves import position_keys as position_of
from ..moves.keys import removed, smoothed, straightened
from ..tracks.base import KeyFrame
from ..tracks.evaluate import key_at
from ..tracks.kinds import PathTrack
from .base import Edit, EditContext, name_of, unlocked
from .move_anchor import say_new_keys

Frames = Annotated[tuple[KeyFrame, ...], Field(max_length=10_000)]


def path_of(layer: Layer) -> PathTrack:
    """The position as one path; refused while x and y are apart."""
    if not isinstance(layer.position, PathTrack):
        raise Refused(f"Position of '{layer.name}' is split into x and y.", mend="Join it first.")
    return layer.position


class SplitPath(Edit):
    """Take the position apart into x and y."""

    edit: Literal["split_position"] = "split_position"
    layer: LayerId

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        apart = position_of.split(layer, scene.fps)
        say_new_keys(layer, apart, context)
        return scene.with_layer(apart)

    def words(self, scene: Scene) -> str:
        return f"Split position of {name_of(scene, self.layer)} into x and y"


class JoinPath(Edit):
    """Put x and y together into one path."""

    edit: Literal["join_position"] = "join_position"
    layer: LayerId

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        joined = position_of.join(layer, scene.fps)
        say_new_keys(layer, joined, context)
        return scene.with_layer(joined)

    def words(self, scene: Scene) -> str:
        return f"Joined position of {name_of(scene, self.layer)}"


class BendPath(Edit):
    """Give the motion path automatic handles at some keys (frames of the scene) or at all, or make it straight."""

    edit: Literal["bend_path"] = "bend_path"
    layer: LayerId
    way: Literal["smooth", "straight"]
    frames: Frames | None = None

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        track = path_of(layer)
        keys = [key_at(track, frame - layer.span.start) for frame in self.frames or ()]
        chosen = None if self.frames is None else {key.frame for key in keys if key is not None}
        bend = smoothed if self.way == "smooth" else straightened
        return scene.with_layer(with_track(layer, "position", bend(track, "position", chosen)))

    def words(self, scene: Scene) -> str:
        return f"Made the path of {name_of(scene, self.layer)} {self.way}"


class SetHandles(Edit):
    """Set the handles of a position key, in pixels from it; null takes one off, a field left out keeps it."""

    edit: Literal["set_handles"] = "set_handles"
    layer: LayerId
    frame: KeyFrame
    leave: Pair | None = None
    arrive: Pair | None = None

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        track, at = path_of(layer), self.frame - layer.span.start
        there = key_at(track, at)
        if there is None:
            raise Refused(f"Position of '{layer.name}' has no key at frame {self.frame:g}.", where="frame")
        given: dict[str, Any] = {n: getattr(self, n) for n in ("leave", "arrive") if n in self.model_fields_set}
        keys = tuple(key.model_copy(update=given) if key is there else key for key in track.keys)
        return scene.with_layer(with_track(layer, "position", remade(track, "position", keys=keys)))

    def words(self, scene: Scene) -> str:
        return f"Bent the path of {name_of(scene, self.layer)}"

    def target(self) -> tuple[object, ...]:
        return self.layer, self.frame, self.model_fields_set


class RemovePoint(Edit):
    """Take a point, a position key, off the motion path, the curve keeping its course."""

    edit: Literal["remove_point"] = "remove_point"
    layer: LayerId
    frame: KeyFrame

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        track, at = path_of(layer), self.frame - layer.span.start
        if key_at(track, at) is None:
            raise Refused(f"Position of '{layer.name}' has no key at frame {self.frame:g}.", where="frame")
        return scene.with_layer(with_track(layer, "position", removed(track, "position", at)))

    def words(self, scene: Scene) -> str:
        return f"Removed a point of the path of {name_of(scene, self.layer)}"
