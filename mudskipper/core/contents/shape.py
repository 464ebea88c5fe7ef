"""Shapes."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING, Annotated, Any, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..bezier import Floats
from ..draw.pen import Pen
from ..kinds import union_of
from ..shapes import SHAPES, ShapeItem
from .base import Around, Content, Values

Item: Any = ShapeItem if TYPE_CHECKING else union_of(SHAPES)


class ShapeContent(Content):
    """Shapes, the first at the back."""

    can_cover: ClassVar[bool] = True

    kind: Literal["shape"] = "shape"
    items: Annotated[tuple[Item, ...], Field(min_length=1, max_length=500)]

    @property
    def default_name(self) -> str:
        return str(self.items[0].label).capitalize()

    @property
    def grown(self) -> tuple[str, ...]:
        return tuple(f"items.{index}.{part}" for index, item in enumerate(self.items) for part in item.grown)

    def _parts(self, values: Values) -> Iterator[tuple[ShapeItem, Values]]:
        """Each shape with the values of its own tracks."""
        for index, item in enumerate(self.items):
            start = f"items.{index}."
            yield item, {name.removeprefix(start): v for name, v in values.items() if name.startswith(start)}

    def box(self, values: Values, around: Around) -> Floats:
        boxes = [item.box(mine) for item, mine in self._parts(values)]
        if len(boxes) == 1:
            return boxes[0]
        stacked = np.stack(np.broadcast_arrays(*boxes))
        origin = stacked[:, :, :2].min(axis=0)
        corner = (stacked[:, :, :2] + stacked[:, :, 2:]).max(axis=0)
        return np.concatenate([origin, corner - origin], axis=1)

    def draw(self, pen: Pen, values: Values, around: Around) -> None:
        for item, mine in self._parts(values):
            item.draw(pen, mine)
