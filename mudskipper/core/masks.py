"""Masks: outlines in the pixels of what they mask, which show it only within them.

Masks act one after another, from the first: *add* shows what lies within the mask too, *subtract* takes it away,
*intersect* leaves only what lies within both. Before the first there is nothing where that one adds, else everything.
"""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING, Annotated, Any, ClassVar, Literal

from pydantic import Field, field_validator

from .base_model import Flag, Model, Name
from .kinds import union_of
from .shapes import SHAPES, ItemTransform, ShapeItem
from .shown import Shown
from .tracks import NumberTrack

MaskMode = Literal["add", "subtract", "intersect"]
AnyOutline: Any = ShapeItem if TYPE_CHECKING else union_of(SHAPES)
MOST_MASKS = 100


class MaskTransform(ItemTransform):
    """A mask's own anchor, position, scale and rotation; its opacity is how strongly it masks."""

    opacity: Annotated[
        NumberTrack, Shown("Strength", "%", role="opacity", low=0, high=100, what="a mask's strength in percent")
    ] = NumberTrack(rest=100.0)


class Mask(Model):
    """An outline that masks a layer or a group, in its pixels; `feather` is the deviation of the blur of its edge."""

    noun: ClassVar[str] = "mask"
    shown_elsewhere: ClassVar[frozenset[str]] = frozenset({"shape"})

    id: Annotated[str, Field(strict=True, pattern=r"^[0-9a-z]{0,12}$")] = ""
    name: Name = "Mask"
    visible: Flag = True
    shape: AnyOutline
    transform: MaskTransform | None = None
    mode: MaskMode = "add"
    inverted: Flag = False
    feather: Annotated[NumberTrack, Shown("Feather", "px", low=0, high=1_000, what="a feather in pixels")] = (
        NumberTrack(rest=0.0)
    )

    @field_validator("shape")
    @classmethod
    def _an_area(cls, shape: ShapeItem) -> ShapeItem:
        if not shape.has_area:
            raise ValueError(f"a {shape.label} has no area, and as a mask would show nothing")
        if shape.transform is not None or shape.repeat is not None:
            raise ValueError("the outline of a mask is placed by the mask's own transform, and drawn once")
        return shape

    @property
    def acts(self) -> bool:
        """Whether it masks at all: an open path does not, so that what it is drawn over is seen meanwhile."""
        return self.visible and (not self.shape.is_path or any(run.closed for run in self.shape.contours))

    @cached_property
    def at_rest(self) -> MaskTransform:
        """The transform that leaves it as it is drawn."""
        own = self.shape.at_rest
        return MaskTransform(**{name: getattr(own, name) for name in ItemTransform.model_fields})


Masks = Annotated[tuple[Mask, ...], Field(max_length=MOST_MASKS)]
