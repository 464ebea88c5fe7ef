"""Edits of formulas: set, taken off, and written as keys."""

from __future__ import annotations

import ast
from typing import Annotated, Any, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..document.properties import NO_FORMULA, label_of, remade, track_of, with_part, with_track
from ..document.scene import Layer, Scene
from ..formulas.language import read
from ..formulas.problem import FormulaProblem
from ..formulas.reader import plain_lines
from ..geometry.fewest_beziers import eased_keys
from ..geometry.fewest_keys import fitted_keys
from ..ground.base_model import LayerId
from ..ground.errors import Refused
from ..resolve.formulas.scope import WRITTEN
from ..text.families import Fonts
from ..text.features import TABULAR
from ..tracks.base import Track
from ..tracks.colour import ColourTrack
from ..tracks.kinds import TextTrack
from ..tracks.outline import OutlineTrack
from .base import Edit, EditContext, label_in, name_of, unlocked
from .values_and_keys import PropertyName

Text = Annotated[str, Field(strict=True, max_length=2_000)]


class SetFormula(Edit):
    """Give a property a formula, whose value is then the property's; an empty one takes it off. One that cannot be
    read, or fails, is kept, and the property is what it is without it."""

    sets_formulas: ClassVar[bool] = True

    edit: Literal["set_formula"] = "set_formula"
    layer: LayerId
    property: PropertyName
    text: Text

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        text = plain_lines(self.text).strip("\n")
        fields: dict[str, Any] = {"formula": text} if text.strip() else NO_FORMULA
        if self.property == WRITTEN and layer.content.words is not None:
            old = layer.tracks.get(WRITTEN) or TextTrack()
            written = remade(old, WRITTEN, **fields) if text.strip() else None
            if written is not None and old.formula is None and "format(" in text:
                layer = _in_columns(layer, context.assets.fonts)
            elif written is None and getattr(layer.content, "features", None) == (TABULAR,):
                layer = with_part(layer, "content.features", ())
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


def _in_columns(layer: Layer, fonts: Fonts) -> Layer:
    """A text whose numbers count, with figures of one width where nothing else is asked of its font and that has them:
    so it does not tremble."""
    if getattr(layer.content, "features", None) != ():
        return layer
    (family, *_) = layer.content.families
    offers = fonts.family_of(family).file(400, False).features
    return with_part(layer, "content.features", (TABULAR,)) if "tnum" in offers else layer


class WriteAsKeys(Edit):
    """Write what a formula gives over the layer's span as the fewest keys, straight or eased, that are nowhere further
    off than `near`, in the property's unit, at any frame; the formula goes."""

    sets_formulas: ClassVar[bool] = True

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
        if track.formula is None:
            raise Refused(
                f"{label_of(self.property, layer)} of '{layer.name}' has no formula.", where="property",
                mend="Choose a property that has one.",
            )  # fmt: skip
        local = np.arange(layer.span.length, dtype=np.float64)
        own = context.of(scene)
        values = own.formulas.value(layer, self.property, local + layer.span.start)
        problem = own.formulas.problems.get((layer.id, self.property))
        if problem is not None and not problem.frames:
            raise Refused(f"The formula has no value: {problem.sentence}", where="property", mend="Correct it first.")
        colour = isinstance(track, ColourTrack)
        fitted = fitted_keys(local, values, max(self.near, 1.0)) if colour else eased_keys(local, values, self.near)
        if colour:
            fitted = [{**key, "value": _hex(key["value"])} for key in fitted]
        fields: dict[str, Any] = {"rest": fitted[0]["value"], "keys": fitted if len(fitted) > 1 else ()}
        fields |= {**NO_FORMULA, "cadence": None, "before": "hold", "after": "hold"}
        if colour:
            fields["mix"] = "srgb"
        return scene.with_layer(with_track(layer, self.property, remade(track, self.property, **fields)))

    def words(self, scene: Scene) -> str:
        return f"Wrote {label_in(scene, self.layer, self.property).lower()} of {name_of(scene, self.layer)} as keys"


class LandOnKeys(Edit):
    """Let a formula start and land on the keys of its property: it comes in after the first of them and goes before the
    last, each over `over` seconds, so that at both the value is that of the key. Without two keys the ends of the
    layer's span stand for them."""

    sets_formulas: ClassVar[bool] = True

    edit: Literal["land_on_keys"] = "land_on_keys"
    layer: LayerId
    property: PropertyName
    over: Annotated[float, Field(strict=True, gt=0, le=3_600)] = 0.5

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        track = track_of(layer, self.property)
        text = track.formula
        if text is None or isinstance(track, TextTrack) or isinstance(read(text), FormulaProblem):
            raise Refused(
                f"{label_of(self.property, layer)} of '{layer.name}' has no formula that gives numbers.",
                where="property", mend="Write one, or correct it, first.",
            )  # fmt: skip
        frames = [key.frame for key in track.keys]
        first, last = (frames[0], frames[-1]) if len(frames) > 1 else (0.0, float(layer.span.length - 1))
        begin, end = ((frame - track.formula_from) / scene.fps for frame in (first, last))
        over = min(self.over, (end - begin) / 2)
        if over <= 0:
            raise Refused(
                f"'{layer.name}' has one frame, in which nothing can start and land.", where="layer",
                mend="Make its span longer.",
            )  # fmt: skip
        *lines, value = _lines(text)
        name = next(one for one in ("share", *(f"share{n}" for n in range(2, 99))) if one not in text)
        rise = f"smoothstep({begin:.6g}, {begin + over:.6g}, t)"
        fall = f"smoothstep({end - over:.6g}, {end:.6g}, t)"
        whole = "\n".join([*lines, f"{name} = {rise} * (1 - {fall})", f"mix(base, ({value}), {name})"])
        return scene.with_layer(with_track(layer, self.property, remade(track, self.property, formula=whole)))

    def words(self, scene: Scene) -> str:
        what = f"{label_in(scene, self.layer, self.property).lower()} of {name_of(scene, self.layer)}"
        return f"Let the formula of {what} start and land on its keys"


def _lines(text: str) -> list[str]:
    """The lines of a formula before its value, and its value in one piece."""
    last = ast.parse(text).body[-1]
    return [*text.split("\n")[: last.lineno - 1], ast.get_source_segment(text, last) or ""]


def _hex(numbers: Any) -> str:
    return "#" + "".join(f"{round(min(max(part, 0), 255)):02x}" for part in numbers)


def _refuse_outlines(layer: Layer, name: str, track: Track) -> None:
    if isinstance(track, OutlineTrack):
        raise Refused(
            f"{label_of(name, layer)} of '{layer.name}' are many numbers, which no formula gives.", where="property",
            mend="Give a formula to its position, its scale or its rotation.",
        )  # fmt: skip
