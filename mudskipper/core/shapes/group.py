"""Items that move as one."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Annotated, Any, ClassVar, Literal

from pydantic import Field, field_validator

from ..draw.inks import Layering
from ..draw.pen import Pen
from ..geometry.bezier import Floats
from ..geometry.values import Values
from ..ground.base_model import Model
from ..ground.kinds import OneOf
from ..ground.numbered import numbered
from .base import Item
from .masked import common_box, mask_inks, masked_box
from .several import box_of, draw_all, grown_in

MOST_ITEMS = 5_000


def _items() -> Sequence[type[Model]]:
    from . import SHAPES  # a group is one of what it holds

    return (*SHAPES, Group)


def _masks() -> Sequence[type[Model]]:
    from .masks import Mask  # a mask is drawn as a group's items are

    return (Mask,)


AnyItem: Any = Item if TYPE_CHECKING else Annotated[Any, OneOf(_items)]
AnyMask: Any = Any if TYPE_CHECKING else Annotated[Any, OneOf(_masks)]


class Group(Item):
    """Items as one, with a transform of their own; the first is at the back."""

    label: ClassVar[str] = "group"
    shown_elsewhere: ClassVar[frozenset[str]] = frozenset({"masks", "effects"})

    shape: Literal["group"] = "group"
    items: Annotated[tuple[AnyItem, ...], Field(min_length=1, max_length=MOST_ITEMS)]
    masks: Annotated[tuple[AnyMask, ...], Field(max_length=100)] = ()

    _numbered = field_validator("items", "masks")(numbered)

    def box(self, values: Values) -> Floats:
        box = box_of(self.items, values)
        return common_box(box, masked_box(self.masks, values)) if self.masks else box

    def draw(self, pen: Pen, values: Values) -> None:
        if not self.masks:
            draw_all(self.items, pen, values)
            return
        with pen.group(Layering(masks=mask_inks(self.masks, values))):
            draw_all(self.items, pen, values)

    def sizes(self) -> tuple[str, ...] | None:
        return grown_in(self.items)
