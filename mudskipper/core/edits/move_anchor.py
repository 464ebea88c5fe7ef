"""Edits of the anchor."""

from __future__ import annotations

from typing import Any, Literal

import numpy as np
from pydantic import model_validator

from ..document.scene import Layer, Scene
from ..ground.base_model import Flag, LayerId, Model, Number
from ..ground.errors import Refused
from ..moves.anchor_moves import anchor_value, converted, moment, point_of_scene, station_point, with_anchor
from ..moves.position_keys import parts_of
from ..tracks.base import KeyFrame
from .base import Edit, EditContext, View, local_frame, name_of, unlocked


def say_new_keys(before: Layer, after: Layer, context: EditContext) -> None:
    """Tell how many keys of the position were added, where any were."""
    counts = [max(len(track.keys) for track in parts_of(layer).values()) for layer in (before, after)]
    more = counts[1] - counts[0]
    if more > 0:
        keys = "1 key" if more == 1 else f"{more} keys"
        context.notices.append(f"{keys} of position {'was' if more == 1 else 'were'} added to '{after.name}'.")


class AnchorTarget(Model):
    """Where the anchor goes: exactly one of a station, fractions of the box, content pixels, a point of the scene."""

    station: str | None = None
    fraction: tuple[Number | None, Number | None] | None = None
    content: tuple[Number | None, Number | None] | None = None
    scene: tuple[Number | None, Number | None] | None = None

    @model_validator(mode="after")
    def _one(self) -> AnchorTarget:
        given = [name for name in ("station", "fraction", "content", "scene") if getattr(self, name) is not None]
        if len(given) != 1:
            raise ValueError("give exactly one of station, fraction, content, scene")
        return self


class MoveAnchor(Edit):
    """Move the anchor at a frame. `keep` says what stays: the picture (position is compensated) or the anchor;
    `scope` says when the picture stays: at this frame, at every position key, or throughout the span."""

    edit: Literal["move_anchor"] = "move_anchor"
    layer: LayerId
    frame: KeyFrame
    to: AnchorTarget
    keep: Literal["picture", "anchor"] = "picture"
    scope: Literal["frame", "every key", "throughout"] = "frame"

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        if layer.anchor.keys:
            local_frame(layer, scene, self.frame)
        now = moment(layer, self.frame, context.of(scene))
        to = self.to
        if to.fraction is not None:
            size = now.box[2:]
            here = np.where(size == 0, 0.0, (now.anchor - now.box[:2]) / np.where(size == 0, 1, size))
            point = now.box[:2] + _mixed(to.fraction, here) * size
        elif to.content is not None:
            point = _mixed(to.content, now.anchor)
        elif to.scene is not None:
            point, said = point_of_scene(now, _mixed(to.scene, now.resolved.place[0]))
            if said:
                context.notices.append(said)
        else:
            point = station_point(now, to.station or "")
        value = anchor_value(now, point)
        if layer.anchor.pinned and to.fraction is not None:
            fx, fy = to.fraction
            value = (value[0] if fx is None else fx, value[1] if fy is None else fy)
        changed = with_anchor(
            now, value, keep=self.keep, scope=self.scope, context=context.of(scene)
        )  # fmt: skip
        say_new_keys(layer, changed, context)
        return scene.with_layer(changed)

    def seen_inside(self, view: View) -> Edit:
        if self.to.scene is None:
            return self
        x, y = self.to.scene
        if x is None or y is None:
            raise Refused("A point of the scene takes both x and y for a shape within a layer.", where="to.scene")
        return self.model_copy(update={"to": AnchorTarget(scene=view.point((x, y)))})

    def words(self, scene: Scene) -> str:
        place = f" to {self.to.station}" if self.to.station else ""
        when = "" if self.scope == "frame" or self.keep == "anchor" else f" {self.scope}"
        return f"Moved the anchor of {name_of(scene, self.layer)}{place}, {self.keep} stays put{when}"

    def target(self) -> tuple[object, ...]:
        return self.layer, self.frame, self.keep, self.scope


class PinAnchor(Edit):
    """Pin the anchor to the box, or fix it at content pixels, with no visible change at any frame."""

    edit: Literal["pin_anchor"] = "pin_anchor"
    layer: LayerId
    pinned: Flag

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        return scene.with_layer(converted(unlocked(scene, self.layer), self.pinned, context.of(scene)))

    def words(self, scene: Scene) -> str:
        return f"{'Pinned' if self.pinned else 'Fixed'} the anchor of {name_of(scene, self.layer)}"


def _mixed(given: tuple[float | None, float | None], now: Any) -> Any:
    return np.array([old if new is None else new for new, old in zip(given, now, strict=True)], dtype=np.float64)
