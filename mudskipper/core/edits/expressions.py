"""Edits of formulas: set, taken off, and written as keys."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..base_model import LayerId
from ..errors import Refused
from ..fewest_keys import fitted_keys
from ..formula_scope import WRITTEN
from ..outline_track import OutlineTrack
from ..properties import label_of, remade, track_of, with_part, with_track
from ..scene import Layer, Scene
from ..tracks import ColourTrack, TextTrack, Track
from .base import Edit, EditContext, label_in, name_of, unlocked
from .values_and_keys import PropertyName

Text = Annotated[str, Field(strict=True, max_length=2_000)]


NO_FORMULA = {"expression": None, "expression_from": 0, "expression_seed": None}


class SetExpression(Edit):
    """Give a property a formula, whose value is then the property's; an empty one takes it off. One that cannot be
    read, or fails, is kept, and the property is what it is without it."""

    edit: Literal["set_expression"] = "set_expression"
    layer: LayerId
    property: PropertyName
    text: Text

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        text = "\n".join(line.rstrip() for line in self.text.replace("\r\n", "\n").split("\n")).strip("\n")
        fields: dict[str, Any] = {"expression": text} if text.strip() else NO_FORMULA
        if self.property == WRITTEN and layer.content.words is not None:
            old = layer.tracks.get(WRITTEN) or TextTrack()
            written = remade(old, WRITTEN, **fields) if text.strip() else None
            return scene.with_layer(with_part(layer, WRITTEN, written))
        track = track_of(layer, self.property)
        _refuse_outlines(layer, self.property, track)
        changed = remade(track, self.property, **fields)
        return scene.with_layer(with_track(layer, self.property, changed))

    def words(self, scene: Scene) -> str:
        what = f"{label_in(scene, self.layer, self.property).lower()} of {name_of(scene, self.layer)}"
        return f"Set the formula of {what}" if self.text.strip() else f"Took the formula off {what}"

    def target(self) -> tuple[object, ...]:
        return self.layer, self.property


class WriteAsKeys(Edit):
    """Write what a formula gives over the layer's span as the fewest straight keys that are nowhere further off than
    `near`, in the property's unit, at any frame; the formula goes."""

    edit: Literal["write_as_keys"] = "write_as_keys"
    layer: LayerId
    property: PropertyName
    near: Annotated[float, Field(strict=True, gt=0, le=1e6)] = 0.05

    takes_items: ClassVar[bool] = False

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        track = track_of(layer, self.property)
        if isinstance(track, TextTrack):
            raise Refused(
                f"The text of '{layer.name}' is written frame by frame, and has no keys.", where="property",
                mend="Write the formulas of its other properties as keys.",
            )  # fmt: skip
        if track.expression is None:
            raise Refused(
                f"{label_of(self.property, layer)} of '{layer.name}' has no formula.", where="property",
                mend="Choose a property that has one.",
            )  # fmt: skip
        local = np.arange(layer.span.length, dtype=np.float64)
        own = context.of(scene)
        values = own.formulas.value(layer, self.property, local + layer.span.start)
        problem = own.formulas.problems.get((layer.id, self.property))
        if problem is not None and not problem.frames:
            raise Refused(f"The formula has no value: {problem.sentence}", where="property", mend="Mend it first.")
        colour = isinstance(track, ColourTrack)
        fitted = fitted_keys(local, values, max(self.near, 1.0) if colour else self.near)
        if colour:
            fitted = [{**key, "value": _hex(key["value"])} for key in fitted]
        fields: dict[str, Any] = {"rest": fitted[0]["value"], "keys": fitted if len(fitted) > 1 else ()}
        fields |= {**NO_FORMULA, "cadence": None, "before": "hold", "after": "hold"}
        if colour:
            fields["mix"] = "srgb"
        return scene.with_layer(with_track(layer, self.property, remade(track, self.property, **fields)))

    def words(self, scene: Scene) -> str:
        return f"Wrote {label_in(scene, self.layer, self.property).lower()} of {name_of(scene, self.layer)} as keys"


def _hex(numbers: Any) -> str:
    return "#" + "".join(f"{round(min(max(part, 0), 255)):02x}" for part in numbers)


def _refuse_outlines(layer: Layer, name: str, track: Track) -> None:
    if isinstance(track, OutlineTrack):
        raise Refused(
            f"{label_of(name, layer)} of '{layer.name}' are many numbers, which no formula gives.", where="property",
            mend="Give a formula to its position, its scale or its rotation.",
        )  # fmt: skip
