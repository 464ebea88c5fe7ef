"""The edit that puts a plate behind a layer, as large as it is."""

from __future__ import annotations

import json
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..contents.shape import ShapeContent
from ..document.scene import Layer, Scene
from ..ground.base_model import MOST_NAME, WholeLayer
from ..ground.errors import Refused
from ..resolve.layers import ResolvedLayer
from ..shapes.rectangle import Rectangle
from ..tracks.base import KeyFrame
from ..tracks.colour import ColourTrack
from ..tracks.kinds import NumberTrack, PairTrack, PathTrack
from .base import Edit, EditContext, name_of, unlocked
from .layers import free_name

Pad = Annotated[float, Field(strict=True, ge=-10_000, le=10_000)]
DARK, LIGHT = "#0e3f45ff", "#fff3ddff"
WIDE, TALL = 0.5, 0.3
"""What a plate has around a text at its left and right, above and below, in shares of the text's size."""


class PutPlate(Edit):
    """Put a rounded box behind a layer, carried by it, fading with it, and as large as its box whatever it says: by
    formulas with the `padding` at the left, the top, the right and the bottom in the layer's pixels."""

    takes_items: ClassVar[bool] = False

    edit: Literal["put_plate"] = "put_plate"
    layer: WholeLayer
    frame: KeyFrame = 0
    padding: tuple[Pad, Pad, Pad, Pad] | None = None

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        if not layer.content.shows or not layer.content.placed:
            raise Refused(f"'{layer.name}' is not seen, and so has no room for a plate.", where="layer")
        if sum(other.name == layer.name for other in scene.layers) > 1:
            raise Refused(
                f"Several layers are called '{layer.name}', and a plate goes by the name of its own.", where="layer",
                mend="Rename it first.",
            )  # fmt: skip
        plate = self._plate(scene, layer, context.of(scene).one(layer, self.frame))
        place = scene.places[layer.id]
        return scene.with_layers((*scene.layers[:place], plate, *scene.layers[place:]))

    def _plate(self, scene: Scene, layer: Layer, one: ResolvedLayer) -> Layer:
        left, top, right, bottom = self.padding or _around(one)
        box = one.box[0]
        read = f"scene[{json.dumps(layer.name, ensure_ascii=False)}]"
        size = (float(box[2] + left + right), float(box[3] + top + bottom))
        middle = (float(box[0] + box[2] / 2 + (right - left) / 2), float(box[1] + box[3] / 2 + (bottom - top) / 2))
        shift = (right - left) / 2, (bottom - top) / 2
        off = "" if shift == (0, 0) else f" + ({shift[0]:g}, {shift[1]:g})"
        shape = Rectangle(
            size=PairTrack(
                rest=_bounded(size),
                formula=f"({read}.box.width + {left + right:g}, {read}.box.height + {top + bottom:g})",
            ),
            corners=NumberTrack(rest=round(max(min(size) * 0.2, 0.0), 1)),
            fill=ColourTrack(rest=LIGHT if _is_dark(one) else DARK),
        )
        return Layer(
            name=free_name(scene, f"Plate of {layer.name}"[:MOST_NAME]), content=ShapeContent(items=(shape,)),
            span=layer.span, carrier=layer.id, position=PathTrack(rest=middle, formula=f"{read}.box.at(0.5, 0.5){off}"),
            opacity=NumberTrack(rest=100.0, formula=f"{read}.opacity"),
        )  # fmt: skip

    def words(self, scene: Scene) -> str:
        return f"Put a plate behind {name_of(scene, self.layer)}"


def _bounded(size: tuple[float, float]) -> tuple[float, float]:
    return max(min(size[0], 100_000.0), 0.0), max(min(size[1], 100_000.0), 0.0)


def _around(one: ResolvedLayer) -> tuple[float, float, float, float]:
    """The padding of a plate whose own is not given: by the size of a text."""
    em = float(one.values["content.size"][0, 0]) if "content.size" in one.values else 40.0
    wide, tall = float(max(round(em * WIDE), 1)), float(max(round(em * TALL), 1))
    return wide, tall, wide, tall


def _is_dark(one: ResolvedLayer) -> bool:
    """Whether a text is darker than the middle, by its luma (ITU-R BT.709)."""
    fill = one.values.get("content.fill")
    return fill is not None and float(fill[0, :3] @ np.array([0.2126, 0.7152, 0.0722])) < 128
