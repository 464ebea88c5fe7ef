"""Resolved layers as groups of drawing operations."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import TYPE_CHECKING

import numpy as np

from ..draw.bounds import BoundsPen
from ..draw.inks import EffectInk, Layering, MatteInk
from ..draw.operations import DrawList, Group
from ..draw.pen import Pen, Recorder
from ..geometry.bezier import Floats
from .layers import ResolvedLayer, in_span

if TYPE_CHECKING:
    from .context import Context
    from .resolved import Resolved


def draw_list(resolved: Resolved) -> DrawList:
    """The draw list of a resolved scene."""
    scene = resolved.scene
    size = (scene.width, scene.height)
    groups = tuple(
        layer_group(layer, resolved.context, size) for layer in resolved.layers.values() if layer.visible.any()
    )
    red, green, blue, alpha = bytes.fromhex(scene.background[1:])
    return DrawList(scene.width, scene.height, (red, green, blue, alpha), resolved.frames, groups)


def layer_group(resolved: ResolvedLayer, context: Context, size: tuple[int, int]) -> Group:
    """What a layer shows under its own matrix, masks, effects, opacity and blend; `size` is the scene's, in pixels."""
    pen = Recorder(region=np.array([[0.0, 0.0, *size]]))
    draw_layer(pen, resolved, context)
    (group,) = pen.parts
    assert isinstance(group, Group)
    return group


def draw_layer(pen: Pen, resolved: ResolvedLayer, context: Context) -> None:
    """Draw a layer on a pen in the pixels of its scene: under its matrix, masks, effects, opacity, blend and matte."""
    layering = Layering(
        resolved.matrix,
        np.rint(resolved.opacity * 255.0),
        resolved.layer.blend,
        _one_if_same(resolved.visible[:, None].astype(np.float64)),
        resolved.masks,
        resolved.effects,
        _extent(resolved, context) if resolved.effects and not resolved.layer.content.filters else None,
        _matte_of(resolved, context),
        resolved.layer.content.filters,
    )
    with pen.group(layering):
        if resolved.framed is None:
            _draw_content(pen, resolved, context)
        else:
            with pen.group(Layering(resolved.framed)):
                _draw_content(pen, resolved, context)


def reach(resolved: ResolvedLayer, context: Context) -> Floats | None:
    """left, top, right, bottom (1 | n, 4) in the scene beyond which nothing is painted of a layer, at its frames; None
    where it is made of what lies below it."""
    if resolved.layer.content.filters:
        return None
    pen = BoundsPen()
    draw_layer(pen, resolved, context)
    box = np.zeros((1, 4)) if pen.box is None else pen.box
    return np.concatenate([box[:, :2], box[:, :2] + box[:, 2:]], axis=1)


def _extent(resolved: ResolvedLayer, context: Context, effects: Sequence[EffectInk] = ()) -> Floats | None:
    """left, top, width, height (1 | n, 4) of what is painted of a layer in its own pixels, through some effects; None
    where nothing is."""
    pen = BoundsPen()
    framed = Layering() if resolved.framed is None else Layering(resolved.framed)
    with pen.group(Layering(masks=resolved.masks, effects=effects)), pen.group(framed):
        _draw_content(pen, resolved, context)
    return pen.box


def _matte_of(resolved: ResolvedLayer, context: Context) -> MatteInk | None:
    """What a layer is shown in: another as it is painted in its span, hidden or not; None where that is gone."""
    matte = resolved.layer.matte
    other = None if matte is None else context.layer(matte.layer, resolved.frames)
    if matte is None or other is None:
        return None
    there = replace(other, visible=in_span(other.layer, other.frames))
    return MatteInk(lambda pen: draw_layer(pen, there, context), matte.by, matte.inverted)


def _one_if_same(rows: Floats) -> Floats:
    return rows[:1] if rows.size and (rows == rows[0]).all() else rows


def tight_box(resolved: ResolvedLayer, context: Context) -> Floats:
    """The box of what is really painted, in content pixels (1 | n, 4); the layer's own box where nothing is."""
    box = _extent(resolved, context, resolved.effects)
    return resolved.box if box is None else box


def _draw_content(pen: Pen, resolved: ResolvedLayer, context: Context) -> None:
    resolved.layer.content.draw(pen, resolved.inner, context.around(resolved.layer, resolved.frames))
