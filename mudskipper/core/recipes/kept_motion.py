"""A motion of a layer that the project has kept, on another one."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..document.properties import remade, with_track
from ..document.scene import Layer, Scene
from ..easings.batch import Ease
from ..ground.base_model import MOST_NAME, Model, Number
from ..ground.errors import Refused
from ..ground.shown import Shown
from ..resolve.bounds import bounds
from ..resolve.context import Context
from ..tracks.base import SAME
from .base import Length, Recipe, keyed, on_one_path, value_now

KEPT = ("position", "scale", "rotation", "opacity")
Share = Annotated[float, Field(strict=True, ge=0, le=1)]


class KeptKey(Model):
    """A key as it lies to the last one: `at` of the whole length, its value beside that at the end; so its handles."""

    at: Share
    value: tuple[Number, ...]
    ease: Ease = "linear"
    leave: tuple[Number, Number] | None = None
    arrive: tuple[Number, Number] | None = None


class KeptMove(Model):
    """The keys of a property."""

    property: Literal["position", "scale", "rotation", "opacity"]
    keys: Annotated[tuple[KeptKey, ...], Field(min_length=2, max_length=1_000)]


class KeptMotion(Recipe):
    """A motion that the project has kept: it lands on the layer as that is, ways being as long for its size as they
    were for the layer it was kept of, or for the size of its scene."""

    offered: ClassVar[bool] = False
    of_scene: ClassVar[bool] = True

    recipe: Literal["kept motion"] = "kept motion"
    name: Annotated[str, Field(strict=True, max_length=MOST_NAME)] = ""
    length: Length = 24
    by: Annotated[Literal["its own size", "the scene"], Shown("Ways by")] = "its own size"
    moves: Annotated[tuple[KeptMove, ...], Field(max_length=4)] = ()

    def write(self, layer: Layer, at: float, scene: Scene, context: Context) -> Layer:
        layer, end = on_one_path(layer, scene), at + self.length
        unit = _unit(layer, end + layer.span.start, self.by, scene, context)
        for move in self.moves:
            landed = value_now(layer, move.property, end, scene)
            keys = [(at + key.at * self.length, _there(move.property, landed, key.value, unit), key.ease)
                    for key in move.keys]  # fmt: skip
            layer = keyed(layer, move.property, scene, *keys)
            if move.property == "position" and any(key.leave or key.arrive for key in move.keys):
                layer = self._bent(layer, move, at, unit)
        return layer

    def _bent(self, layer: Layer, move: KeptMove, at: float, unit: np.ndarray) -> Layer:
        """The layer with the handles that its path had."""
        track = layer.tracks["position"]
        given = {at + key.at * self.length: key for key in move.keys}

        def handle(kept: tuple[float, float] | None) -> tuple[float, float] | None:
            return None if kept is None else (kept[0] * unit[0], kept[1] * unit[1])

        keys = []
        for key in track.keys:
            kept = next((one for frame, one in given.items() if abs(frame - key.frame) < SAME), None)
            changes: dict[str, Any] = {}
            if kept is not None:
                changes = {"leave": handle(kept.leave) or key.leave, "arrive": handle(kept.arrive) or key.arrive}
            keys.append(key.model_copy(update=changes))
        return with_track(layer, "position", remade(track, "position", keys=tuple(keys)))


def motion_of(layer: Layer, scene: Scene, context: Context, name: str) -> KeptMotion:
    """The keyed motion of a layer, as it may be kept; Refused where it has none."""
    layer = on_one_path(layer, scene)
    tracks = {one: layer.tracks[one] for one in KEPT if one in layer.tracks and len(layer.tracks[one].keys) > 1}
    if not tracks:
        raise Refused(
            f"'{layer.name}' has no motion of two keys and more that could be kept.", where="layer",
            mend="Key its position, scale, rotation or opacity.",
        )  # fmt: skip
    first = min(track.keys[0].frame for track in tracks.values())
    last = max(track.keys[-1].frame for track in tracks.values())
    frames = np.array([first, last]) + layer.span.start
    (one,) = context.resolve([layer], frames)
    left, top, right, bottom = bounds(one)[0]
    outside = right <= 0 or bottom <= 0 or left >= scene.width or top >= scene.height
    by: Literal["its own size", "the scene"] = "the scene" if outside else "its own size"
    unit = _unit(layer, float(frames[1]), by, scene, context)
    moves = []
    for path, track in tracks.items():
        landed = value_now(layer, path, last, scene)
        keys = tuple(
            KeptKey(
                at=(key.frame - first) / (last - first), value=_kept(path, landed, key.value, unit), ease=key.ease,
                leave=_share(getattr(key, "leave", None), unit), arrive=_share(getattr(key, "arrive", None), unit),
            )
            for key in track.keys
        )  # fmt: skip
        moves.append(KeptMove.model_validate({"property": path, "keys": keys}))
    return KeptMotion(name=name, length=max(round(last - first), 1), by=by, moves=tuple(moves))


def _unit(layer: Layer, frame: float, by: str, scene: Scene, context: Context) -> np.ndarray:
    """What ways are measured by (2,): the layer's size as it is seen upright at a frame, or the scene's."""
    if by == "the scene":
        return np.array([float(scene.width), float(scene.height)])
    one = context.one(layer, frame)
    size = np.abs(one.box[0, 2:] * np.array(value_now(layer, "scale", frame - layer.span.start, scene)) / 100)
    return np.where(size > 0, size, 1.0)


def _share(handle: tuple[float, float] | None, unit: np.ndarray) -> tuple[float, float] | None:
    return None if handle is None else (float(handle[0] / unit[0]), float(handle[1] / unit[1]))


def _kept(path: str, landed: Any, value: Any, unit: np.ndarray) -> tuple[float, ...]:
    """A value beside that at the end: a way by its unit, a factor, or a step."""
    if path == "position":
        return tuple(float(n) for n in (np.array(value) - np.array(landed)) / unit)
    if path == "scale":
        end = np.where(np.array(landed) == 0, 100.0, np.array(landed))
        return tuple(float(n) for n in np.array(value) / end)
    return (float(value - landed),) if path == "rotation" else (float(value) / 100,)


def _there(path: str, landed: Any, kept: tuple[float, ...], unit: np.ndarray) -> Any:
    """The value of a key on another layer, which lands at its own."""
    if path == "position":
        return tuple(float(n) for n in np.array(landed) + np.array(kept) * unit)
    if path == "scale":
        return tuple(float(n) for n in np.array(landed) * np.array(kept))
    return float(landed + kept[0]) if path == "rotation" else float(min(max(kept[0] * 100, 0.0), 100.0))
