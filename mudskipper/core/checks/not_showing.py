"""Why a layer that is there shows nothing at a frame, in words, with what mends it."""

from __future__ import annotations

import math
from typing import Literal

import numpy as np

from ..contents import TimedContent
from ..contents.assets import Assets
from ..contents.cascade import Cascade
from ..document.items_as_layers import MASKS
from ..document.scene import Layer, Scene
from ..draw.operations import Glyphs, Group, Operation, Paint, Path, alphas
from ..edits import Edit, MoveLayers, SetProperty
from ..edits.base import name_of
from ..edits.layers import SetContent, SetVisible
from ..edits.windows import SetCrop
from ..ground.base_model import Model
from ..ground.time import timecode
from ..resolve.bounds import painted_bounds
from ..resolve.context import Context
from ..resolve.drawing import layer_group, tight_box
from ..resolve.layers import ResolvedLayer, in_span
from ..resolve.resolved import resolve

Reason = Literal[
    "hidden",
    "span",
    "opacity",
    "scale",
    "masked",
    "matte",
    "size",
    "colourless",
    "outside",
    "same",
    "covered",
    "source",
    "missing",
    "cascade",
    "effects",
]


FURTHEST = 1e6
"""Pixels by which one edit moves a layer at most."""


class Unseen(Model):
    """A layer of which nothing shows at a frame: why, the edits that mend it, or the frame at which it shows."""

    layer: str
    frame: int
    reason: Reason
    sentence: str
    edits: tuple[Edit, ...] = ()
    go: int | None = None


def unseen(scene: Scene, frame: int, assets: Assets) -> list[Unseen]:
    """The layers of which nothing can show at a frame by their own numbers; front first."""
    resolved = resolve(scene, [frame], assets)
    seen = [layer for layer in resolved.layers.values() if layer.layer.content.shows]
    found = [why(resolved.context, frame, layer) for layer in reversed(seen)]
    return [one for one in found if one is not None]


def painted_over(scene: Scene, layer_id: str, frame: int, *, alone: bool) -> Unseen:
    """What is said of a layer that is painted but changes no pixel: `alone` when not even without those in front."""
    layer = scene.layer(layer_id)
    if alone and layer.matte:
        other = name_of(scene, layer.matte.layer)
        where = "is not" if layer.matte.inverted else "is"
        sentence = f"'{layer.name}' is shown only where '{other}' {where}, and nothing of it lies there."
        return Unseen(layer=layer_id, frame=frame, reason="matte", sentence=sentence)
    if alone and any(mask.acts for mask in layer.masks):
        sentence = f"'{layer.name}' is painted, but its masks leave nothing that differs from what lies behind it."
        return Unseen(layer=layer_id, frame=frame, reason="masked", sentence=sentence)
    cascade = _moves_it(layer, frame) if alone else None
    if cascade is not None:
        called, go = cascade.name or cascade.unit, math.ceil(layer.span.start + cascade.start + cascade.each)
        if cascade.way == "in":
            sentence = f"'{layer.name}' does not show here: its cascade '{called}' has not brought it in yet."
        else:
            sentence = f"'{layer.name}' does not show here: its cascade '{called}' has taken it away."
            go = math.floor(layer.span.start + cascade.start)
        go = min(max(go, layer.span.start, 0), layer.span.end - 1, scene.length - 1)
        return Unseen(layer=layer_id, frame=frame, reason="cascade", sentence=sentence, go=go)
    if alone:
        sentence = f"'{layer.name}' is painted, but in the colour of what lies behind it. Give it another colour."
        return Unseen(layer=layer_id, frame=frame, reason="same", sentence=sentence)
    sentence = f"'{layer.name}' is covered by what lies in front of it. Bring it forward, or hide what covers it."
    return Unseen(layer=layer_id, frame=frame, reason="covered", sentence=sentence)


def _moves_it(layer: Layer, frame: int) -> Cascade | None:
    """The cascade by which units of a layer are not where they rest at a scene frame, or are still to come."""
    cascades: tuple[Cascade, ...] = getattr(layer.content, "cascades", ())
    local = frame - layer.span.start
    for one in cascades:
        begun = local >= one.start
        if one.on and ((one.way == "in" and local < one.start + one.each) or (one.way == "out" and begun)):
            return one
    return None


def why(context: Context, frame: int, one: ResolvedLayer) -> Unseen | None:
    """Why nothing of a layer can show at the one frame at which it is resolved; None where something may."""
    scene, layer, span = context.scene, one.layer, one.layer.span

    def because(reason: Reason, why: str, *edits: Edit, go: int | None = None) -> Unseen:
        sentence = f"'{layer.name}' does not show at {timecode(frame, scene.frame_rate)}: {why}."
        return Unseen(layer=layer.id, frame=frame, reason=reason, sentence=sentence, edits=edits, go=go)

    def setting(name: str, value: object) -> Edit:
        return SetProperty.model_validate(
            {"layer": layer.id, "property": name, "value": value, "frame": float(frame)}
        )  # fmt: skip

    if not layer.visible:
        return because("hidden", "it is hidden", SetVisible(layers=(layer.id,), visible=True))
    if not span.start <= frame < span.end:
        first, last = (timecode(at, scene.frame_rate) for at in (span.start, span.end - 1))
        nearest = span.start if frame < span.start else span.end - 1
        go = min(max(nearest, 0), scene.length - 1)
        return because("span", f"it is there from {first} to {last} only", go=go)
    if one.opacity[0, 0] * 255 < 0.5:
        return because("opacity", "its opacity is 0 % here", setting("opacity", 100.0))
    content = layer.content
    if content.filters and not any(effect.visible for effect in layer.effects):
        return because("effects", "it is a filter and has no effects that are on")
    for name in content.scenes:
        if name not in context.assets.scenes:
            return because("missing", "its scene is not in this project any more, or cannot be read")
        if not context.within(name, content.filled).scene.layers:
            return because("missing", "its scene has no layers yet")
    if isinstance(content, TimedContent) and content.source_frames(one.inner, context.around(layer, one.frames))[0] < 0:
        early = content.seconds(one.inner, context.around(layer, one.frames))[0] < 0
        side, words = ("before", "has not begun") if early else ("after", "has ended")
        hold = SetContent(layer=layer.id, path=f"time.{side}", value="hold")
        return because("source", f"its source {words} here", hold)
    x, y = (float(n) for n in one.values["scale"][0])
    if x == 0 or y == 0:
        axes = "x and y" if x == y else "x" if x == 0 else "y"
        whole = [100.0 if n == 0 else n for n in (x, y)]
        return because("scale", f"its scale is 0 on {axes} here", setting("scale", whole))
    if (one.box[0, 2:] == 0).any() and (one.content_box[0, 2:] > 0).all():
        return because("masked", f"its {_window_of(one)} nothing of it here", *_whole(one))
    other = layer.matte and context.layer(layer.matte.layer, one.frames)
    if layer.matte and other and not layer.matte.inverted and not in_span(other.layer, one.frames)[0]:
        near = min(max(frame, other.layer.span.start), other.layer.span.end - 1)
        go = min(max(near, 0), scene.length - 1)
        return because("matte", f"it is shown only where '{other.layer.name}' is, which is not there here", go=go)
    # A box without a width or a height still shows a stroke.
    if (one.box[0, 2:] == 0).any() and (tight_box(one, context)[0, 2:] == 0).any():
        return because("size", "its size is 0 here")
    if _colourless(one, context):
        return because("colourless", "it has neither a fill nor a stroke that can be seen")
    left, top, right, bottom = (float(n) for n in painted_bounds(one, context)[0])
    away = {
        "left of": -right, "right of": left - scene.width, "above": -bottom, "below": top - scene.height,
    }  # fmt: skip
    where, far = max(away.items(), key=lambda item: item[1])
    if far >= 0:
        x, y = scene.width / 2 - (left + right) / 2, scene.height / 2 - (top + bottom) / 2
        steps = max(abs(x), abs(y)) <= FURTHEST
        home = (MoveLayers(layers=(layer.id,), frame=float(frame), by=(x, y)),) if steps else ()
        return because("outside", f"it stands {far:.0f} px {where} the frame", *home)
    return None


def _window_of(one: ResolvedLayer) -> str:
    """What leaves nothing of a layer, in words that go on with what it leaves."""
    count = sum(mask.acts for mask in one.layer.masks)
    masks = "masks leave" if count > 1 else "mask leaves" if count else ""
    if one.layer.crop is None:
        return masks
    return f"crop and {masks.split()[0]} leave" if masks else "crop leaves"


def _whole(one: ResolvedLayer) -> tuple[Edit, ...]:
    """The edits that show a layer without its masks and its crop."""
    layer = one.layer
    masks = tuple(f"{layer.id}/{MASKS}/{mask.id}" for mask in layer.masks if mask.acts)
    hidden: tuple[Edit, ...] = (SetVisible(layers=masks, visible=False),) if masks else ()
    return hidden if layer.crop is None else (*hidden, SetCrop(layer=layer.id, on=False, frame=0.0))


def _colourless(one: ResolvedLayer, context: Context) -> bool:
    """Whether every fill and stroke of shapes and texts is entirely transparent, or has no width."""
    fills = [v for name, v in one.values.items() if name.endswith(".fill") and v.shape[1] == 4]
    if one.layer.content.has_pixels or any(np.rint(fill[0, 3]) > 0 for fill in fills):
        return False
    size = context.scene.width, context.scene.height
    return not any(_has_ink(part) for part in layer_group(one, context, size).parts)


def _has_ink(part: Operation) -> bool:
    match part:
        case Group():
            return any(_has_ink(inner) for inner in part.parts)
        case Path():
            strokes = part.stroke is not None and part.stroke_width is not None
            lined = strokes and part.stroke_width[0, 0] > 0 and _is_seen(part.stroke)  # type: ignore[index,arg-type]
            return bool(lined) or (part.fill is not None and _is_seen(part.fill))
        case Glyphs():
            return _is_seen(part.fill)
    return True


def _is_seen(paint: Paint) -> bool:
    return bool((alphas(paint)[0] > 0).any())
