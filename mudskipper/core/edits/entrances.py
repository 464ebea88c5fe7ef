"""Land first: make the start or the end of a motion from where a layer has landed."""

from __future__ import annotations

import math
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..document.properties import track_of, with_part, with_track
from ..document.scene import Layer, Scene
from ..easings.batch import Ease
from ..easings.text import SOFT_LANDING
from ..geometry.bezier import Floats
from ..ground.base_model import Number, Whole
from ..ground.errors import Refused
from ..moves.anchor_moves import moment, reanchored, station_point
from ..moves.inserted_keys import inserted
from ..moves.keys import holding, with_key
from ..moves.position_keys import joined
from ..resolve.bounds import bounds_at, way_out
from ..resolve.drawing import tight_box
from ..shapes.masks import Mask
from ..shapes.rectangle import Rectangle
from ..tracks.base import SAME, KeyFrame, Track
from ..tracks.evaluate import value_at
from .base import Edit, EditContext, View, local_frame, names_of, unlocked
from .layers import free_among
from .staggered import Staggered

Side = Literal["left", "right", "top", "bottom"]


WAYS: dict[str, tuple[float, float]] = {
    "left": (-1.0, 0.0), "right": (1.0, 0.0), "top": (0.0, -1.0), "bottom": (0.0, 1.0),
}  # fmt: skip
MOST_LOOKS = 200
"""Moments of a layer's span at which it is looked how large it is."""
ROOM = 1.02
"""By how much a mask that shows all of a layer is larger than what is painted of it."""


class Entrance(Staggered):
    """What bringing in and taking out share: the ways, which may be mixed, and the move's length and easing; of several
    layers each lands, or leaves, `stagger` frames after the one before.

    `side`: just outside the scene by that side, of the turned and scaled box; with a `distance` that many pixels of the
    scene to that side. `scale`: from that share of its scale in percent, at a `station` or where its anchor is; a
    station alone is from scale 0. `angle`: from that many degrees away. `transparent`: from opacity 0. `wipe`: shown by
    the edge of a mask that goes over it from that side.
    """

    frame: KeyFrame
    length: Annotated[Whole, Field(ge=1, le=100_000)] = 12
    side: Side | None = None
    distance: Annotated[Number, Field(gt=0, le=100_000)] | None = None
    station: str | None = None
    scale: Annotated[Number, Field(ge=0, le=10_000)] | None = None
    angle: Number | None = None
    transparent: bool = False
    wipe: Side | None = None
    ease: Ease = SOFT_LANDING

    def seen_inside(self, view: View) -> Edit:
        if self.side is None:
            return self
        if self.distance is None:
            raise Refused(
                "A shape within a layer has no side of the scene to come from.", where="side",
                mend="Bring the layer in from there, or choose a distance, a station, an angle or transparent.",
            )  # fmt: skip
        return self

    def _made(self, scene: Scene, context: EditContext, away: float) -> Scene:
        if (self.side, self.station, self.scale, self.angle, self.wipe) == (None,) * 5 and not self.transparent:
            raise Refused(
                "Choose at least one way: a side, a scale, a station, an angle, a wipe or transparent.", where="side"
            )
        for place, layer_id in zip(self.places(), self.layers, strict=True):
            one = self.model_copy(update={"frame": self.frame + place * self.stagger})
            scene = scene.with_layer(one._one(unlocked(scene, layer_id), scene, context, away))
        return scene

    def _one(self, layer: Layer, scene: Scene, context: EditContext, away: float) -> Layer:
        landed = local_frame(layer, scene, self.frame)
        away = self._fitting(layer, landed, away, context)
        other = landed + away
        if self.wipe is not None:
            layer = wiped(layer, self.wipe, scene, context)
            mask = f"masks.{len(layer.masks) - 1}.shape.at"
            x, y = value_at(track_of(layer, mask), landed, scene.fps)
            width, height = value_at(track_of(layer, mask[:-2] + "size"), landed, scene.fps)
            dx, dy = WAYS[self.wipe]
            layer = self._keyed(layer, mask, landed, other, (x + dx * width, y + dy * height), scene.fps)
        if self.station is not None:
            now = moment(layer, self.frame, context.of(scene))
            window = (self.frame + min(away, 0), self.frame + max(away, 0))
            point = station_point(now, self.station)
            layer = reanchored(layer, self.frame, point, window, context.of(scene))
        share = self.scale if self.scale is not None else 0.0 if self.station is not None else None
        if share is not None:
            wide, high = value_at(layer.scale, landed, scene.fps)
            size = wide * share / 100, high * share / 100
            layer = self._keyed(layer, "scale", landed, other, size, scene.fps)
        if self.angle is not None:
            turn = float(value_at(layer.rotation, landed, scene.fps)) + self.angle
            layer = self._keyed(layer, "rotation", landed, other, turn, scene.fps)
        if self.transparent:
            layer = self._keyed(layer, "opacity", landed, other, 0.0, scene.fps)
        if self.side is not None:
            layer = joined(layer, scene.fps)
            # From scale 0 there is no box at the other end: that of the landing is taken.
            outside = self.frame + away if share != 0 else self.frame
            x, y = value_at(track_of(layer, "position"), landed, scene.fps)
            if self.distance is None:
                box = bounds_at(self._posed(layer, landed, other, scene.fps), outside, context.of(scene))
                way = way_out(box, self.side, (scene.width, scene.height))
            else:
                dx, dy = WAYS[self.side]
                way = dx * self.distance, dy * self.distance
            step = context.of(scene).one(layer, outside).own_step(way)
            layer = self._keyed(layer, "position", landed, other, (x + float(step[0]), y + float(step[1])), scene.fps)
        return layer

    def _fitting(self, layer: Layer, landed: float, away: float, context: EditContext) -> float:
        """The move's frames, below 0 before the landing, shortened to what the span holds; refused where it holds
        none."""
        before = away < 0
        room = landed if before else layer.span.length - 1 - landed
        if room < 1:
            when = "begins" if before else "ends"
            raise Refused(
                f"'{layer.name}' {when} at this very frame, so there is no room for it to "
                f"{'come in before' if before else 'go out after'} it.",
                where="frame",
                mend="Move the playhead to where it has landed, or make its span longer.",
            )
        if room >= abs(away):
            return away
        frames = math.floor(room + SAME)
        context.notices.append(
            f"The move of '{layer.name}' takes {frames} {'frame' if frames == 1 else 'frames'} and not {self.length}: "
            f"no more fit {'before' if before else 'after'} the landing."
        )
        return -frames if before else frames

    def _posed(self, layer: Layer, landed: float, other: float, fps: float) -> Layer:
        """The layer standing where it landed also at the other end, so that its bounds there can be taken."""
        here = value_at(track_of(layer, "position"), landed, fps)
        return self._keyed(layer, "position", landed, other, here, fps)

    def _keyed(self, layer: Layer, name: str, landed: float, other: float, value: object, fps: float) -> Layer:
        """Keys at both ends: the landed value kept, the other set; what lay between them goes."""
        track = track_of(layer, name)
        here = value_at(track, landed, fps)
        # Without a motion of its own there is nothing that goes on beyond the keys.
        kept: Track = inserted(track, name, landed, fps) if len(track.keys) > 1 else holding(track)
        kept = with_key(kept, name, landed, here)
        low, high = min(landed, other), max(landed, other)
        between = {key.frame for key in kept.keys if low + SAME < key.frame < high - SAME}
        kept = kept.model_copy(update={"keys": tuple(key for key in kept.keys if key.frame not in between)})
        first = low == other
        kept = with_key(kept, name, other, value, self.ease if first else None)
        if not first:
            kept = with_key(kept, name, landed, here, self.ease)
        return with_track(layer, name, kept.straight_between(low, high))


def wiped(layer: Layer, side: str, scene: Scene, context: EditContext) -> Layer:
    """The layer with a mask that shows all of it, as large as it ever is; effects come after masks."""
    frames = np.unique(np.linspace(layer.span.start, layer.span.end - 1, min(layer.span.length, MOST_LOOKS)).round())
    resolved = context.of(scene).resolve([layer], list(frames))[0]
    boxes = np.concatenate([resolved.box, tight_box(resolved, context.of(scene))])
    low, high = boxes[:, :2].min(axis=0), (boxes[:, :2] + boxes[:, 2:]).max(axis=0)
    middle, size = (low + high) / 2, np.maximum((high - low) * ROOM, 1.0) + 2.0
    shape = Rectangle.model_validate({"at": {"rest": _tidy(middle)}, "size": {"rest": _tidy(size)}})
    name = free_among([one.name for one in layer.masks], f"From the {side}")
    mask = Mask(name=name, shape=shape, mode="intersect" if layer.masks else "add")
    return with_part(layer, "masks", (*layer.masks, mask))


def _tidy(pair: Floats) -> list[float]:
    return [round(float(n), 1) for n in pair]


class BringIn(Entrance):
    """Make the start of a motion: layers stand where they are at `frame`, and come from elsewhere before it."""

    edit: Literal["bring_in"] = "bring_in"

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        return self._made(scene, context, -self.length)

    def words(self, scene: Scene) -> str:
        return f"Brought {names_of(scene, self.layers)} in, landing at frame {self.frame:g}"


class TakeOut(Entrance):
    """Make the end of a motion: layers stand where they are at `frame`, and go elsewhere after it."""

    edit: Literal["take_out"] = "take_out"
    ease: Ease = "ease-in"

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        return self._made(scene, context, self.length)

    def words(self, scene: Scene) -> str:
        return f"Took {names_of(scene, self.layers)} out from frame {self.frame:g}"
