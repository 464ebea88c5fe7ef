"""Boxes of contents, and their nine stations."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from .bezier import Floats
from .content import PictureContent, PictureInfo, ShapeContent, TextContent
from .errors import Refused
from .text.layout import Setting, ink_box, set_text, shape

Assets = Mapping[str, PictureInfo]

STATIONS: dict[str, tuple[float, float]] = {
    "top left": (0.0, 0.0), "top": (0.5, 0.0), "top right": (1.0, 0.0),
    "left": (0.0, 0.5), "centre": (0.5, 0.5), "right": (1.0, 0.5),
    "bottom left": (0.0, 1.0), "bottom": (0.5, 1.0), "bottom right": (1.0, 1.0),
}  # fmt: skip


def content_box(content: Any, values: Mapping[str, Floats], assets: Assets) -> Floats:
    """left, top, width, height in content pixels: (1, 4), or (n, 4) where it changes.

    `values` are the content's evaluated tracks by path, (1 | n, d) each.
    """
    if isinstance(content, ShapeContent):
        return _union([_item_box(values, index) for index in range(len(content.items))])
    if isinstance(content, TextContent):
        return text_setting(content, values).box
    assert isinstance(content, PictureContent)
    picture = picture_info(content, assets)
    return np.array([[0.0, 0.0, picture.width, picture.height]])


def picture_info(content: PictureContent, assets: Assets) -> PictureInfo:
    """The picture a content shows; Refused in words where the project has it no more."""
    found = assets.get(content.asset)
    if found is None:
        raise Refused(
            f"The picture {content.asset} is not among the project's media.",
            where="content.asset",
            mend="Add the picture again, or delete the layer that shows it.",
        )
    return found


def text_setting(content: TextContent, values: Mapping[str, Floats]) -> Setting:
    """The text set at its size, tracking and line height."""
    return set_text(
        shape(content.text, content.font), content.align, values["size"], values["tracking"], values["line_height"]
    )


BASELINES = {
    f"{line} baseline {side}".strip(): (x, which)
    for which, line in enumerate(("first", "last"))
    for side, x in (("left", 0.0), ("", 0.5), ("right", 1.0))
}


def baseline_point(content: Any, values: Mapping[str, Floats], name: str) -> Floats:
    """A baseline station of a text in content pixels: (1 | n, 2)."""
    if not isinstance(content, TextContent):
        raise Refused(f"Only a text has a {name!r}.", where="to.station", mend=f"Stations: {', '.join(STATIONS)}.")
    setting = text_setting(content, values)
    share, which = BASELINES[name]
    x = setting.box[:, 0] + share * setting.box[:, 2]
    return np.stack([x, setting.box[:, 1] + setting.baselines[:, which]], axis=1)


def tight_box(content: Any, values: Mapping[str, Floats], assets: Assets) -> Floats:
    """The box of what is really painted: ink of a text, strokes of shapes counted; (1 | n, 4) in content pixels."""
    if isinstance(content, TextContent):
        glyphs = shape(content.text, content.font)
        return ink_box(glyphs, text_setting(content, values), values["size"])
    if not isinstance(content, ShapeContent):
        return content_box(content, values, assets)
    boxes = []
    for index, item in enumerate(content.items):
        box = _item_box(values, index)
        if item.stroke is not None:
            half = values[f"items.{index}.stroke.width"] / 2
            box = np.concatenate([box[:, :2] - half, box[:, 2:] + 2 * half], axis=1)
        boxes.append(box)
    return _union(boxes)


def _item_box(values: Mapping[str, Floats], index: int) -> Floats:
    at, size = values[f"items.{index}.at"], values[f"items.{index}.size"]
    origin, size = np.broadcast_arrays(at - size / 2, size)
    return np.concatenate([origin, size], axis=1)


def _union(boxes: list[Floats]) -> Floats:
    if len(boxes) == 1:
        return boxes[0]
    stacked = np.stack(np.broadcast_arrays(*boxes))
    origin = stacked[:, :, :2].min(axis=0)
    corner = (stacked[:, :, :2] + stacked[:, :, 2:]).max(axis=0)
    return np.concatenate([origin, corner - origin], axis=1)
