"""Ready-made cascades of texts: letters, words or lines that come one after another."""

from __future__ import annotations

import re
from abc import abstractmethod
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field

from ..contents.cascade import MOST_CASCADES, Cascade
from ..document.properties import with_part
from ..document.scene import Layer, Scene
from ..ground.base_model import MOST_NAME, Whole
from ..ground.errors import Refused
from ..ground.shown import Shown
from ..resolve.context import Context
from .base import Percent, Recipe

Unit = Annotated[Literal["letter", "word", "line"], Shown("Unit")]
Order = Annotated[Literal["forward", "back", "from the middle", "from the ends", "random", "each line"], Shown("Order")]
Total = Annotated[Whole, Field(ge=1, le=100_000), Shown("Length", "f")]
Each = Annotated[Whole, Field(ge=0, le=100_000), Shown("Each takes", "f")]
Share = Annotated[Percent, Shown("By", "%")]


class CascadeRecipe(Recipe):
    """A ready-made cascade: it lands as one cascade of a text, whose numbers are plain ones from then on."""

    phase: ClassVar[Any] = "letters"

    length: Total = 30
    each: Each = 14

    @abstractmethod
    def cascade(self, layer: Layer, scene: Scene, context: Context) -> dict[str, Any]:
        """The fields of the cascade beyond its times."""

    def write(self, layer: Layer, at: float, scene: Scene, context: Context) -> Layer:
        content: Any = layer.content
        if content.text_parts is None:
            raise Refused(
                f"'{layer.name}' is no text, and '{self.recipe}' moves letters.", where="recipe", mend="Choose a text."
            )
        if len(content.cascades) >= MOST_CASCADES:
            raise Refused(
                f"'{layer.name}' has {MOST_CASCADES} cascades already.", where="recipe", mend="Remove one of them."
            )
        times = {"start": at, "each": min(self.each, self.length), "spread": "total", "amount": self.length}
        made = {"name": self.recipe, **times, **self.cascade(layer, scene, context)}
        return with_part(layer, "content.cascades", (*content.cascades, made))


class Rise(CascadeRecipe):
    """From below its place, out of nothing."""

    recipe: Literal["rise"] = "rise"
    unit: Unit = "letter"
    order: Order = "forward"
    by: Share = 80.0

    def cascade(self, layer: Layer, scene: Scene, context: Context) -> dict[str, Any]:
        return {
            "unit": self.unit, "order": self.order, "offset": (0.0, self.by), "offset_in": "%", "opacity": 0.0,
            "ease": {"bezier": (0.1, 0.8, 0.3, 1.0)},
        }  # fmt: skip


class DropLetters(CascadeRecipe):
    """From above, bouncing where they land."""

    recipe: Literal["drop letters"] = "drop letters"
    each: Each = 24
    unit: Unit = "letter"
    order: Order = "random"
    by: Share = 250.0

    def cascade(self, layer: Layer, scene: Scene, context: Context) -> dict[str, Any]:
        return {
            "unit": self.unit, "order": self.order, "offset": (0.0, -self.by), "offset_in": "%",
            "ease": {"bounce": {"count": 2, "damping": 0.65}},
        }  # fmt: skip


class SwingLetters(CascadeRecipe):
    """Turned up about the left end of the baseline, a little past it and back."""

    recipe: Literal["swing letters"] = "swing letters"
    unit: Unit = "letter"
    order: Order = "forward"

    def cascade(self, layer: Layer, scene: Scene, context: Context) -> dict[str, Any]:
        return {
            "unit": self.unit, "order": self.order, "turn_z": 90.0, "opacity": 0.0, "anchor": "baseline left",
            "past": True, "ease": {"bezier": (0.3, 0.0, 0.2, 1.5)},
        }  # fmt: skip


class Flip(CascadeRecipe):
    """Turned up about the baseline, seen in perspective."""

    recipe: Literal["flip"] = "flip"
    unit: Unit = "letter"
    order: Order = "forward"

    def cascade(self, layer: Layer, scene: Scene, context: Context) -> dict[str, Any]:
        size = _size(layer)
        return {
            "unit": self.unit, "order": self.order, "turn_x": 90.0, "opacity": 0.0, "distance": 4 * size,
            "anchor": "baseline", "ease": {"bezier": (0.1, 0.8, 0.3, 1.0)},
        }  # fmt: skip


class SpinUp(CascadeRecipe):
    """Spun about their middles as they grow."""

    recipe: Literal["spin up"] = "spin up"
    each: Each = 20
    unit: Unit = "letter"
    order: Order = "from the middle"

    def cascade(self, layer: Layer, scene: Scene, context: Context) -> dict[str, Any]:
        return {
            "unit": self.unit, "order": self.order, "turn_y": 180.0, "scale": (0.0, 0.0), "distance": 5 * _size(layer),
            "anchor": "centre", "ease": {"bezier": (0.1, 0.8, 0.3, 1.0)},
        }  # fmt: skip


class FlyOut(CascadeRecipe):
    """All of them out of one point, the middle of the text."""

    recipe: Literal["fly out of a point"] = "fly out of a point"
    each: Each = 22
    unit: Unit = "letter"
    order: Order = "random"

    def cascade(self, layer: Layer, scene: Scene, context: Context) -> dict[str, Any]:
        box = context.one(layer, layer.span.start).box[0]
        middle = (float(box[0] + box[2] / 2), float(box[1] + box[3] / 2))
        return {
            "unit": self.unit, "order": self.order, "scale": (0.0, 0.0), "about": "point", "point": middle,
            "ease": {"bezier": (0.1, 0.8, 0.3, 1.0)},
        }  # fmt: skip


class Typewriter(CascadeRecipe):
    """One letter at a time, a caret behind them."""

    recipe: Literal["typewriter"] = "typewriter"
    length: Total = 45
    each: Each = 0

    def cascade(self, layer: Layer, scene: Scene, context: Context) -> dict[str, Any]:
        return {"opacity": 0.0, "caret": True}


class FadeThrough(CascadeRecipe):
    """From transparent, word by word."""

    recipe: Literal["fade through"] = "fade through"
    unit: Unit = "word"
    order: Order = "forward"

    def cascade(self, layer: Layer, scene: Scene, context: Context) -> dict[str, Any]:
        return {"unit": self.unit, "order": self.order, "opacity": 0.0, "ease": "linear"}


class Wave(CascadeRecipe):
    """A wave that passes through letters that are there."""

    recipe: Literal["wave"] = "wave"
    each: Each = 16
    unit: Unit = "letter"
    order: Order = "forward"
    by: Share = 35.0

    def cascade(self, layer: Layer, scene: Scene, context: Context) -> dict[str, Any]:
        return {
            "way": "through", "unit": self.unit, "order": self.order, "offset": (0.0, -self.by), "offset_in": "%",
            "ease": "ease-in-out",
        }  # fmt: skip


class Gather(CascadeRecipe):
    """Scattered all over, each its own way, and gathered."""

    recipe: Literal["scatter and gather"] = "scatter and gather"
    each: Each = 26
    unit: Unit = "letter"
    by: Annotated[Percent, Shown("Reach", "px")] = 300.0
    seed: Annotated[Whole, Field(ge=0, le=1_000_000), Shown("Seed")] = 1

    def cascade(self, layer: Layer, scene: Scene, context: Context) -> dict[str, Any]:
        return {
            "unit": self.unit, "order": "random", "seed": self.seed, "offset": (self.by, self.by), "turn_z": 200.0,
            "opacity": 0.0, "scatter": 100.0, "ease": {"bezier": (0.1, 0.8, 0.3, 1.0)},
        }  # fmt: skip


class BlurIn(CascadeRecipe):
    """Out of a blur, wide apart."""

    recipe: Literal["blur in"] = "blur in"
    unit: Unit = "word"
    order: Order = "forward"
    blur: Annotated[Percent, Shown("Blur", "px")] = 12.0

    def cascade(self, layer: Layer, scene: Scene, context: Context) -> dict[str, Any]:
        return {"unit": self.unit, "order": self.order, "blur": self.blur, "opacity": 0.0, "tracking": 120.0}


class Stretch(CascadeRecipe):
    """Letters that grow along the width of their font, or its weight where it has no widths."""

    recipe: Literal["stretch by the font"] = "stretch by the font"
    each: Each = 18
    unit: Unit = "letter"
    order: Order = "forward"

    def cascade(self, layer: Layer, scene: Scene, context: Context) -> dict[str, Any]:
        content: Any = layer.content
        file = context.assets.fonts.family_of(content.font.family).file(content.font.weight, content.font.italic)
        axes = {axis.tag: axis for axis in file.axes}
        axis = axes.get("wdth") or axes.get("wght")
        if axis is None:
            raise Refused(
                f"'{content.font.family}' has neither widths nor weights to go along.", where="recipe",
                mend="Choose a variable font.",
            )  # fmt: skip
        value = {"tag": axis.tag, "name": axis.name, "low": axis.low, "high": axis.high, "value": axis.low}
        return {
            "unit": self.unit, "order": self.order, "axes": [value], "opacity": 0.0,
            "ease": {"bezier": (0.1, 0.8, 0.3, 1.0)},
        }  # fmt: skip


class WriteItself(CascadeRecipe):
    """Drawn along their outlines, a stroke that the text keeps."""

    recipe: Literal["write itself"] = "write itself"
    length: Total = 60
    each: Each = 36
    order: Order = "forward"

    def cascade(self, layer: Layer, scene: Scene, context: Context) -> dict[str, Any]:
        return {"order": self.order, "part": 0.0, "ease": "ease-in-out"}

    def write(self, layer: Layer, at: float, scene: Scene, context: Context) -> Layer:
        content: Any = layer.content
        if content.text_parts is not None:
            if content.stroke is None:
                width = max(round(_size(layer) / 40, 1), 1.0)
                colour = content.fill.rest if hasattr(content.fill, "rest") else "#1b2628ff"
                stroke: dict[str, Any] = {"colour": colour, "width": width, "cap": "round", "join": "round", "part": {}}
                layer = with_part(with_part(layer, "content.stroke", stroke), "content.fill", None)
            elif content.stroke.part is None:
                layer = with_part(layer, "content.stroke.part", {})
        return super().write(layer, at, scene, context)


class Scramble(CascadeRecipe):
    """Other letters in turn, until each is its own."""

    recipe: Literal["scramble"] = "scramble"
    each: Each = 16
    order: Order = "random"

    def cascade(self, layer: Layer, scene: Scene, context: Context) -> dict[str, Any]:
        return {"order": self.order, "scramble": True}


class CountUp(CascadeRecipe):
    """The first number of the text, counted up to by a formula."""

    recipe: Literal["count up"] = "count up"
    each: Annotated[Whole, Field(ge=0, le=100_000)] = 0

    def cascade(self, layer: Layer, scene: Scene, context: Context) -> dict[str, Any]:
        return {}

    def write(self, layer: Layer, at: float, scene: Scene, context: Context) -> Layer:
        content: Any = layer.content
        if content.text_parts is None:
            return super().write(layer, at, scene, context)
        found = re.search(r"\d+(?:\.\d+)?", content.text)
        if found is None:
            raise Refused(
                f"'{layer.name}' has no number to count up to.", where="recipe", mend="Write a number into the text."
            )
        number = found.group()
        pattern = "0" + ("." + "0" * len(number.partition(".")[2]) if "." in number else "")
        parts = [content.text[: found.start()], content.text[found.end() :]]
        before, behind = (part.replace("\\", "\\\\").replace('"', '\\"').replace("\n", "\\n") for part in parts)
        share = f'ease("ease-out", clamp((frame - {at:g}) / {self.length}, 0, 1))'
        pieces = [
            f'"{before}"' if before else "",
            f'format({number} * {share}, "{pattern}")',
            f'"{behind}"' if behind else "",
        ]
        return with_part(layer, "content.written", {"formula": " + ".join(filter(None, pieces))})


class KeptCascade(CascadeRecipe):
    """A cascade that the project has kept, on other words."""

    offered: ClassVar[bool] = False

    recipe: Literal["kept cascade"] = "kept cascade"
    name: Annotated[str, Field(strict=True, max_length=MOST_NAME)] = ""
    kept: Cascade = Cascade()

    def cascade(self, layer: Layer, scene: Scene, context: Context) -> dict[str, Any]:
        own = {name: getattr(self.kept, name) for name in Cascade.model_fields}
        # Which letters took part, and when, were those of another text.
        return {name: value for name, value in own.items() if name not in OF_TIME} | {"name": self.name}


OF_TIME = frozenset({"start", "each", "spread", "amount", "choice", "on"})


def _size(layer: Layer) -> float:
    content: Any = layer.content
    return float(content.size.rest)


CASCADES = (
    Rise, DropLetters, SwingLetters, Flip, SpinUp, FlyOut, Typewriter, FadeThrough, Wave, Gather, BlurIn, Stretch,
    WriteItself, Scramble, CountUp, KeptCascade,
)  # fmt: skip
