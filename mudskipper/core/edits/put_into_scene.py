"""Layers put into a scene of their own, with no visible change."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Annotated, Any, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..contents.scene import SceneContent
from ..document.properties import label_of
from ..document.scene import Beat, Layer, Scene, Span, new_id
from ..document.variant_differences import over_variants
from ..ground.base_model import Id, Name, Whole, WholeLayer
from ..ground.errors import Refused
from ..moves import position_keys as position_of
from ..resolve.bounds import painted_bounds
from ..resolve.context import Context
from ..tracks.kinds import PathTrack
from .base import Edit, EditContext, names_of, unlocked
from .following_slots import put_along
from .layers import free_name

AT_ONCE = 500
"""Frames that are looked at together."""
LARGEST = 16_384
NEAR = 1e-6
"""Pixels that what is seen may reach beyond a whole one: what multiplying floats may lose."""


class PutIntoScene(Edit):
    """Put layers into a new scene of their own, which a layer shows in their place; nothing changes to be seen.

    Its frame is that of the `scene`, or as `tight` as what is seen of them, with a `margin` in pixels.
    """

    takes_items: ClassVar[bool] = False

    edit: Literal["put_into_scene"] = "put_into_scene"
    layers: Annotated[tuple[WholeLayer, ...], Field(min_length=1, max_length=5_000)]
    name: Name | None = None
    frame: Literal["scene", "tight"] = "scene"
    margin: Annotated[Whole, Field(ge=0, le=4_000)] = 0
    id: Id = Field(default_factory=new_id)
    scene: Id = Field(default_factory=new_id)

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        chosen = {unlocked(scene, layer_id).id for layer_id in self.layers}
        if self.id in scene.places:
            raise Refused(f"A layer with the id {self.id} is there already.", where="id", mend="Leave the id out.")
        if self.scene in context.assets.scenes or self.scene == scene.id:
            raise Refused(f"A scene with the id {self.scene} is there already.", where="scene", mend="Leave it out.")
        layers = [layer for layer in scene.layers if layer.id in chosen]
        name = self.name or layers[-1].name
        margin = None if self.frame == "scene" else self.margin
        inner, layer = inner_scene(scene, layers, self.scene, name, margin, context.of(scene))
        layer = layer.model_copy(update={"id": self.id})
        scene, inner = put_along(scene, inner, layer)
        context.make(inner)
        rest = [one for one in scene.layers if one.id not in chosen]
        layer = layer.model_copy(update={"name": free_name(scene.with_layers(tuple(rest)), name)})
        # It comes to where the frontmost of them was.
        front = max(scene.places[one] for one in chosen)
        rest.insert(front + 1 - len(chosen), layer)
        context.notices.append(
            f"The new scene '{inner.name}' is {inner.width} × {inner.height} px and {inner.length} frames long."
        )
        after = scene.with_layers(tuple(rest))
        _refuse_changed_formulas(rest, context.of(scene), after, (0, 0, 0))
        return after

    def words(self, scene: Scene) -> str:
        return f"Put {names_of(scene, self.layers)} into a scene of its own"


def inner_scene(
    scene: Scene, layers: Sequence[Layer], scene_id: str, name: str, margin: int | None, context: Context
) -> tuple[Scene, Layer]:
    """A new scene of some of a scene's layers, back to front, and the layer that shows it in their place.

    It lasts from where the first of them begins to where the last one ends, at the same rate. Its frame is the
    scene's; with a `margin` in pixels it is what is seen of them in that, and so much more. Refused in words where
    something to be seen would change.
    """
    _refuse_links(scene, layers)
    first, end = min(one.span.start for one in layers), max(one.span.end for one in layers)
    _refuse_between(scene, layers, context)
    blend = _blend_of(layers)
    left, top, width, height = 0, 0, scene.width, scene.height
    if margin is not None:
        left, top, width, height = _seen_of(scene, layers, margin, context)
    moved = tuple(_moved(one, -first, (-left, -top)) for one in layers)
    moved = tuple(one.model_copy(update={"blend": "normal"}) for one in moved) if blend != "normal" else moved
    beats = tuple(Beat(frame=beat.frame - first, label=beat.label) for beat in scene.beats if first <= beat.frame < end)
    inner = Scene(
        id=scene_id, name=name, width=width, height=height, frame_rate=scene.frame_rate, length=end - first,
        beats=beats, layers=moved,
    )  # fmt: skip
    _refuse_changed_formulas(layers, context, inner, (-first, -left, -top))
    place = PathTrack(rest=(left + width / 2, top + height / 2))
    layer = Layer(
        name=name, span=Span(start=first, length=end - first), content=SceneContent(asset=scene_id), position=place,
        blend=blend,
    )  # fmt: skip
    return inner, layer


def _moved(layer: Layer, frames: int, by: tuple[int, int]) -> Layer:
    """The layer somewhere else in time, and in the scene where no other carries it there."""
    span = Span(start=layer.span.start + frames, length=layer.span.length)
    if by != (0, 0) and layer.carrier is None:
        layer = over_variants(layer, lambda one: position_of.shifted(one, np.array(by, dtype=np.float64)))
    return layer.model_copy(update={"span": span})


def _refuse_links(scene: Scene, layers: Sequence[Layer]) -> None:
    """Refuse layers that read others which stay outside, or are read by those."""
    chosen = {one.id for one in layers}
    for one in scene.layers:
        for read in scene.layers:
            if read.name in one.named and (one.id in chosen) != (read.id in chosen):
                raise Refused(
                    f"A formula of '{one.name}' reads '{read.name}', and only one of the two would go into the new "
                    "scene.",
                    where="layers", mend="Choose both, or neither.",
                )  # fmt: skip
        for other in one.needs:
            if other in scene.places and (one.id in chosen) != (other in chosen):
                along = "runs along" if other in one.content.needs else "is shown only where there is"
                link = "is carried by" if one.carrier == other else along
                inside, outside = (one.id, other) if one.id in chosen else (other, one.id)
                raise Refused(
                    f"'{one.name}' {link} '{scene.layer(other).name}', and only one of the two would go into the new "
                    "scene.",
                    where="layers",
                    mend=f"Choose '{scene.layer(outside).name}' as well, or leave out '{scene.layer(inside).name}'.",
                )  # fmt: skip


def _refuse_changed_formulas(layers: Sequence[Layer], before: Context, after: Scene, by: tuple[int, int, int]) -> None:
    """Refuse layers whose formulas give something else in another scene, `by` frames and pixels from where they were:
    those that read its size, its time, its beats, the layer's place among others, or places in it."""
    there = Context(after, before.assets)
    for layer in layers:
        if layer.id not in before.scene.places:
            continue
        frames = np.arange(layer.span.start, layer.span.end, dtype=np.float64)
        for path in layer.formulas:
            old = before.formulas.value(layer, path, frames)
            new = there.formulas.value(after.layer(layer.id), path, frames + by[0])
            shift = {"position": by[1:], "position.x": by[1:2], "position.y": by[2:]}.get(path, (0.0,))
            if not np.allclose(old + (shift if layer.carrier is None else 0.0), new, rtol=0, atol=NEAR):
                raise Refused(
                    f"The formula of {label_of(path, layer).lower()} of '{layer.name}' would give something else: it "
                    "reads the scene, or where layers are in it.",
                    where="layers", mend="Write it as keys first, or leave the layer out.",
                )  # fmt: skip


def _blend_of(layers: Sequence[Layer]) -> Any:
    """The blend of the one layer; Refused where one of several blends with what lies below them all, or filters it."""
    for one in layers:
        if one.content.filters:
            raise Refused(
                f"'{one.name}' filters all that lies below, and in a scene of its own it would filter these alone.",
                where="layers", mend="Leave it out.",
            )  # fmt: skip
    if len(layers) == 1:
        return layers[0].blend
    for one in layers:
        if one.blend != "normal":
            raise Refused(
                f"'{one.name}' blends with what lies below ({one.blend}), and in a scene of its own it would blend "
                "with these layers only.",
                where="layers", mend="Leave it out, or set its blend to normal first.",
            )  # fmt: skip
    return "normal"


def _refuse_between(scene: Scene, layers: Sequence[Layer], context: Context) -> None:
    """Refuse layers that would come in front of one that stays outside and lies over them at some frame."""
    places = [scene.places[one.id] for one in layers]
    chosen = set(places)
    between = [i for i in range(min(places), max(places)) if i not in chosen]
    for index in between:
        other = scene.layers[index]
        for below in (scene.layers[i] for i in places if i < index):
            frame = _meet(below, other, context)
            if frame is not None:
                raise Refused(
                    f"'{other.name}' lies between these layers, over '{below.name}' at frame {frame}, and would come "
                    "behind it.",
                    where="layers",
                    mend=f"Choose '{other.name}' as well, or bring it in front of them all first.",
                )  # fmt: skip


def _meet(one: Layer, other: Layer, context: Context) -> int | None:
    """The first frame at which two layers are painted over each other; None where they never are."""
    first, end = max(one.span.start, other.span.start), min(one.span.end, other.span.end)
    for start in range(first, end, AT_ONCE):
        frames = np.arange(start, min(start + AT_ONCE, end), dtype=np.float64)
        found = context.resolve([one, other], frames)
        a, b = (np.broadcast_to(painted_bounds(each, context), (len(frames), 4)) for each in found)
        apart = (a[:, 2:] <= b[:, :2]).any(axis=1) | (b[:, 2:] <= a[:, :2]).any(axis=1)
        both = np.flatnonzero(~apart & found[0].visible & found[1].visible)
        if both.size:
            return int(frames[both[0]])
    return None


def _seen_of(scene: Scene, layers: Sequence[Layer], margin: int, context: Context) -> tuple[int, int, int, int]:
    """left, top, width, height, in whole pixels, of what is ever seen of layers in the scene's frame, and a margin."""
    low, high = np.full(2, np.inf), np.full(2, -np.inf)
    for one in layers:
        for start in range(one.span.start, one.span.end, AT_ONCE):
            frames = np.arange(start, min(start + AT_ONCE, one.span.end), dtype=np.float64)
            (found,) = context.resolve([one], frames)
            if not one.content.shows:
                continue
            bounds = painted_bounds(found, context)
            low, high = np.minimum(low, bounds[:, :2].min(axis=0)), np.maximum(high, bounds[:, 2:].max(axis=0))
    low, high = np.maximum(low, 0), np.minimum(high, (scene.width, scene.height))
    if (high <= low).any():
        raise Refused(
            "Nothing of these layers is ever seen in the frame, so there is nothing to fit a frame around.",
            where="frame", mend="Take the whole frame of the scene.",
        )  # fmt: skip
    left, top = (math.floor(n + NEAR) - margin for n in low)
    right, bottom = (math.ceil(n - NEAR) + margin for n in high)
    return left, top, min(right - left, LARGEST), min(bottom - top, LARGEST)
