"""What a shape layer and a group share: several items, the first at the back."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np

from ..bezier import Floats
from ..draw.pen import Pen
from .base import Item, Values


def each(items: Sequence[Item], values: Values) -> Iterator[tuple[Item, Values]]:
    """Each item with the values of its own tracks, from those of all: `items.0.size`, `items.1.items.0.fill`."""
    own: list[dict[str, Floats]] = [{} for _ in items]
    for path, array in values.items():
        head, _, rest = path.partition(".")
        if head == "items":
            index, _, name = rest.partition(".")
            own[int(index)][name] = array
    return zip(items, own, strict=True)


def box_of(items: Sequence[Item], values: Values) -> Floats:
    """left, top, width, height (1 | n, 4) of the items that are not hidden; of all where all are."""
    shown = [(item, mine) for item, mine in each(items, values) if item.visible] or list(each(items, values))
    boxes = [item.outer_box(mine) for item, mine in shown]
    if len(boxes) == 1:
        return boxes[0]
    stacked = np.stack(np.broadcast_arrays(*boxes))
    origin = stacked[:, :, :2].min(axis=0)
    corner = (stacked[:, :, :2] + stacked[:, :, 2:]).max(axis=0)
    return np.concatenate([origin, corner - origin], axis=1)


def draw_all(items: Sequence[Item], pen: Pen, values: Values) -> None:
    """Draw items, the first at the back."""
    for item, mine in each(items, values):
        item.place(pen, mine)


def grown_in(items: Sequence[Item]) -> tuple[str, ...] | None:
    """The paths of the pairs that grow as the box of all is drawn larger; None where an item cannot be sized so."""
    found: list[str] = []
    for index, item in enumerate(items):
        sizes = item.grows()
        if sizes is None:
            return None
        found += [f"items.{index}.{path}" for path in sizes]
    return tuple(found)


def count_of(items: Sequence[Item]) -> int:
    """How many items there are at any depth."""
    return sum(1 + count_of(inner_items(item)) for item in items)


def depth_of(items: Sequence[Item]) -> int:
    """How many levels of items there are."""
    return 1 + max((depth_of(inner) for item in items if (inner := inner_items(item))), default=0)


def inner_items(item: Item) -> tuple[Item, ...]:
    """The items of a group; none of a shape."""
    return getattr(item, "items", ())
