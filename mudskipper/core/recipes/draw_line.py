"""Lines that draw themselves."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, Literal

from ..document.properties import with_part
from ..document.scene import Layer, Scene
from ..ground.errors import Refused
from ..resolve.context import Context
from .base import Length, Recipe, RecipeEase, keyed, value_now


class DrawLine(Recipe):
    """Its lines drawn from their beginning to their end."""

    recipe: Literal["draw the line"] = "draw the line"
    length: Length = 30
    ease: RecipeEase = "ease-in-out"

    def write(self, layer: Layer, at: float, scene: Scene, context: Context) -> Layer:
        paths = list(_strokes(layer.content, "content"))
        if not paths:
            raise Refused(
                f"'{layer.name}' has no line that could be drawn.", where="layer", mend="Give it a stroke first."
            )
        end = at + self.length
        for path, stroke in paths:
            if stroke.part is None:
                layer = with_part(layer, f"{path}.part", {})
            whole = value_now(layer, f"{path}.part.end", end, scene)
            layer = keyed(layer, f"{path}.part.end", scene, (at, 0.0, self.ease), (end, whole, "linear"))
        return layer


def _strokes(content: Any, path: str) -> Iterator[tuple[str, Any]]:
    """The strokes of a content, of its items and of groups in it, by their paths."""
    stroke = getattr(content, "stroke", None)
    if stroke is not None and hasattr(stroke, "part"):
        yield f"{path}.stroke", stroke
    for index, item in enumerate(getattr(content, "items", ())):
        yield from _strokes(item, f"{path}.items.{index}")
