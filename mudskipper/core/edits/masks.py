"""Edits of masks: added, made of a shape that lies over a layer, and how they act.

In all else a mask is edited as a shape is, by its address.
"""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..document.properties import with_part
from ..document.scene import Scene
from ..draw.operations import MaskMode
from ..geometry.transform import apply, inverse
from ..ground.base_model import Flag, Id, LayerId, Pair, WholeLayer
from ..ground.errors import Refused
from ..moves.mask_from import masks_of
from ..shapes import SHAPES, ShapeItem, SizedItem
from ..shapes.masks import Covers, Mask, covering
from ..tracks.base import KeyFrame
from ..tracks.walk import tracks_in
from .base import Edit, EditContext, View, name_of, unlocked
from .layers import DeleteLayers, free_among, shifted_keys

FIRST_SIZE = 0.8
"""The size of a new mask as a share of the layer's box."""


class AddMask(Edit):
    """Mask a layer or a group with a shape in the middle of its box, or in the box between two points of the scene."""

    edit: Literal["add_mask"] = "add_mask"
    layer: LayerId
    frame: KeyFrame
    shape: Annotated[str, Field(max_length=40)] = "rectangle"
    mode: MaskMode = "add"
    drawn: tuple[Pair, Pair] | None = None

    def seen_inside(self, view: View) -> Edit:
        return self if self.drawn is None else self.model_copy(update={"drawn": tuple(map(view.point, self.drawn))})

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        kind = next((one for one in SHAPES if one.model_fields["shape"].default == self.shape), None)
        if kind is None or not issubclass(kind, SizedItem):
            raise Refused(
                f"A mask of the kind {self.shape!r} cannot be made by itself.", where="shape",
                mend="Choose a rectangle, an ellipse, a polygon or a star, or draw a path.",
            )  # fmt: skip
        here = context.of(scene).one(layer, self.frame)
        box, share = here.box[0], FIRST_SIZE
        if self.drawn is not None:
            back = inverse(here.matrix[0])
            if back is None:
                raise Refused(
                    f"'{layer.name}' has no extent at this frame, so nothing can be drawn on it.", where="drawn",
                    mend="Draw the mask where its scale is not 0.",
                )  # fmt: skip
            ends = apply(back, np.asarray(self.drawn, dtype=np.float64))
            box, share = np.concatenate([ends.min(axis=0), np.ptp(ends, axis=0)]), 1.0
        size = [max(round(float(n) * share, 1), 1.0) for n in box[2:]]
        middle = [round(float(n), 1) for n in box[:2] + box[2:] / 2]
        shape = kind.model_validate({"at": {"rest": middle}, "size": {"rest": size}})
        name = free_among([one.name for one in layer.masks], str(kind.label).capitalize())
        mask = Mask(name=name, shape=shape, mode=self.mode)
        return scene.with_layer(with_part(layer, "masks", (*layer.masks, mask)))

    def words(self, scene: Scene) -> str:
        return f"Masked {name_of(scene, self.layer)}"


class SetMask(Edit):
    """Choose how a mask of a layer or a group acts."""

    edit: Literal["set_mask"] = "set_mask"
    layer: LayerId
    mask: Annotated[str, Field(max_length=12)]
    mode: MaskMode | None = None
    inverted: Flag | None = None
    covers: Covers | None = None

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        index = next((i for i, one in enumerate(layer.masks) if one.id == self.mask), None)
        if index is None:
            raise Refused(
                f"That mask is not on '{layer.name}'; it may have been deleted in another window.",
                where="mask", mend="Nothing was changed.",
            )  # fmt: skip
        was = layer.masks[index]
        changes: dict[str, Any] = {
            name: value for name in ("mode", "inverted") if (value := getattr(self, name)) is not None
        }
        if self.covers is not None:
            changes["shape"] = self._covering(was, layer.name, context)
        return scene.with_layer(with_part(layer, f"masks.{index}", was.model_copy(update=changes)))

    def _covering(self, was: Mask, owner: str, context: EditContext) -> ShapeItem:
        assert self.covers is not None
        shape: ShapeItem = was.shape
        if self.covers != "stroke" and not shape.has_area:
            raise Refused(
                f"'{was.name}' of '{owner}' is a {shape.label}, which has no inside.", where="covers",
                mend="Let it cover its stroke.",
            )  # fmt: skip
        if self.covers == "inside" and shape.stroke is not None:
            moving = sum(track.moves for _, track in tracks_in(shape.stroke))
            if moving:
                context.notices.append(f"The stroke of '{was.name}' is gone, and its motion with it.")
        return covering(shape, self.covers)

    def words(self, scene: Scene) -> str:
        if self.inverted is not None:
            return f"{'Inverted' if self.inverted else 'No longer inverted'} a mask of {name_of(scene, self.layer)}"
        if self.covers is not None:
            what = {"inside": "its inside", "stroke": "its stroke", "both": "its inside and its stroke"}[self.covers]
            return f"A mask of {name_of(scene, self.layer)} now covers {what}"
        acts = {"add": "adds", "subtract": "takes away", "intersect": "leaves only what lies within", None: "stays"}
        return f"A mask of {name_of(scene, self.layer)} now {acts[self.mode]}"


class MaskWith(Edit):
    """Make the shapes of a layer that lies over another into masks of that one, where they are at a frame.

    Over a layer that rests they keep their motion; else they move along with the layer from now on.
    """

    takes_items: ClassVar[bool] = False

    edit: Literal["mask_with"] = "mask_with"
    layer: WholeLayer
    by: Id
    frame: KeyFrame

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer, source = unlocked(scene, self.layer), unlocked(scene, self.by)
        if layer.id == source.id:
            raise Refused("A layer cannot mask itself.", where="by", mend="Choose the layer and a shape over it.")
        shifted = shifted_keys(source, float(source.span.start - layer.span.start), scene.fps)
        here = shifted.model_copy(update={"span": layer.span})
        made, kept = masks_of(here, layer, self.frame, context.of(scene))
        if not kept:
            context.notices.append(f"'{source.name}' masks '{layer.name}' as it lies here, without its own motion.")
        names = tuple(mask.name for mask in layer.masks)
        for mask in made:
            name = free_among(names, mask.name)
            names = (*names, name)
            layer = with_part(layer, "masks", (*layer.masks, mask.model_copy(update={"name": name})))
        return DeleteLayers(layers=(source.id,)).apply(scene.with_layer(layer), context)

    def words(self, scene: Scene) -> str:
        return f"Masked {name_of(scene, self.layer)} with {name_of(scene, self.by)}"
