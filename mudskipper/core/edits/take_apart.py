"""A scene that a layer shows taken apart: its layers in the place of that one."""

from __future__ import annotations

import re
from fractions import Fraction
from typing import Any, ClassVar, Literal

import numpy as np

from ..contents import CarrierContent, ShapeContent
from ..document.scene import Layer, Scene, Span, new_id
from ..document.variant_differences import over_variants
from ..geometry.bezier import Floats
from ..ground.base_model import Flag, WholeLayer
from ..ground.errors import Refused
from ..moves import position_keys as position_of
from ..moves.anchor_moves import converted
from ..resolve.context import Context
from ..shapes import Rectangle
from ..tracks.colour import ColourTrack
from ..tracks.kinds import PairTrack, PathTrack
from .base import Edit, EditContext, name_of, unlocked
from .carriers import released
from .following_slots import brought_out
from .layers import free_among, reading, shifted_keys, with_seeds
from .scenes import at_rate

AT_ONCE = 500
"""Frames that are looked at together."""

SCENE_WORDS = re.compile(r"\b(?:scene|beat|index|count|in_scene|in_layer|angle_to)\b")
"""What formulas read that is another in each scene."""


class TakeApart(Edit):
    """Put the layers of a scene in the place of the layer that shows it; refused where something to be seen or heard
    would change, with what that is, unless it is to be done `anyway`."""

    takes_items: ClassVar[bool] = False

    edit: Literal["take_apart"] = "take_apart"
    layer: WholeLayer
    anyway: Flag = False

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        if not layer.content.scenes:
            raise Refused(f"'{layer.name}' shows no scene.", where="layer", mend="Choose a layer that shows a scene.")
        layers, changes, came = taken_apart(scene, layer, context.of(scene))
        if changes and not self.anyway:
            raise Refused(
                f"Taking '{layer.name}' apart would change what is seen: {'; '.join(changes)}.",
                where="anyway", mend="Change that first, or take it apart anyway.",
            )  # fmt: skip
        if changes:
            context.notices.append(f"Changed by it: {'; '.join(changes)}.")
        index = scene.places[layer.id]
        others = tuple(_let_go(one, layer.id, scene, context) for one in scene.layers)
        after = scene.with_layers((*others[:index], *layers, *others[index + 1 :]))
        return brought_out(after, layer.id, context.assets.scene(layer.content.asset), came)

    def words(self, scene: Scene) -> str:
        return f"Took {name_of(scene, self.layer)} apart"


def _let_go(one: Layer, gone: str, scene: Scene, context: EditContext) -> Layer:
    """A layer whose matte or carrier goes."""
    if one.matte is not None and one.matte.layer == gone:
        one = one.model_copy(update={"matte": None})
    return released(scene, one, context) if one.carrier == gone else one


def taken_apart(scene: Scene, layer: Layer, context: Context) -> tuple[list[Layer], list[str], dict[str, str]]:
    """The layers that a scene layer shows, as layers of the scene that it lies in, back to front, and what changes by
    that, in words that go on with a colon.

    Where the layer only stands somewhere, they are moved there. Where it moves, turns or is scaled, a carrier that
    moves as it did carries them.
    """
    content = layer.content
    inner = context.within(content.asset, content.filled).scene
    changes = [*_of_layer(scene, layer), *_of_time(scene, layer, inner), *_of_frame(layer, inner, context)]
    changes += _of_formulas(inner)
    if inner.frame_rate != scene.frame_rate:
        inner = at_rate(inner, scene.frame_rate)
    offset = content.time.start * scene.fps
    ids = {one.id: new_id() if one.id in scene.places else one.id for one in inner.layers}
    brought = [_brought_out(one, layer, inner, round(offset), ids, scene) for one in inner.layers]
    layers = [one for one in brought if one is not None]
    if content.background and inner.background[7:] != "00":
        layers.insert(0, _background(layer, inner))
    carrier = _carrier(scene, layer, context)
    if isinstance(carrier, Layer):
        layers = [one if one.carrier else one.model_copy(update={"carrier": carrier.id}) for one in layers]
        layers.append(carrier)
    elif any(carrier):
        layers = [
            one if one.carrier else over_variants(one, lambda each: position_of.shifted(each, carrier))
            for one in layers
        ]
    return _named(layers, scene, layer), changes, ids


def _of_layer(scene: Scene, layer: Layer) -> list[str]:
    """What is lost of a layer that is taken apart."""
    content = layer.content
    found = []
    if layer.opacity.moves or layer.opacity.rest != 100:
        found.append("its opacity is lost")
    if layer.blend != "normal":
        found.append(f"its blend ({layer.blend}) is lost")
    if any(mask.acts for mask in layer.masks):
        found.append("its masks are lost")
    if layer.crop is not None or layer.framing is not None:
        found.append("its crop and framing are lost")
    if any(effect.visible for effect in layer.effects):
        found.append("its effects are lost")
    if layer.matte is not None:
        found.append("its matte is lost")
    readers = [one.name for one in scene.layers if one.matte is not None and one.matte.layer == layer.id]
    if readers:
        found.append(f"'{readers[0]}' has no matte any more")
    if any(one.carrier == layer.id for one in scene.layers):
        found.append("what it carries is released")
    sound = content.sound
    if sound.level.moves or sound.level.rest or sound.fade_in or sound.fade_out:
        found.append("the level and the fades of its sound are lost")
    return found


def _of_time(scene: Scene, layer: Layer, inner: Scene) -> list[str]:
    """What changes in time."""
    time = layer.content.time
    found = []
    if time.keyed is not None or time.freeze is not None or time.speed != 100:
        found.append("it runs at its own speed again")
    if inner.frame_rate != scene.frame_rate:
        found.append("it runs at the rate of the scene")
    start = time.start * scene.fps
    if abs(start - round(start)) > 1e-6:
        found.append("it begins a part of a frame earlier or later")
    first, last = round(start), round(start) + layer.span.length
    end = round(Fraction(inner.length) * Fraction(*scene.frame_rate) / Fraction(*inner.frame_rate))
    if (first < 0 and time.before != "nothing") or (last > end and time.after != "nothing"):
        found.append("beyond its beginning and its end nothing of it is seen")
    return found


def _of_frame(layer: Layer, inner: Scene, context: Context) -> list[str]:
    """What the frame of the inner scene crops or keeps apart."""
    fills = layer.content.filled
    inside = context.within(inner.id, fills)
    inner = inside.scene
    found = []
    for start in range(0, inner.length, AT_ONCE):
        shown = context.inner(
            inner.id, np.arange(start, min(start + AT_ONCE, inner.length), dtype=np.float64), fills=fills
        )
        beyond = shown.beyond
        if beyond is not None:
            found.append(f"its frame crops '{beyond}' no more")
            break
    for one in inside.scene.layers:
        if one.blend != "normal":
            found.append(f"'{one.name}' blends with all that lies below")
        if one.content.filters:
            found.append(f"'{one.name}' filters all that lies below")
            break
    return found


def _of_formulas(inner: Scene) -> list[str]:
    """What formulas read of the inner scene, and find another in the outer one."""
    for one in inner.layers:
        if any(SCENE_WORDS.search(text) for text in one.formulas.values()):
            return [f"a formula of '{one.name}' reads the scene that it lies in"]
    return []


def _brought_out(
    one: Layer, layer: Layer, inner: Scene, offset: int, ids: dict[str, str], scene: Scene
) -> Layer | None:
    """A layer of the inner scene as one of the scene that it lies in, as long as it is seen there; None where never."""
    shift = layer.span.start - offset
    start = max(one.span.start, 0) + shift
    end = min(one.span.end, inner.length) + shift
    start, end = max(start, layer.span.start), min(end, layer.span.end)
    if start >= end:
        return None
    if ids[one.id] != one.id:
        one = with_seeds(one)
    one = shifted_keys(one, one.span.start + shift - start, scene.fps)
    changes: dict[str, Any] = {"id": ids[one.id], "span": Span(start=start, length=end - start)}
    changes["visible"] = one.visible and layer.visible
    if one.matte:
        changes["matte"] = one.matte.model_copy(update={"layer": ids.get(one.matte.layer, one.matte.layer)})
    if one.carrier:
        changes["carrier"] = ids.get(one.carrier)
    if one.content.needs:
        changes["content"] = one.content.relinked(ids)
    return one.model_copy(update=changes)


def _background(layer: Layer, inner: Scene) -> Layer:
    size, middle = (float(inner.width), float(inner.height)), (inner.width / 2, inner.height / 2)
    plate = Rectangle(size=PairTrack(rest=size), fill=ColourTrack(rest=inner.background), at=PairTrack(rest=middle))
    return Layer(
        name="Background", span=layer.span, content=ShapeContent(items=(plate,)), visible=layer.visible,
        position=PathTrack(rest=middle),
    )  # fmt: skip


def _carrier(scene: Scene, layer: Layer, context: Context) -> Layer | Floats:
    """By how much a layer moves what it shows (2,), where that is all that it ever does; else a carrier that moves
    as it does."""
    frames = np.arange(layer.span.start, layer.span.end, dtype=np.float64)
    (one,) = context.resolve([layer], frames)
    matrix = one.matrix
    still = np.abs(matrix - matrix[0]).max() <= 1e-9
    plain = np.abs(matrix[0, :4] - (1.0, 0.0, 0.0, 1.0)).max() <= 1e-12
    if layer.carrier is None and still and plain:
        return np.asarray(matrix[0, 4:])
    # The carrier's own pixels must be those of the scene that it stands for: its anchor is where that one's is.
    anchor = layer.anchor
    if anchor.formula is not None:
        anchor = converted(layer, False, context).anchor
    if anchor.pinned:
        box = one.content_box[0]
        if layer.masks or layer.crop:
            box = one.box[0]
        keys = tuple(
            key.model_copy(update={"value": tuple(float(box[i] + key.value[i] * box[2 + i]) for i in (0, 1))})
            for key in anchor.keys
        )
        rest = tuple(float(box[i] + anchor.rest[i] * box[2 + i]) for i in (0, 1))
        anchor = anchor.model_copy(update={"pinned": False, "rest": rest, "keys": keys})
    return layer.model_copy(
        update={
            "id": new_id(), "content": CarrierContent(), "anchor": anchor, "variants": (), "variant": "A", "masks": (),
            "effects": (), "crop": None, "framing": None, "matte": None, "blend": "normal", "unchecked": (),
            "opacity": Layer.model_fields["opacity"].default,
        }
    )  # fmt: skip


def _named(layers: list[Layer], scene: Scene, gone: Layer) -> list[Layer]:
    """Layers under names that are free in a scene in which another one goes, and by which their formulas read them."""
    taken = {one.name for one in scene.layers if one.id != gone.id}
    named, names = [], {}
    for one in layers:
        name = free_among(taken, one.name)
        taken.add(name)
        names[one.name] = name
        named.append(one.model_copy(update={"name": name}))
    changed = {old: new for old, new in names.items() if old != new}
    return [reading(one, changed) for one in named]
