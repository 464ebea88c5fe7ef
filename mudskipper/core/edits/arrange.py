"""Edits of where layers stand: split in time, aligned, distributed."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..document.scene import Layer, Scene, Span, new_id
from ..formulas.language import read
from ..formulas.reader import Program
from ..ground.base_model import Id, Ids, LayerId, Whole
from ..ground.errors import Refused
from ..resolve.bounds import bounds
from ..resolve.context import Context
from ..tracks.base import KeyFrame
from .base import Edit, EditContext, View, carriers_first, name_of, names_of, unlocked
from .following_slots import with_part_cut_off
from .layers import free_name, shifted_keys, with_seeds
from .values_and_keys import stepped


class SplitLayer(Edit):
    """Cut a layer in two at a frame; both parts move as the whole did."""

    takes_items: ClassVar[bool] = False

    edit: Literal["split_layer"] = "split_layer"
    layer: LayerId
    frame: Whole
    id: Id = Field(default_factory=new_id)

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        first, end = layer.span.start, layer.span.end
        if not first < self.frame < end:
            raise Refused(
                f"Frame {self.frame} is not inside '{layer.name}', which runs from frame {first} to {end - 1}.",
                where="frame", mend="Move the playhead into the span.",
            )  # fmt: skip
        before, after = layer.content.cut()
        head = layer.model_copy(update={"span": Span(start=first, length=self.frame - first), "content": before})
        whole = with_seeds(layer.model_copy(update={"content": after}))
        tail = shifted_keys(whole, first - self.frame, scene.fps).model_copy(
            update={
                "id": self.id, "name": free_name(scene, layer.name),
                "span": Span(start=self.frame, length=end - self.frame),
            }
        )  # fmt: skip
        index = scene.places[layer.id]
        after = scene.with_layers((*scene.layers[:index], head, tail, *scene.layers[index + 1 :]))
        after = with_part_cut_off(after, head.id, tail.id)
        counting = [one.name for one in after.layers if one.content.kind == layer.content.kind and _counts(one)]
        if counting:
            names = " and ".join(f"'{name}'" for name in counting[:2])
            more = f" and {len(counting) - 2} more" if len(counting) > 2 else ""
            context.notices.append(
                f"There is one layer more of this kind now: formulas of {names}{more} that read index or count give "
                "other values."
            )
        return after

    def words(self, scene: Scene) -> str:
        return f"Split {name_of(scene, self.layer)} at frame {self.frame}"


def _counts(layer: Layer) -> bool:
    """Whether a formula of a layer reads its place among those of its kind."""
    found = (read(text) for text in layer.formulas.values())
    return any(isinstance(one, Program) and one.names & {"index", "count"} for one in found)


EDGES = {"left": (0, 0.0), "centre x": (0, 0.5), "right": (0, 1.0), "top": (1, 0.0), "centre y": (1, 0.5),
         "bottom": (1, 1.0)}  # fmt: skip


class Arranging(Edit):
    """What aligning and distributing share: layers moved at a frame by their bounds in the scene."""

    sets_values: ClassVar[bool] = True

    layers: Ids
    frame: KeyFrame

    def _bounds(self, scene: Scene, context: EditContext) -> np.ndarray:
        layers = [unlocked(scene, layer_id) for layer_id in self.layers]
        found = context.of(scene).resolve(layers, [self.frame])
        return np.array([bounds(one)[0] for one in found])

    def _moved(self, scene: Scene, steps: np.ndarray, context: EditContext) -> Scene:
        before, wanted = context.of(scene), dict(zip(self.layers, steps, strict=True))
        for layer_id in carriers_first(scene, self.layers):
            layer, by = scene.layer(layer_id), wanted[layer_id]
            # What carries it may have been moved just now: the step is what is left to do.
            step = _left_to_do(layer, by, self.frame, before, context.of(scene))
            scene = scene.with_layer(stepped(layer, scene, self.frame, step, context))
        return scene


def _left_to_do(layer: Layer, by: np.ndarray, frame: float, before: Context, now: Context) -> np.ndarray:
    """The step in the space of its position by which a layer comes to where `by` leads it from where it was before."""
    if layer.carrier is None:
        return by
    there = before.one(layer, frame).place[0] + by
    one = now.one(layer, frame)
    return one.own_step(there - one.place[0])


class Align(Arranging):
    """Bring an edge or middle of layers to that of the scene, of their common bounds or of the first one, or to the
    anchor of the first one."""

    edit: Literal["align"] = "align"
    edge: Literal["left", "centre x", "right", "top", "centre y", "bottom"]
    to: Literal["scene", "selection", "first", "anchor"] = "scene"

    def seen_inside(self, view: View) -> Edit:
        if self.to == "scene":
            raise Refused(
                "Shapes within a layer are aligned to one another, not to the scene.", where="to",
                mend="Align to the selection, or to the first one.",
            )  # fmt: skip
        return self

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        boxes = self._bounds(scene, context)
        axis, share = EDGES[self.edge]
        low, high = boxes[:, axis], boxes[:, axis + 2]
        if self.to == "scene":
            goal = share * (scene.width, scene.height)[axis]
        elif self.to == "first":
            goal = low[0] + share * (high[0] - low[0])
        elif self.to == "selection":
            goal = low.min() + share * (high.max() - low.min())
        else:
            first = unlocked(scene, self.layers[0])
            one = context.of(scene).one(first, self.frame)
            goal = one.place[0][axis]
        steps = np.zeros((len(boxes), 2))
        steps[:, axis] = goal - (low + share * (high - low))
        return self._moved(scene, steps, context)

    def words(self, scene: Scene) -> str:
        what = {"first": name_of(scene, self.layers[0]), "anchor": f"the anchor of {name_of(scene, self.layers[0])}"}
        return f"Aligned {names_of(scene, self.layers)} {self.edge} to {what.get(self.to, f'the {self.to}')}"


class Distribute(Arranging):
    """Lay layers out with equal gaps between them, the outermost staying where they are."""

    edit: Literal["distribute"] = "distribute"
    layers: Annotated[tuple[LayerId, ...], Field(min_length=3, max_length=5_000)]
    axis: Literal["x", "y"]

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        boxes = self._bounds(scene, context)
        axis = "xy".index(self.axis)
        low, high = boxes[:, axis], boxes[:, axis + 2]
        order = np.argsort((low + high) / 2, kind="stable")
        sizes = (high - low)[order]
        gap = (high[order[-1]] - low[order[0]] - sizes.sum()) / (len(boxes) - 1)
        places = low[order[0]] + np.concatenate([[0], np.cumsum(sizes[:-1] + gap)])
        steps = np.zeros((len(boxes), 2))
        steps[order, axis] = places - low[order]
        return self._moved(scene, steps, context)

    def words(self, scene: Scene) -> str:
        return f"Distributed {names_of(scene, self.layers)} along {self.axis}"
