"""Masks: outlines in the pixels of what they mask, which show it only within them.

Masks act one after another, from the first: *add* shows what lies within the mask too, *subtract* takes it away,
*intersect* leaves only what lies within both. Before the first there is nothing where that one adds, else everything.
"""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING, Annotated, Any, ClassVar, Literal

from pydantic import Field, field_validator

from ..draw.operations import MaskMode
from ..ground.base_model import Flag, Model, Name
from ..ground.kinds import OneOf
from ..ground.shown import Shown
from ..tracks.colour import ColourTrack
from ..tracks.kinds import NumberTrack
from . import SHAPES, ItemTransform, ShapeItem
from .stroke import Stroke

Covers = Literal["inside", "stroke", "both"]
AnyOutline: Any = ShapeItem if TYPE_CHECKING else Annotated[Any, OneOf(SHAPES)]
MOST_MASKS = 100
BLACK = ColourTrack(rest="#000000ff")


class MaskTransform(ItemTransform):
    """A mask's own anchor, position, scale and rotation; its opacity is how strongly it masks."""

    opacity: Annotated[
        NumberTrack, Shown("Strength", "%", role="opacity", low=0, high=100, what="a mask's strength in percent")
    ] = NumberTrack(rest=100.0)


class Mask(Model):
    """An outline that masks a layer or a group, in its pixels; `feather` is the deviation of the blur of its edge.

    It covers what lies inside of the outline; where that has a stroke, the stroke alone, and with a fill both. Their
    colours are nothing to a mask.
    """

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
        if not shape.has_area and shape.stroke is None:
            raise ValueError(f"a {shape.label} has no area, and as a mask without a stroke would show nothing")
        if shape.transform is not None or shape.repeat is not None:
            raise ValueError("the outline of a mask is placed by the mask's own transform, and drawn once")
        return unpainted(shape)

    @property
    def acts(self) -> bool:
        """Whether it masks at all: an open path without a stroke does not, so that what it is drawn over is seen
        meanwhile."""
        open_path = self.shape.is_path and not any(run.closed for run in self.shape.contours)
        return self.visible and (self.covers != "inside" or not open_path)

    @property
    def covers(self) -> Covers:
        """What of its shape it covers."""
        if self.shape.stroke is None:
            return "inside"
        return "stroke" if self.shape.fill is None else "both"

    @cached_property
    def at_rest(self) -> MaskTransform:
        """The transform that leaves it as it is drawn."""
        own = self.shape.at_rest
        return MaskTransform(**{name: getattr(own, name) for name in ItemTransform.model_fields})


def unpainted(shape: ShapeItem) -> ShapeItem:
    """A shape that covers as a mask the same as one, in black; without a stroke it needs no fill for that."""
    if shape.stroke is None:
        return shape if shape.fill is None else shape.model_copy(update={"fill": None})
    fill = None if shape.fill is None else BLACK
    if shape.fill == fill and shape.stroke.colour == BLACK:
        return shape
    return shape.model_copy(update={"fill": fill, "stroke": shape.stroke.model_copy(update={"colour": BLACK})})


def covering(shape: ShapeItem, covers: Covers) -> ShapeItem:
    """The shape of a mask that covers what is said of it; a stroke that is not there yet is one at rest."""
    stroke = None if covers == "inside" else shape.stroke or Stroke(colour=BLACK)
    return shape.model_copy(update={"stroke": stroke, "fill": BLACK if covers == "both" else None})


Masks = Annotated[tuple[Mask, ...], Field(max_length=MOST_MASKS)]
