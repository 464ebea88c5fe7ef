"""What a shape layer and a group share: several items, the first at the back.

What every item needs is computed for all of them in one batch, since hundreds may lie in a layer.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from contextlib import AbstractContextManager
from dataclasses import dataclass, replace

import numpy as np

from ..draw.bounds import BoundsPen
from ..draw.inks import OPAQUE, Layering
from ..draw.pen import Pen
from ..effects import effect_inks
from ..effects.base import ResolvedEffect
from ..geometry.bezier import Floats
from ..geometry.transform import UNMOVED, apply, matrices
from ..geometry.values import Values, within
from ..tracks.motion import anchor_points, position_values
from .base import CORNERS, Item, ItemTransform
from .repeat import copies

FRAMES = "@frames"
"""Among the values of items, the frames (n, 1) counted from the start of their layer."""
Placing = tuple[Floats, Floats, Floats, Floats]


@dataclass(frozen=True)
class Placed:
    """An item with the values of its own tracks, its box in its own pixels (1 | n, 4), what it is placed by (anchor in
    pixels, position, scale, rotation), and the matrix from its pixels to what it lies in (1 | n, 6); none where it
    stands as it is drawn."""

    item: Item
    values: dict[str, Floats]
    box: Floats
    placing: Placing | None = None
    matrix: Floats | None = None

    def copies(self) -> Iterator[tuple[Floats, Floats, Floats]]:
        """Matrix, share of its opacity, and whether it is there, of each copy of an item that is repeated."""
        assert self.placing is not None
        return copies(within(self.values, "repeat."), self.placing)


def each(items: Sequence[Item], values: Values) -> Iterator[tuple[Item, dict[str, Floats]]]:
    """Each item with the values of its own tracks, from those of all: `items.0.size`, `items.1.items.0.fill`."""
    own: list[dict[str, Floats]] = [{} for _ in items]
    frames = values.get(FRAMES)
    if frames is not None:
        for mine in own:
            mine[FRAMES] = frames
    for path, array in values.items():
        head, _, rest = path.partition(".")
        if head == "items":
            index, _, name = rest.partition(".")
            own[int(index)][name] = array
    return zip(items, own, strict=True)


def placed(items: Sequence[Item], values: Values) -> list[Placed]:
    """Every item with its box and its matrix."""
    still = [Placed(item, mine, item.box(mine)) for item, mine in each(items, values)]
    moving = [index for index, one in enumerate(still) if one.item.transform is not None or one.item.repeat is not None]
    if not moving:
        return still
    operands: list[Placing] = []
    for index in moving:
        one = still[index]
        transform = one.item.transform or one.item.at_rest
        own = within(one.values, "transform.") if one.item.transform else resting(transform)
        anchor, _ = anchor_points(transform.anchor.pinned, own["anchor"], one.box)
        operands.append((anchor, position_values(own), own["scale"], own["rotation"]))
    sizes = [max(map(len, one)) for one in operands]
    anchors, positions, scales, rotations = (joined([one[part] for one in operands], sizes) for part in range(4))
    split = np.split(matrices(anchors, positions, scales, rotations[:, 0]), np.cumsum(sizes)[:-1])
    for index, matrix, placing in zip(moving, split, operands, strict=True):
        one = still[index]
        still[index] = replace(one, placing=placing, matrix=matrix if one.item.transform else None)
    return still


def resting(transform: ItemTransform) -> dict[str, Floats]:
    """The values of a transform that is not keyed."""
    return {name: getattr(transform, name).rest_array[None, :] for name in ItemTransform.model_fields}


def joined(arrays: Sequence[Floats], sizes: Sequence[int]) -> Floats:
    """Arrays (1 | n, d) one after another, each with as many rows as its size says."""
    return np.concatenate([
        array if len(array) == size else np.broadcast_to(array, (size, array.shape[1]))
        for array, size in zip(arrays, sizes, strict=True)
    ])  # fmt: skip


def outer_boxes(found: Sequence[Placed]) -> list[Floats]:
    """left, top, width, height (1 | n, 4) of each item in the pixels of what they lie in."""
    boxes = [one.box for one in found]
    moved = [
        (index, one.box, one.matrix)
        for index, one in enumerate(found)
        if one.matrix is not None and one.item.repeat is None
    ]
    sizes = [max(len(box), len(matrix)) for _, box, matrix in moved]
    if moved:
        box, matrix = joined([one[1] for one in moved], sizes), joined([one[2] for one in moved], sizes)
        corners = box[:, None, :2] + box[:, None, 2:] * np.array(CORNERS)
        at = apply(matrix[:, None], corners)
        low = at.min(axis=1)
        whole = np.concatenate([low, at.max(axis=1) - low], axis=1)
        for (index, _, _), outer in zip(moved, np.split(whole, np.cumsum(sizes)[:-1]), strict=True):
            boxes[index] = outer
    for index, one in enumerate(found):
        if one.item.repeat is not None:
            boxes[index] = _of_copies(one)
    return boxes


def _of_copies(one: Placed) -> Floats:
    """left, top, width, height (1 | n, 4) of the copies of a repeated item that are there."""
    corners = one.box[:, None, :2] + one.box[:, None, 2:] * np.array(CORNERS)
    low = high = np.full((1, 2), np.nan)
    for matrix, _, there in one.copies():
        at = apply(matrix[:, None], corners)
        low = np.fmin(low, np.where(there > 0, at.min(axis=1), np.nan))
        high = np.fmax(high, np.where(there > 0, at.max(axis=1), np.nan))
    return np.concatenate([low, high - low], axis=1)


def box_of(items: Sequence[Item], values: Values) -> Floats:
    """left, top, width, height (1 | n, 4) of the items that are not hidden; of all where all are."""
    found = placed(items, values)
    boxes = outer_boxes([one for one in found if one.item.visible] or found)
    if len(boxes) == 1:
        return boxes[0]
    moving = [box for box in boxes if len(box) > 1]
    still = np.concatenate([box for box in boxes if len(box) == 1] or [np.empty((0, 4))])
    lows = [still[:, :2].min(axis=0, keepdims=True)] if len(still) else []
    highs = [(still[:, :2] + still[:, 2:]).max(axis=0, keepdims=True)] if len(still) else []
    if moving:
        stacked = np.stack(moving)
        lows.append(stacked[:, :, :2].min(axis=0))
        highs.append((stacked[:, :, :2] + stacked[:, :, 2:]).max(axis=0))
    origin = lows[0] if len(lows) == 1 else np.minimum(*lows)
    corner = highs[0] if len(highs) == 1 else np.maximum(*highs)
    return np.concatenate([origin, corner - origin], axis=1)


def unit_boxes(items: Sequence[Item], values: Values) -> Floats:
    """The boxes (1 | n, u, 4) of items, or of the copies of the only one there is, in the pixels of what they lie in;
    a copy that is not there has none."""
    found = placed(items, values)
    if len(found) == 1 and found[0].item.repeat is not None:
        (one,) = found
        corners = one.box[:, None, :2] + one.box[:, None, 2:] * np.array(CORNERS)
        boxes = []
        for matrix, _, there in one.copies():
            at = apply(matrix[:, None], corners)
            low = at.min(axis=1)
            boxes.append(np.concatenate([low, at.max(axis=1) - low], axis=1) * (there > 0))
    else:
        boxes = outer_boxes(found)
    return np.stack(np.broadcast_arrays(*boxes), axis=1)


Laid = Callable[[Pen], AbstractContextManager[Pen]]
"""Lays what is drawn within it as one; gives the pen to draw with."""


def draw_all(items: Sequence[Item], pen: Pen, values: Values, moved: Sequence[Laid] = ()) -> None:
    """Draw items, the first at the back; `moved` is how each of them is laid, or each copy of the only one."""
    if moved:
        _draw_moved(items, pen, values, moved)
        return
    if all(item.transform is None and item.repeat is None and not item.effects for item in items):
        for item, mine in each(items, values):
            if item.visible:
                item.draw(pen, mine)
        return
    for one in placed(items, values):
        if not one.item.visible:
            continue
        opacity = one.values["transform.opacity"] / 100.0 * 255.0 if one.item.transform else OPAQUE
        effects, extent = _effects_of(one)
        if one.item.repeat is not None:
            for matrix, share, there in one.copies():
                with pen.group(
                    Layering(matrix, np.rint(opacity * share), visible=there, effects=effects, extent=extent)
                ):
                    one.item.draw(pen, one.values)
        elif one.matrix is None and not effects:
            one.item.draw(pen, one.values)
        else:
            matrix = UNMOVED if one.matrix is None else one.matrix
            with pen.group(Layering(matrix, np.rint(opacity), effects=effects, extent=extent)):
                one.item.draw(pen, one.values)


def _effects_of(one: Placed) -> tuple[tuple[ResolvedEffect, ...], Floats | None]:
    """The effects of an item, and what is painted of it in its own pixels (1 | n, 4)."""
    if not one.item.effects:
        return (), None
    frames = one.values.get(FRAMES, np.zeros((1, 1)))[:, 0]
    pen = BoundsPen()
    one.item.draw(pen, one.values)
    return effect_inks(one.item.effects, one.values, one.box, frames), pen.box


def _draw_moved(items: Sequence[Item], pen: Pen, values: Values, moved: Sequence[Laid]) -> None:
    found = placed(items, values)
    if len(found) == 1 and found[0].item.repeat is not None:
        (one,) = found
        opacity = one.values["transform.opacity"] / 100.0 * 255.0 if one.item.transform else OPAQUE
        effects, extent = _effects_of(one)
        for (matrix, share, there), laid in zip(one.copies(), moved, strict=True):
            layering = Layering(matrix, np.rint(opacity * share), visible=there, effects=effects, extent=extent)
            with laid(pen) as on, on.group(layering):
                one.item.draw(on, one.values)
        return
    for index, laid in enumerate(moved):
        if items[index].visible:
            with laid(pen) as on:
                draw_all((items[index],), on, _only(values, index))


def _only(values: Values, index: int) -> Values:
    """The values of one of several items, as the first of one."""
    start = f"items.{index}."
    found = {f"items.0.{path.removeprefix(start)}": array for path, array in values.items() if path.startswith(start)}
    return found | {name: values[name] for name in (FRAMES,) if name in values}


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
    """How many items are drawn at any depth, copies counted."""
    return sum((1 + count_of(inner_items(item))) * copies_of(item) for item in items)


def copies_of(item: Item) -> int:
    """The most copies that are drawn of an item."""
    if item.repeat is None:
        return 1
    track = item.repeat.copies
    return round(max([track.rest, *(key.value for key in track.keys)]))


def depth_of(items: Sequence[Item]) -> int:
    """How many levels of items there are."""
    return 1 + max((depth_of(inner) for item in items if (inner := inner_items(item))), default=0)


def all_items(items: Sequence[Item]) -> Iterator[Item]:
    """Items, and those within groups, at any depth."""
    for item in items:
        yield item
        yield from all_items(inner_items(item))


def inner_items(item: Item) -> tuple[Item, ...]:
    """The items of a group; none of a shape."""
    # Pydantic looks for what is not there at length.
    items: tuple[Item, ...] = item.__dict__.get("items", ())
    return items
