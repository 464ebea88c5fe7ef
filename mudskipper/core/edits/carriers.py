"""Edits that link layers to one that carries them, and release them."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..document.scene import Layer, Scene
from ..ground.base_model import Id, WholeLayer
from ..ground.errors import Refused
from ..moves.carrying import recarried
from ..resolve.context import Context
from ..resolve.corners import corners
from ..tracks.base import KeyFrame
from .base import Edit, EditContext, carriers_of, name_of, names_of, unlocked

MOST_LOOKS = 60
"""Frames of a span at which it is looked whether a layer is seen elsewhere than before."""
SEEN = 0.1
"""Pixels."""


class CarryLayers(Edit):
    """Let a layer carry others, whose position, scale and rotation go along with it from then on; without a `carrier`
    release them.

    Their picture stays where it was: at the `frame`, or `throughout` their spans.
    """

    takes_items: ClassVar[bool] = False

    edit: Literal["carry_layers"] = "carry_layers"
    layers: Annotated[tuple[WholeLayer, ...], Field(min_length=1, max_length=5_000)]
    carrier: Id | None = None
    frame: KeyFrame
    keep: Literal["frame", "throughout"] = "throughout"

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        before = context.of(scene)
        for layer_id in self.layers:
            layer = unlocked(scene, layer_id)
            self._refuse_circle(scene, layer)
            if layer.carrier == self.carrier:
                continue
            after = recarried(layer, self.carrier, self.frame, self.keep, before)
            scene = scene.with_layer(after)
            if self.keep == "frame":
                self._say_moved(layer, after, before, context.of(scene), context.notices)
        return scene

    def _say_moved(self, was: Layer, now: Layer, before: Context, after: Context, notices: list[str]) -> None:
        frames = np.linspace(was.span.start, was.span.end - 1, min(was.span.length, MOST_LOOKS))
        old, new = corners(before.resolve([was], frames)[0]), corners(after.resolve([now], frames)[0])
        if np.abs(old - new).max() > SEEN:
            how = (
                f"goes along with '{name_of(after.scene, self.carrier)}' now"
                if self.carrier
                else "stands by itself now"
            )
            notices.append(f"'{was.name}' {how}; at other frames than this it is seen elsewhere than before.")

    def _refuse_circle(self, scene: Scene, layer: Layer) -> None:
        if self.carrier is None:
            return
        if not scene.layer(self.carrier).content.placed:
            raise Refused(f"'{name_of(scene, self.carrier)}' has no place, and so carries nothing.", where="carrier")
        line = [self.carrier, *carriers_of(scene, self.carrier)]
        if layer.id not in line:
            return
        names = [f"'{name_of(scene, one)}'" for one in line[: line.index(layer.id) + 1]]
        if len(names) == 1:
            raise Refused(f"{names[0]} cannot carry itself.", where="carrier", mend="Choose another layer.")
        raise Refused(
            f"These layers would carry each other in a circle: {' is carried by '.join(names)}.",
            where="carrier", mend=f"Release {names[0]} first.",
        )  # fmt: skip

    def words(self, scene: Scene) -> str:
        if self.carrier is None:
            return f"Released {names_of(scene, self.layers)}"
        return f"Let {name_of(scene, self.carrier)} carry {names_of(scene, self.layers)}"


def released(scene: Scene, layer: Layer, context: EditContext) -> Layer:
    """A layer whose carrier goes, its picture where it was; where it would be sheared, as it is at its start."""
    before = context.of(scene)
    try:
        return recarried(layer, None, layer.span.start, "throughout", before)
    except Refused as refusal:
        context.notices.append(f"'{layer.name}' is released as it stands. {refusal.sentence}")
        return layer.model_copy(update={"carrier": None})
