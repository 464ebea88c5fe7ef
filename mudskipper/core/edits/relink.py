"""Media put in place of others, or of the texts that stand for what was missing."""

from __future__ import annotations

import re
from typing import Literal

from ..contents import Content
from ..document.scene import AnyContent, Layer, Scene
from ..ground.base_model import Ids
from ..ground.errors import Refused
from ..tracks.source_time import SourceTime
from .base import Edit, EditContext, names_of, unlocked

STAND_IN = re.compile(
    r"missing: ([^\n]+)(?:\nfrom (\d{1,5}(?:\.\d+)?) s(?: at (-?\d{1,4}(?:\.\d+)?) %)?)?", re.IGNORECASE
)


def stand_in(name: str, start: float = 0.0, speed: float = 100.0) -> str:
    """The words that stand for a medium that is not there, and from where in it a layer shows it.

    >>> stand_in("gulls.mp4", 1.5)
    'Missing: gulls.mp4\\nfrom 1.5 s'
    """
    at = f" at {speed:g} %" if speed != 100 else ""
    begins = f"{max(start, 0.0):.6f}".rstrip("0").rstrip(".")
    return f"Missing: {name}"[:200] + (f"\nfrom {begins} s{at}" if start > 0 or at else "")


class Relink(Edit):
    """Show a picture, a clip, a sound or a scene in place of what layers show, or of the texts that stand for what was
    missing when they came in: spans, motion and, of what runs, the part of the source stay."""

    edit: Literal["relink"] = "relink"
    layers: Ids
    content: AnyContent

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        if not self._media(self.content):
            raise Refused("Only a picture, a clip, a sound or a scene can be put in place.", where="content")
        self.content.find_media(context.assets)
        for layer_id in self.layers:
            layer = unlocked(scene, layer_id)
            fields = {name: getattr(layer, name) for name in Layer.model_fields}
            scene = scene.with_layer(Layer.model_validate(fields | {"content": self._in_place(layer)}))
        return scene

    def _in_place(self, layer: Layer) -> Content:
        """The content, running as what it takes the place of does."""
        was = layer.content
        found = STAND_IN.fullmatch(was.words or "")
        if not found and not self._media(was):
            raise Refused(
                f"'{layer.name}' shows no medium, and stands for none.",
                where="layers", mend="Choose a layer that shows a picture, a clip, a sound or a scene.",
            )  # fmt: skip
        content: Content = self.content
        if not content.runs:
            return content
        time = was.source_time
        if time is None:
            told = {"start": float(found[2] or 0), "speed": float(found[3] or 100) or 100.0} if found else {}
            time = SourceTime.model_validate(told)
        return content.model_copy(update={"time": time})

    @staticmethod
    def _media(content: Content) -> bool:
        return bool(content.pictures or content.clips or content.scenes)

    def words(self, scene: Scene) -> str:
        return f"Put another medium in place of {names_of(scene, self.layers)}"
