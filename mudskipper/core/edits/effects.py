"""Edits of the effects of a layer: added, switched on and off, run earlier or later, taken off."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field

from ..document.properties import with_part
from ..document.scene import Layer, Scene
from ..effects import EFFECTS, AnyEffect, Effect
from ..effects.base import MOST_EFFECTS
from ..ground.base_model import Flag, Ids, LayerId, Whole
from ..ground.errors import Refused
from .base import Edit, EditContext, name_of, names_of, unlocked
from .layers import free_among

OWN = frozenset({"id", "name", "visible", "effect"})
EffectId = Annotated[str, Field(strict=True, pattern=r"^[0-9a-z]{1,12}$")]


class AddEffect(Edit):
    """Add an effect to a layer, after those that it has."""

    edit: Literal["add_effect"] = "add_effect"
    layer: LayerId
    effect: Annotated[str, Field(max_length=40, examples=["soft-blur"])]

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        kind = _kinds().get(self.effect)
        if kind is None:
            raise Refused(
                f"There is no effect {self.effect!r}.", where="effect", mend=f"There is {', '.join(_kinds())}."
            )
        if not layer.content.shows:
            raise Refused(
                f"Nothing of '{layer.name}' is painted, so an effect would change nothing.", where="layer",
                mend="Choose a layer that shows something.",
            )  # fmt: skip
        if len(layer.effects) >= MOST_EFFECTS:
            raise Refused(
                f"'{layer.name}' has {MOST_EFFECTS} effects, and more it cannot have.", where="layer",
                mend="Take one off first.",
            )  # fmt: skip
        name = free_among([one.name for one in layer.effects], kind.label.capitalize())
        return scene.with_layer(with_part(layer, "effects", (*layer.effects, kind(name=name))))

    def words(self, scene: Scene) -> str:
        kind = _kinds().get(self.effect)
        return f"Added {kind.label if kind else 'an effect'} to {name_of(scene, self.layer)}"


class PasteEffects(Edit):
    """Put effects on layers, after those that they have or in their place."""

    edit: Literal["paste_effects"] = "paste_effects"
    layers: Ids
    effects: Annotated[tuple[AnyEffect, ...], Field(min_length=1, max_length=MOST_EFFECTS)]
    replace: Flag = False

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        for layer_id in self.layers:
            layer = unlocked(scene, layer_id)
            if not layer.content.shows:
                raise Refused(
                    f"Nothing of '{layer.name}' is painted, so effects would change nothing.", where="layers",
                    mend="Choose layers that show something.",
                )  # fmt: skip
            before = () if self.replace else layer.effects
            if len(before) + len(self.effects) > MOST_EFFECTS:
                raise Refused(
                    f"'{layer.name}' would have {len(before) + len(self.effects)} effects, and {MOST_EFFECTS} are the "
                    "most.", where="effects", mend="Take some off first.",
                )  # fmt: skip
            named = [one.name for one in before]
            made = list(before)
            for one in self.effects:
                name = free_among(named, one.name or one.label.capitalize())
                named.append(name)
                made.append(one.model_copy(update={"id": "", "name": name}))
            scene = scene.with_layer(with_part(layer, "effects", tuple(made)))
        return scene

    def words(self, scene: Scene) -> str:
        what = self.effects[0].label if len(self.effects) == 1 else f"{len(self.effects)} effects"
        return f"Put {what} on {names_of(scene, self.layers)}"


class SetEffect(Edit):
    """Switch an effect of a layer on or off, call it something else, give it another place among its effects, or set
    those of its fields that are no properties."""

    shifts_parts: ClassVar[bool] = True

    edit: Literal["set_effect"] = "set_effect"
    layer: LayerId
    effect: EffectId
    visible: Flag | None = None
    name: Annotated[str, Field(max_length=200)] | None = None
    to: Whole | None = None
    fields: Annotated[dict[str, Any] | None, Field(max_length=20)] = None

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer, index = _found(scene, self.layer, self.effect)
        changes: dict[str, Any] = {}
        if self.visible is not None:
            changes["visible"] = self.visible
        if self.name is not None:
            changes["name"] = self.name.strip()
        for name, value in (self.fields or {}).items():
            if name in OWN or name not in type(layer.effects[index]).model_fields:
                raise Refused(f"{layer.effects[index].label.capitalize()} has no {name!r}.", where="fields")
            layer = with_part(layer, f"effects.{index}.{name}", value)
        kept = layer.effects[index].model_copy(update=changes)
        rest = [*layer.effects[:index], *layer.effects[index + 1 :]]
        rest.insert(index if self.to is None else min(max(self.to, 0), len(rest)), kept)
        return scene.with_layer(with_part(layer, "effects", tuple(rest)))

    def words(self, scene: Scene) -> str:
        what = f"{_called(scene, self.layer, self.effect)} of {name_of(scene, self.layer)}"
        if self.to is not None:
            return f"Moved {what}"
        if self.name is not None:
            return f"Renamed {what}"
        if self.fields:
            return f"Set {', '.join(sorted(self.fields))} of {what}"
        return f"Switched {what} {'off' if self.visible is False else 'on'}"

    def target(self) -> tuple[object, ...]:
        alone = self.visible is None and self.name is None and self.to is None
        return (self.layer, self.effect, tuple(self.fields)) if alone and self.fields else (id(self),)


class RemoveEffect(Edit):
    """Take an effect off a layer."""

    shifts_parts: ClassVar[bool] = True

    edit: Literal["remove_effect"] = "remove_effect"
    layer: LayerId
    effect: EffectId

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer, index = _found(scene, self.layer, self.effect)
        return scene.with_layer(with_part(layer, "effects", (*layer.effects[:index], *layer.effects[index + 1 :])))

    def words(self, scene: Scene) -> str:
        return f"Took {_called(scene, self.layer, self.effect)} off {name_of(scene, self.layer)}"


def _kinds() -> dict[str, type[Effect]]:
    return {kind.model_fields[Effect.told_by].default: kind for kind in EFFECTS}


def _found(scene: Scene, layer_id: str, effect: str) -> tuple[Layer, int]:
    """A layer that is not locked, and the place of one of its effects."""
    layer = unlocked(scene, layer_id)
    index = next((i for i, one in enumerate(layer.effects) if one.id == effect), None)
    if index is None:
        raise Refused(
            f"That effect is not on '{layer.name}'; it may have been taken off in another window.",
            where="effect", mend="Nothing was changed.",
        )  # fmt: skip
    return layer, index


def _called(scene: Scene, layer_id: str, effect: str) -> str:
    layer = scene.layer(layer_id) if layer_id in scene.places else None
    return next((one.name or one.label for one in (layer.effects if layer else ()) if one.id == effect), "an effect")
