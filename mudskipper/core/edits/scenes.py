"""Edits of the scene itself: name, size, rate, length, background."""

from __future__ import annotations

from fractions import Fraction
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field, ValidationError

from ..document.properties import remade, with_part
from ..document.scene import Layer, Scene, Span
from ..document.variant_differences import over_variants
from ..formulas.at_rate import follows_rate, formula_at_rate
from ..formulas.reader import MOST_LETTERS
from ..ground.base_model import Name, Whole
from ..ground.errors import refusal_of
from ..ground.time import FrameRate
from ..moves.position_keys import parts_of
from ..tracks.base import tidy_frame
from ..tracks.cadence import Cadence
from ..tracks.colour import Colour
from .base import Edit, EditContext


class SetScene(Edit):
    """Change the scene; fields left out stay. A change of rate keeps every time in seconds.

    With a change of size, `carry` says how layers go along: they keep their `place` in pixels, the `fraction` of the
    scene at which their anchor stands, or are scaled to `fit` about the scene's centre.
    """

    edit: Literal["set_scene"] = "set_scene"
    name: Name | None = None
    width: Annotated[Whole, Field(ge=1, le=16_384)] | None = None
    height: Annotated[Whole, Field(ge=1, le=16_384)] | None = None
    frame_rate: FrameRate | None = None
    length: Annotated[Whole, Field(ge=1, le=1_000_000)] | None = None
    background: Colour | None = None
    carry: Literal["place", "fraction", "fit"] = "place"

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        if self.frame_rate is not None:
            before, scene = scene, at_rate(scene, self.frame_rate)
            context.notices += _rate_notices(before, scene)
        changes = {
            name: value
            for name in ("name", "width", "height", "length", "background")
            if (value := getattr(self, name)) is not None
        }
        return carried(scene.model_copy(update=changes), (scene.width, scene.height), self.carry)

    def words(self, scene: Scene) -> str:
        names = {"name": "name", "frame_rate": "rate", "length": "length", "background": "background"}
        changed = [word for field, word in names.items() if getattr(self, field) is not None]
        if self.width is not None or self.height is not None:
            changed.insert(0, "size")
        return f"Set the scene's {' and '.join(changed) or 'settings'}"


def _rate_notices(before: Scene, after: Scene) -> list[str]:
    """The notices about formulas after a change of rate: which were rewritten, and which follow the new rate."""
    if before.frame_rate == after.frame_rate:
        return []
    said: list[str] = []
    pairs = list(zip(before.layers, after.layers, strict=True))
    changed = [now.name for was, now in pairs if was.formulas != now.formulas]
    follow = [one.name for one in after.layers if any(follows_rate(text) for text in one.formulas.values())]
    if changed:
        said.append(f"Formulas that count frames were rewritten for the new rate, in {_names(changed)}.")
    if follow:
        said.append(f"Formulas that read fps follow the new rate, in {_names(follow)}.")
    return said


def _names(names: list[str]) -> str:
    quoted = [f"'{name}'" for name in names[:3]]
    more = len(names) - len(quoted)
    return f"{', '.join(quoted)} and {more} more" if more else " and ".join(quoted)


def carried(scene: Scene, old: tuple[int, int], carry: str) -> Scene:
    """The scene, its size changed from `old`, with its layers carried along."""
    if carry == "place" or old == (scene.width, scene.height):
        return scene
    grow = np.array([scene.width / old[0], scene.height / old[1]])
    if carry == "fit":
        grow = np.full(2, grow.min())
    shift = np.array([scene.width, scene.height]) / 2 - grow * np.array(old) / 2
    fit = carry == "fit"
    # What another layer carries goes along with that.
    return scene.with_layers(
        tuple(
            layer
            if layer.carrier in scene.places
            else over_variants(layer, lambda one: _carried(one, grow, shift, fit))
            for layer in scene.layers
        )
    )


def _carried(layer: Layer, grow: Any, shift: Any, scaled: bool) -> Layer:
    """Positions p → grow·p + shift, handles and scale along where the layer is scaled as well."""
    for name, track in parts_of(layer).items():
        axes = [0, 1] if name == "position" else ["xy".index(name[-1])]

        def scaled_value(value: Any, offset: bool = True, axes: list[int] = axes) -> Any:
            given = np.atleast_1d(np.array(value, dtype=np.float64))
            moved = (given * grow[axes] + (shift[axes] if offset else 0)).tolist()
            return tuple(moved) if len(moved) == 2 else moved[0]

        keys = []
        for key in track.keys:
            change: dict[str, Any] = {"value": scaled_value(key.value)}
            for handle in ("leave", "arrive"):
                if getattr(key, handle, None) is not None:
                    change[handle] = scaled_value(getattr(key, handle), offset=False)
            keys.append(key.model_copy(update=change))
        layer = with_part(layer, name, remade(track, name, rest=scaled_value(track.rest), keys=tuple(keys)))
    if scaled:
        size = layer.scale
        keys = [key.model_copy(update={"value": tuple(n * float(grow[0]) for n in key.value)}) for key in size.keys]
        rest = tuple(n * float(grow[0]) for n in size.rest)
        layer = with_part(layer, "scale", remade(size, "scale", rest=rest, keys=tuple(keys)))
    return layer


def at_rate(scene: Scene, rate: tuple[int, int]) -> Scene:
    """The scene at another rate: spans to the nearest frame, keys at their exact time, fractional where need be."""
    ratio = Fraction(*rate) / Fraction(*scene.frame_rate)
    if ratio == 1:
        return scene.model_copy(update={"frame_rate": rate})
    layers = tuple(_layer_at(layer, Fraction(*scene.frame_rate), Fraction(*rate)) for layer in scene.layers)
    beats = tuple(
        beat.model_copy(update={"frame": tidy_frame(float(Fraction(beat.frame) * ratio))}) for beat in scene.beats
    )
    length = max(round(scene.length * ratio), 1)
    return scene.model_copy(update={"frame_rate": rate, "length": length, "layers": layers, "beats": beats})


def _cadence_at(cadence: Cadence, old_start: int, start: int, ratio: Fraction, rate: Fraction) -> Cadence:
    """A cadence whose renewals stay at their times; one on a number of frames that is none at the new `rate` is given
    in times a second."""
    phase = float((Fraction(cadence.phase) + old_start) * ratio - start)
    if cadence.on is None:
        return cadence.model_copy(update={"phase": phase})
    frames = cadence.on * ratio
    if frames.denominator == 1:
        return cadence.model_copy(update={"on": int(frames), "phase": phase})
    return Cadence(per_second=float(rate / frames), phase=phase)


def _layer_at(layer: Layer, old: Fraction, rate: Fraction) -> Layer:
    ratio = rate / old
    start = round(layer.span.start * ratio)
    try:
        span = Span(start=start, length=max(round(layer.span.end * ratio) - start, 1))
    except ValidationError as error:
        raise refusal_of(error, f"Span of '{layer.name}'") from None

    def retimed(one: Layer) -> Layer:
        for name, track in one.tracks.items():
            if track.keys or track.cadence or track.formula:
                times = [float((Fraction(key.frame) + layer.span.start) * ratio - start) for key in track.keys]
                keys = tuple(
                    key.model_copy(update={"frame": tidy_frame(time)})
                    for key, time in zip(track.keys, times, strict=True)
                )
                cadence = track.cadence and _cadence_at(track.cadence, layer.span.start, start, ratio, rate)
                begin = (Fraction(track.formula_from) + layer.span.start) * ratio - start if track.formula else 0
                fields: dict[str, Any] = {"keys": keys, "cadence": cadence, "formula_from": tidy_frame(float(begin))}
                if track.formula:
                    text = formula_at_rate(track.formula, ratio)
                    fields["formula"] = text if len(text) <= MOST_LETTERS else track.formula
                one = with_part(one, name, remade(track, name, **fields))
        return one

    there = over_variants(layer, retimed)
    source = there.content.at_rate(layer.span.start, start, old, rate)
    return there.model_copy(update={"span": span, "content": source})
