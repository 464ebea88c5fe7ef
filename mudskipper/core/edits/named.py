"""Edits of what follows a named colour or a style of the project."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from ..contents.text_style import TextStyle
from ..document.properties import label_of, with_part, with_track
from ..document.scene import Layer, Scene
from ..ground.base_model import Id, Name, WholeLayer
from ..ground.errors import Refused
from ..tracks.colour import Colour, ColourTrack
from .base import Edit, EditContext, names_of, unlocked


class Recolour(Edit):
    """Change a named colour of the project wherever the scene follows it and is still as it was; keys of that colour,
    too. Locked layers follow as well: nothing of them is moved."""

    edit: Literal["recolour"] = "recolour"
    colour: Id
    name: Name
    was: Colour
    value: Colour

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        for layer in scene.layers:
            scene = scene.with_layer(self._recoloured(layer))
        return scene

    def _recoloured(self, layer: Layer) -> Layer:
        for path, track in layer.tracks.items():
            if not isinstance(track, ColourTrack) or track.named != self.colour:
                continue
            keys = tuple(
                key.model_copy(update={"value": self.value}) if key.value == self.was else key for key in track.keys
            )
            rest = self.value if track.rest == self.was else track.rest
            if rest != track.rest or keys != track.keys:
                layer = with_track(layer, path, track.model_copy(update={"rest": rest, "keys": keys}))
        return layer

    def words(self, scene: Scene) -> str:
        return f"Changed the colour {self.name}"


class UseStyle(Edit):
    """Let texts look as a style of the project has it, and follow that; what of them moves keeps its keys and formulas.
    Without a style they follow none, and look as they do."""

    takes_items: ClassVar[bool] = False

    edit: Literal["use_style"] = "use_style"
    layers: Annotated[tuple[WholeLayer, ...], Field(min_length=1, max_length=5_000)]
    style: Id | None
    name: Name = "Style"
    look: TextStyle | None = None

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        for name in dict.fromkeys(self.layers):
            layer = unlocked(scene, name)
            content = layer.content
            if content.look is None:
                raise Refused(
                    f"'{layer.name}' is no text, and only texts have a style.", where="layers",
                    mend="Choose texts alone.",
                )  # fmt: skip
            if self.style is None or self.look is None:
                scene = scene.with_layer(with_part(layer, "content", content.model_copy(update={"style": None})))
                continue
            found, moving = content.in_style(self.style, self.look)
            if moving:
                told = ", ".join(label_of(f"content.{field}", layer).lower() for field in moving)
                context.notices.append(f"What moves of '{layer.name}' stays as it is: {told}.")
            scene = scene.with_layer(with_part(layer, "content", found))
        return scene

    def words(self, scene: Scene) -> str:
        texts = names_of(scene, self.layers)
        return f"Gave {texts} the style {self.name}" if self.style else f"Took {texts} off their style"


class Restyle(Edit):
    """Change a style of the project in all texts of the scene that follow it: what of them is still as the style had it
    is as it has it now. Locked layers follow as well."""

    edit: Literal["restyle"] = "restyle"
    style: Id
    name: Name
    was: TextStyle
    look: TextStyle

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        for layer in scene.layers:
            if getattr(layer.content, "style", None) == self.style:
                found = layer.content.restyled(self.was, self.look)
                if found is not layer.content:
                    scene = scene.with_layer(with_part(layer, "content", found))
        return scene

    def words(self, scene: Scene) -> str:
        return f"Changed the style {self.name}"
