"""A recipe on one layer or many, with a stagger."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Annotated, Any, Literal

import numpy as np

from ..contents.assets import Assets
from ..document.properties import with_part
from ..document.scene import Layer, Scene
from ..ground.errors import Refused
from ..ground.kinds import OneOf
from ..recipes import RECIPES, Recipe
from ..recipes.cuts import Cut
from ..recipes.preview import LEAST, MOST, REST
from ..resolve.resolved import Resolved, resolve
from ..tracks.base import SAME, KeyFrame
from .base import Edit, EditContext, View, local_frame, names_of, unlocked
from .layers import trimmed
from .staggered import Staggered

AnyRecipe: Any = Recipe if TYPE_CHECKING else Annotated[Any, OneOf(RECIPES)]


class ApplyRecipe(Staggered):
    """Write a recipe's keys from a frame on; each layer begins `stagger` frames after the one before it."""

    edit: Literal["apply_recipe"] = "apply_recipe"
    recipe: AnyRecipe
    frame: KeyFrame

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        if self.recipe.cut:
            return self._across_cut(scene, context)
        if self.recipe.together:
            layers = [unlocked(scene, layer_id) for layer_id in self.layers]
            if len(layers) < self.recipe.together:
                raise Refused(
                    f"'{self.recipe.recipe}' moves {self.recipe.together} layers and more as one, and "
                    f"{len(layers)} was given.", where="layers", mend="Select the others, too.",
                )  # fmt: skip
            for layer in layers:
                local_frame(layer, scene, self.frame)
            moved: Scene = self.recipe.write_together(layers, self.frame, scene, context.of(scene))
            return moved
        for place, layer_id in zip(self.places(), self.layers, strict=True):
            layer = unlocked(scene, layer_id)
            first = self.frame + place * self.stagger
            at = local_frame(layer, scene, first)
            recipe = self._fitting(layer, first, context)
            scene = scene.with_layer(recipe.write(layer, at, scene, context.of(scene)))
        return scene

    def seen_inside(self, view: View) -> Edit:
        if self.recipe.of_scene:
            raise Refused(
                f"'{self.recipe.recipe}' moves by the size of the scene, and so cannot move a shape within a layer.",
                where="recipe", mend="Apply it to the layer, or choose another recipe.",
            )  # fmt: skip
        return self

    def _across_cut(self, scene: Scene, context: EditContext) -> Scene:
        """The recipe on the two layers that meet, both there for as long as it lasts where it takes both."""
        before, after = self._meeting(scene)
        cut = before.span.end
        if self.recipe.on_beat == "nearest beat" and scene.beats:
            near = min((round(beat.frame) for beat in scene.beats), key=lambda frame: abs(frame - cut))
            if before.span.start < near < after.span.end:
                cut = near
        first, last = cut - self.recipe.length // 2, cut + self.recipe.length - self.recipe.length // 2
        if first <= before.span.start or last >= after.span.end:
            raise Refused(
                f"'{self.recipe.recipe}' lasts from frame {first} to {last}, longer than '{before.name}' and "
                f"'{after.name}' are there around their cut.", where="recipe.length", mend="Make it shorter.",
            )  # fmt: skip
        end, start = (last, first) if self.recipe.overlaps else (cut, cut)
        before = trimmed(before, before.span.start, end, scene.fps)
        after = trimmed(after, start, after.span.end, scene.fps)
        if self.recipe.sound == "fades along":
            long = (last - first if self.recipe.overlaps else cut - first) / scene.fps
            before, after = _fading(before, "fade_out", long, context), _fading(after, "fade_in", long, context)
        for layer in (before, after):
            scene = scene.with_layer(layer)
        joined: Scene = self.recipe.bridge(Cut(before, after, first, last, scene, context.of(scene)))
        return joined

    def _meeting(self, scene: Scene) -> tuple[Layer, Layer]:
        """The layer that ends where the other one begins, and that one."""
        layers = [unlocked(scene, layer_id) for layer_id in self.layers]
        if len(layers) == 2:
            for before, after in (layers, layers[::-1]):
                if before.span.end == after.span.start:
                    return before, after
        raise Refused(
            f"'{self.recipe.recipe}' joins two layers, one that ends where the other begins.", where="layers",
            mend="Select two that meet at a cut.",
        )  # fmt: skip

    def _fitting(self, layer: Layer, first: float, context: EditContext) -> Recipe:
        """The recipe, shortened to what the span holds from a scene frame on, which is said; refused where it holds
        less than each of its parts needs."""
        recipe, room = self.recipe, math.floor(layer.span.end - 1 - first + SAME)
        if not recipe.lasts or recipe.frames <= room:
            whole: Recipe = recipe
            return whole
        if room < len(recipe.lasts):
            raise Refused(
                f"'{recipe.recipe}' takes {recipe.frames} frames, and '{layer.name}' is there for only "
                f"{layer.span.end - first:g} from frame {first:g} on.",
                where="frame", mend="Begin earlier, or make the span longer.",
            )  # fmt: skip
        lengths = {name: max(int(getattr(recipe, name) * room / recipe.frames), 1) for name in recipe.lasts}
        context.notices.append(
            f"'{recipe.recipe}' takes {sum(lengths.values())} frames and not {recipe.frames} on '{layer.name}': no "
            "more fit into its span."
        )
        shorter: Recipe = recipe.model_copy(update=lengths)
        return shorter

    def words(self, scene: Scene) -> str:
        return f"{self.recipe.recipe.capitalize()}: {names_of(scene, self.layers)}"


def _fading(layer: Layer, fade: str, seconds: float, context: EditContext) -> Layer:
    """The layer, its sound faded at one end where it has any."""
    if layer.content.sound_of(context.assets) is None:
        return layer
    return with_part(layer, f"content.sound.{fade}", round(seconds, 4))


def within_preview(scene: Scene, address: str, recipe: Recipe, frame: float, assets: Assets) -> Resolved:
    """What a recipe would make of a shape within a layer, seen in its layer."""
    from . import apply_edits  # the list of edits names this one

    layer = scene.layer(address.split("/")[0])
    first = min(max(int(frame), layer.span.start), layer.span.end - 1)
    edit = ApplyRecipe(layers=(address,), recipe=recipe, frame=float(first))
    after = apply_edits(scene, [edit], assets).scene
    stop = min(first + min(max(recipe.frames + REST, LEAST), MOST), layer.span.end)
    return resolve(after, np.arange(first, stop), assets, ids=[layer.id])
