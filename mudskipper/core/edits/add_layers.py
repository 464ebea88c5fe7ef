"""Layers put in as they are: those of an imported file."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Any, ClassVar, Literal

from pydantic import AfterValidator, Field, WithJsonSchema

from ..document.scene import Layer, Scene, new_id
from ..ground.base_model import Name
from .base import Edit, EditContext
from .layers import free_among

ReadyLayer: Any = (
    Layer if TYPE_CHECKING else Annotated[Any, AfterValidator(Layer.model_validate), WithJsonSchema({"type": "object"})]
)
"""A layer as documents have it; in the description of the API no second kind of layer beside that of answers."""


class AddLayers(Edit):
    """Put layers in front as they are, back to front, under names that are free; `name` is what they came from."""

    takes_items: ClassVar[bool] = False

    edit: Literal["add_layers"] = "add_layers"
    ready: Annotated[tuple[ReadyLayer, ...], Field(min_length=1, max_length=5_000)]
    name: Name

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        ids = {layer.id: new_id() if layer.id in scene.places else layer.id for layer in self.ready}
        taken = {layer.name for layer in scene.layers}
        counted: dict[str, int] = {}
        made = list(scene.layers)
        for layer in self.ready:
            layer.content.find_media(context.assets)
            changes: dict[str, Any] = {"name": free_among(taken, layer.name, counted), "id": ids[layer.id]}
            taken.add(changes["name"])
            if layer.matte:
                known = layer.matte.layer if layer.matte.layer in scene.places else None
                other = ids.get(layer.matte.layer, known)
                changes["matte"] = other and layer.matte.model_copy(update={"layer": other})
            if layer.content.needs:
                gone = {other: None for other in layer.content.needs if other not in scene.places}
                changes["content"] = layer.content.relinked({**gone, **ids})
            if layer.carrier:
                changes["carrier"] = ids.get(layer.carrier, layer.carrier if layer.carrier in scene.places else None)
            made.append(layer.model_copy(update=changes))
        return scene.with_layers(tuple(made))

    def words(self, scene: Scene) -> str:
        count = len(self.ready)
        return f"Added {self.name}" if count == 1 else f"Added {self.name} as {count} layers"
