"""Edits that hands on the stage make: handles drawn, layers turned, brought to a point, numbers of several changed."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..document.properties import label_of, track_of, with_track, within
from ..document.scene import Layer, Scene
from ..geometry.bezier import Floats
from ..ground.base_model import Flag, Ids, LayerId, Number, Pair
from ..moves.box_handles import MOST, along_own_axes, common_box, common_factors, scaled, sized, stuck_words, taken
from ..moves.keys import with_value
from ..moves.under_formula import shown_value, with_shown
from ..resolve.layers import ResolvedLayer
from ..tracks.base import KeyFrame
from ..tracks.evaluate import value_at
from .base import Edit, EditContext, View, label_in, leading, local_frame, name_of, names_of, unlocked
from .formula_notices import say_unseen
from .values_and_keys import PropertyName, stepped


def set_at(layer: Layer, scene: Scene, frame: float, name: str, value: object) -> Layer:
    """The layer with a property set at a scene frame: a key where it is keyed, else its rest."""
    track = track_of(layer, name)
    local = local_frame(layer, scene, frame) if track.keys else frame - layer.span.start
    return with_track(layer, name, with_value(track, name, local, value))


def seen_at(layer: Layer, scene: Scene, frame: float, name: str, value: Any, context: EditContext) -> Layer:
    """The layer with a property that is seen to be `value` at a scene frame, whatever its formula makes of it."""
    if track_of(layer, name).keys:
        local_frame(layer, scene, frame)
    own = context.of(scene)
    after = with_shown(layer, name, frame, value, own)
    if track_of(layer, name).formula and not np.allclose(
        shown_value(after, name, frame, own), value, rtol=0, atol=1e-4
    ):
        say_unseen(layer, after, [name], context)
    return after


class DragHandle(Edit):
    """Bring a handle of a layer's box to a scene point, about the anchor: by scale, or by size for shapes.

    A size stops at 0; a scale goes through 0 and flips. Shapes of several items grow together.
    """

    sets_values: ClassVar[bool] = True

    edit: Literal["drag_handle"] = "drag_handle"
    layer: LayerId
    frame: KeyFrame
    handle: str
    to: Pair
    by: Literal["scale", "size"] = "scale"
    proportional: Flag = False

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        sizes = self.by == "size" and bool(layer.content.grown)
        had = taken(layer, self.handle, self.to, self.frame, context.of(scene), sizes=sizes)
        if sizes:
            grown, stuck = sized(had, self.handle, self.proportional)
            changed = self._sized(layer, scene, grown, context)
        else:
            value, stuck = scaled(had, self.handle, self.proportional)
            changed = seen_at(layer, scene, self.frame, "scale", value, context)
        if stuck:
            context.notices.append(stuck_words(stuck, layer.name))
        return scene.with_layer(changed)

    def seen_inside(self, view: View) -> Edit:
        return self.model_copy(update={"to": view.point(self.to)})

    def _sized(self, layer: Layer, scene: Scene, grown: Floats, context: EditContext) -> Layer:
        for path in layer.content.grown:
            name = f"content.{path}"
            x, y = shown_value(layer, name, self.frame, context.of(scene))
            new = tuple(round(float(np.clip(n * grow, -MOST, MOST)), 3) for n, grow in zip((x, y), grown, strict=True))
            if new != (x, y):
                layer = seen_at(layer, scene, self.frame, name, new, context)
        return layer

    def words(self, scene: Scene) -> str:
        return f"{'Sized' if self.by == 'size' else 'Scaled'} {name_of(scene, self.layer)} by its {self.handle} handle"


class LayersTogether(Edit):
    """What edits of several layers share: about their common box, or each about its own anchor."""

    sets_values: ClassVar[bool] = True

    layers: Ids
    frame: KeyFrame
    about: Literal["box", "own"] = "own"

    def _found(self, scene: Scene, context: EditContext) -> list[ResolvedLayer]:
        layers = [unlocked(scene, layer_id) for layer_id in leading(scene, self.layers)]
        return context.of(scene).resolve(layers, [self.frame])


class ScaleLayers(LayersTogether):
    """Bring a handle of the common box of layers to a scene point; the opposite point of that box stays.

    About their own anchors, each layer grows by as much and stays where it is. Layers turned by other than quarter
    turns keep their angles where x and y grow apart, since a layer has no shear.
    """

    edit: Literal["scale_layers"] = "scale_layers"
    handle: str
    to: Pair
    proportional: Flag = False

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        found = self._found(scene, context)
        grown, stays = common_factors(common_box(found), self.handle, self.to, self.proportional)
        for one in found:
            turn, mirrored = one.turned_by
            rotation = float(one.values["rotation"][0, 0])
            own = along_own_axes(grown, turn - rotation if mirrored else turn + rotation) * one.values["scale"][0]
            goal = (round(own[0], 3) + 0.0, round(own[1], 3) + 0.0)
            layer = seen_at(scene.layer(one.layer.id), scene, self.frame, "scale", goal, context)
            if self.about == "box":
                step = one.own_step((one.place[0] - stays) * (grown - 1))
                layer = stepped(layer, scene, self.frame, step, context)
            scene = scene.with_layer(layer)
        return scene

    def seen_inside(self, view: View) -> Edit:
        return self.model_copy(update={"to": view.point(self.to)})

    def words(self, scene: Scene) -> str:
        return f"Scaled {names_of(scene, self.layers)}"


class TurnLayers(LayersTogether):
    """Turn layers by degrees, clockwise: about the middle of their common box, or each about its own anchor."""

    edit: Literal["turn_layers"] = "turn_layers"
    by: Number

    def seen_inside(self, view: View) -> Edit:
        return self.model_copy(update={"by": -self.by}) if view.mirrored else self

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        found = self._found(scene, context)
        box = common_box(found)
        middle = (box[:2] + box[2:]) / 2
        angle = np.deg2rad(self.by)
        turned = np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]])
        for one in found:
            by = -self.by if one.turned_by[1] else self.by
            rotation = round(float(one.values["rotation"][0, 0]) + by, 4) + 0.0
            layer = seen_at(scene.layer(one.layer.id), scene, self.frame, "rotation", rotation, context)
            if self.about == "box":
                arm = one.place[0] - middle
                layer = stepped(layer, scene, self.frame, one.own_step(turned @ arm - arm), context)
            scene = scene.with_layer(layer)
        return scene

    def words(self, scene: Scene) -> str:
        return f"Turned {names_of(scene, self.layers)} by {self.by:g}°"


class BringTo(Edit):
    """Bring layers so that their anchors stand at a point of the scene, or at its centre."""

    sets_values: ClassVar[bool] = True

    edit: Literal["bring_to"] = "bring_to"
    layers: Ids
    frame: KeyFrame
    to: Literal["scene centre"] | tuple[Number | None, Number | None]

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        goal = (scene.width / 2, scene.height / 2) if self.to == "scene centre" else self.to
        for layer_id in self.layers:
            layer = unlocked(scene, layer_id)
            one = context.of(scene).one(layer, self.frame)
            here = one.place[0]
            by = np.array([0.0 if new is None else float(new) - old for new, old in zip(goal, here, strict=True)])
            scene = scene.with_layer(stepped(layer, scene, self.frame, one.own_step(by), context))
        return scene

    def seen_inside(self, view: View) -> Edit:
        size = view.scene.width / 2, view.scene.height / 2
        if self.to == "scene centre":
            return self.model_copy(update={"to": view.point(size)})
        x, y = self.to
        if x is None or y is None:
            return self
        return self.model_copy(update={"to": view.point((x, y))})

    def words(self, scene: Scene) -> str:
        where = "the scene's centre" if self.to == "scene centre" else "a point"
        return f"Brought {names_of(scene, self.layers)} to {where}"


class ChangeProperty(Edit):
    """Set, add to or multiply a property of several layers at a frame, on one part of it (0 is x, 1 is y) or on all."""

    sets_values: ClassVar[bool] = True

    edit: Literal["change_property"] = "change_property"
    layers: Ids
    property: PropertyName
    frame: KeyFrame
    way: Literal["set", "add", "multiply"]
    value: Number | Annotated[str, Field(max_length=9)]
    part: Literal[0, 1] | None = None

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        for layer_id in self.layers:
            layer = unlocked(scene, layer_id)
            track = track_of(layer, self.property)
            now = value_at(track, self.frame - layer.span.start, scene.fps)
            label = f"{label_of(self.property, layer)} of '{layer.name}'"
            new = track.changed(now, self.way, self.value, self.part, label)
            new = within(layer, self.property, new, context.notices)
            scene = scene.with_layer(set_at(layer, scene, self.frame, self.property, new))
        return scene

    def target(self) -> tuple[object, ...]:
        return self.layers, self.property, self.frame, self.way, self.part

    def joined(self, later: Edit) -> Edit | None:
        if not isinstance(later, ChangeProperty) or later.target() != self.target() or self.way != "add":
            return None
        assert not isinstance(self.value, str)
        assert not isinstance(later.value, str)
        return later.model_copy(update={"value": self.value + later.value})

    def words(self, scene: Scene) -> str:
        verb = {"set": "Set", "add": "Added to", "multiply": "Multiplied"}[self.way]
        return f"{verb} {label_in(scene, self.layers[0], self.property).lower()} of {names_of(scene, self.layers)}"
