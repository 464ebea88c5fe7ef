"""Edits of layers as a whole: add, duplicate, delete, rename, reorder, show, lock, content and span."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError

from ..document.other_words import with_words
from ..document.properties import remade, with_part
from ..document.scene import AnyContent, Blend, Layer, Scene, Span, new_id
from ..document.variant_differences import over_variants
from ..formulas.renaming import renamed
from ..ground.base_model import MOST_NAME, Address, Around, Flag, Id, Ids, LayerId, Name, Pair, Whole
from ..ground.errors import Refused, refusal_of
from ..resolve.formulas.scope import seed_of
from ..tracks.base import tidy_frame
from ..tracks.kinds import PathTrack
from .base import Edit, EditContext, View, label_in, name_of, names_of, unlocked
from .carriers import released


class AddLayer(Edit):
    """Add a layer in front, its anchor at the scene's centre unless `position` says where: for the whole scene, or from
    `start` on, a clip as long as it lasts; or a shape `into` a shape layer or a group within one."""

    edit: Literal["add_layer"] = "add_layer"
    id: Id = Field(default_factory=new_id)
    content: AnyContent
    name: Name | None = None
    position: Pair | None = None
    span: Span | None = None
    start: Whole | None = None
    into: Around | None = None

    def seen_inside(self, view: View) -> Edit:
        place = view.point(self.position or (view.scene.width / 2, view.scene.height / 2))
        return self.model_copy(update={"position": place, "span": view.parent.span})

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        if self.id in scene.places:
            raise Refused(f"A layer with the id {self.id} is there already.", where="id", mend="Leave the id out.")
        self.content.find_media(context.assets)
        start = self.start or 0
        # Without an end of its own a layer is there to the end of the scene.
        length = self.content.lasts(context.assets, scene.fps) or max(scene.length - start, 1)
        layer = Layer(
            id=self.id,
            name=free_name(scene, self.name or self.content.default_name),
            content=self.content,
            span=self.span or Span(start=start, length=length),
        )
        place = self.position or (scene.width / 2, scene.height / 2)
        return scene.with_layers((*scene.layers, layer.model_copy(update={"position": PathTrack(rest=place)})))

    def words(self, scene: Scene) -> str:
        return f"Added {free_name(scene, self.name or self.content.default_name)}"


class DuplicateLayers(Edit):
    """Copy layers, each just in front of its original; `ids` are those of the copies, new ones unless given."""

    edit: Literal["duplicate_layers"] = "duplicate_layers"
    layers: Ids
    ids: Annotated[tuple[Address, ...], Field(min_length=1, max_length=5_000)] | None = None

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        originals = tuple(dict.fromkeys(self.layers))
        ids = self.ids or tuple(new_id() for _ in originals)
        if len(ids) != len(originals) or len(set(ids)) < len(ids) or any(one in scene.places for one in ids):
            raise Refused(
                "The ids of copies must be new ones, one for each layer.", where="ids", mend="Leave the ids out."
            )
        for layer_id, copy_id in zip(originals, ids, strict=True):
            layer = scene.layer(layer_id)
            copy = layer.model_copy(update={"id": copy_id, "name": free_name(scene, layer.name)})
            if copy.matte and copy.matte.layer in originals:
                # Copied together, a copy is shown where the copy of its matte is.
                other = ids[originals.index(copy.matte.layer)]
                copy = copy.model_copy(update={"matte": copy.matte.model_copy(update={"layer": other})})
            if copy.content.needs:
                linked = copy.content.relinked(dict(zip(originals, ids, strict=True)))
                copy = copy.model_copy(update={"content": linked})
            if copy.carrier in originals:
                copy = copy.model_copy(update={"carrier": ids[originals.index(copy.carrier)]})
            index = scene.places[layer_id] + 1
            scene = scene.with_layers((*scene.layers[:index], copy, *scene.layers[index:]))
        return scene

    def words(self, scene: Scene) -> str:
        return f"Duplicated {names_of(scene, self.layers)}"


class DeleteLayers(Edit):
    """Delete layers."""

    edit: Literal["delete_layers"] = "delete_layers"
    layers: Ids

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        gone = {unlocked(scene, layer_id).id for layer_id in self.layers}
        kept = []
        for layer in scene.layers:
            if layer.id in gone:
                continue
            if layer.matte and layer.matte.layer in gone:
                context.notices.append(
                    f"'{layer.name}' has no matte any more: it was {name_of(scene, layer.matte.layer)}."
                )
                layer = layer.model_copy(update={"matte": None})
            read = next((one for one in layer.content.needs if one in gone), None)
            if read is not None:
                context.notices.append(f"'{layer.name}' stands straight now: it ran along {name_of(scene, read)}.")
                layer = layer.model_copy(update={"content": layer.content.relinked(dict.fromkeys(gone))})
            if layer.carrier in gone:
                keys = layer.key_count
                name = name_of(scene, layer.carrier)
                layer = released(scene, layer, context)
                more = layer.key_count - keys
                written = f", and has {more} more key{'' if more == 1 else 's'} that follow it" if more > 0 else ""
                context.notices.append(f"'{layer.name}' is carried no more: it was by {name}{written}.")
            lost = sorted(layer.named & {scene.layer(one).name for one in gone})
            if lost:
                context.notices.append(f"A formula of '{layer.name}' reads '{lost[0]}', and has no value without it.")
            kept.append(layer)
        return scene.with_layers(tuple(kept))

    def words(self, scene: Scene) -> str:
        return f"Deleted {names_of(scene, self.layers)}"


class RenameLayer(Edit):
    """Give a layer another name."""

    edit: Literal["rename_layer"] = "rename_layer"
    layer: LayerId
    name: Name

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = scene.layer(self.layer)
        alone = sum(one.name == layer.name for one in scene.layers) == 1
        scene = scene.with_layer(layer.model_copy(update={"name": self.name}))
        return with_renamed(scene, layer.name, self.name) if alone else scene

    def words(self, scene: Scene) -> str:
        return f"Renamed {name_of(scene, self.layer)} to {self.name}"


def with_renamed(scene: Scene, old: str, new: str) -> Scene:
    """The scene with the new name of a layer in the formulas that read it, those of kept variants too."""
    for layer in scene.layers:
        changed = reading(layer, {old: new})
        scene = scene if changed is layer else scene.with_layer(changed)
    return scene


def reading(layer: Layer, names: Mapping[str, str]) -> Layer:
    """The layer with other names of layers in its formulas and in those of its kept variants."""

    def with_new_names(one: Layer) -> Layer:
        for path, text in one.formulas.items():
            # By way of names that no layer has: one's new name may be another's old one.
            for number, old in enumerate(names):
                text = renamed(text, old, f"\ue000{number}")
            for number, new in enumerate(names.values()):
                text = renamed(text, f"\ue000{number}", new)
            one = with_part(one, path, one.tracks[path].model_copy(update={"formula": text}))
        return one

    if not layer.variants and not layer.named & names.keys():
        return layer
    changed = over_variants(layer, with_new_names)
    return layer if changed == layer else changed


def with_seeds(layer: Layer) -> Layer:
    """The layer with the random motion of its formulas kept, whatever its id becomes."""

    def kept(one: Layer) -> Layer:
        for path in one.formulas:
            track = one.tracks[path].model_copy(update={"formula_seed": seed_of(one, path)})
            one = with_part(one, path, track)
        return one

    return over_variants(layer, kept)


class ReorderLayer(Edit):
    """Put a layer at a place in the stack, 0 being the back; a place beyond the ends means the end."""

    edit: Literal["reorder_layer"] = "reorder_layer"
    layer: LayerId
    to: Whole

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = scene.layer(self.layer)
        others = [other for other in scene.layers if other.id != self.layer]
        others.insert(min(max(self.to, 0), len(others)), layer)
        return scene.with_layers(tuple(others))

    def words(self, scene: Scene) -> str:
        return (
            f"Moved {name_of(scene, self.layer)} {'forward' if self.to > scene.places.get(self.layer, 0) else 'back'}"
        )


class SetVisible(Edit):
    """Show or hide layers."""

    edit: Literal["set_visible"] = "set_visible"
    layers: Ids
    visible: Flag

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        for layer_id in self.layers:
            scene = scene.with_layer(scene.layer(layer_id).model_copy(update={"visible": self.visible}))
        return scene

    def words(self, scene: Scene) -> str:
        return f"{'Showed' if self.visible else 'Hid'} {names_of(scene, self.layers)}"


class SetLocked(Edit):
    """Lock layers against changes, or unlock them."""

    edit: Literal["set_locked"] = "set_locked"
    layers: Ids
    locked: Flag

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        for layer_id in self.layers:
            scene = scene.with_layer(scene.layer(layer_id).model_copy(update={"locked": self.locked}))
        return scene

    def words(self, scene: Scene) -> str:
        return f"{'Locked' if self.locked else 'Unlocked'} {names_of(scene, self.layers)}"


class SetBlend(Edit):
    """Choose how layers are blended with what lies below them."""

    edit: Literal["set_blend"] = "set_blend"
    layers: Ids
    blend: Blend

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        for layer_id in self.layers:
            scene = scene.with_layer(unlocked(scene, layer_id).model_copy(update={"blend": self.blend}))
        return scene

    def words(self, scene: Scene) -> str:
        return f"Blended {names_of(scene, self.layers)} by {self.blend.replace('-', ' ')}"


class SetContent(Edit):
    """Set a part of a layer's content that has no keys, by its path: `text`, `font`, `align`, `items.0.stroke`."""

    edit: Literal["set_content"] = "set_content"
    layer: LayerId
    path: Annotated[str, Field(pattern=r"^[a-z_]+(\.([a-z_]+|\d{1,3})){0,4}$")]
    value: Any

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        before = unlocked(scene, self.layer)
        if self.path == "text":
            layer = with_words(before, self.value)
        else:
            layer = with_part(before, f"content.{self.path}", self.value)
        layer.content.find_media(context.assets)
        if self.path == "text" and named_by_words(before):
            others = scene.with_layers(tuple(one for one in scene.layers if one.id != layer.id))
            layer = layer.model_copy(update={"name": free_name(others, layer.content.default_name)})
            if layer.name != before.name:
                # Formulas that read it go on reading it.
                alone = sum(one.name == before.name for one in scene.layers) == 1
                renamed_scene = scene.with_layer(layer)
                return with_renamed(renamed_scene, before.name, layer.name) if alone else renamed_scene
        return scene.with_layer(layer)

    def words(self, scene: Scene) -> str:
        label = label_in(scene, self.layer, f"content.{self.path}")
        return f"Set {label.lower()} of {name_of(scene, self.layer)}"

    def target(self) -> tuple[object, ...]:
        return self.layer, self.path


class MoveSpan(Edit):
    """Move a layer in time; its keys go along."""

    edit: Literal["move_span"] = "move_span"
    layer: LayerId
    start: Whole

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        span = _span(layer, self.start, layer.span.length)
        return scene.with_layer(layer.model_copy(update={"span": span}))

    def words(self, scene: Scene) -> str:
        by = self.start - scene.layer(self.layer).span.start
        return f"Moved {name_of(scene, self.layer)} by {by:+d} frames"


class TrimSpan(Edit):
    """Set where a layer starts and how long it is there; its keys stay where they are in the scene's time."""

    edit: Literal["trim_span"] = "trim_span"
    layer: LayerId
    start: Whole
    length: Whole

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        return scene.with_layer(trimmed(layer, self.start, self.start + self.length, scene.fps))

    def words(self, scene: Scene) -> str:
        return f"Trimmed {name_of(scene, self.layer)} to frames {self.start} to {self.start + self.length - 1}"


def trimmed(layer: Layer, start: int, end: int, fps: float) -> Layer:
    """The layer there from one scene frame to another (not included), its keys where they are in the scene's time."""
    span = _span(layer, start, end - start)
    shifted = shifted_keys(layer, layer.span.start - span.start, fps)
    return shifted.model_copy(update={"span": span})


def _span(layer: Layer, start: int, length: int) -> Span:
    if length < 1:
        raise Refused(
            f"A span is at least 1 frame long, and {length} was given for '{layer.name}'.",
            where="length", mend="Hide or delete the layer if it is not to be seen.",
        )  # fmt: skip
    try:
        return Span(start=start, length=length)
    except ValidationError as error:
        raise refusal_of(error, f"Span of '{layer.name}'") from None


def shifted_keys(layer: Layer, by: float, fps: float) -> Layer:
    """The layer with all its keys, the renewals of its cadences, the time of its formulas and its source moved by `by`
    frames against its start."""

    def moved(one: Layer) -> Layer:
        for name, track in one.tracks.items():
            if track.keys or track.cadence or track.formula:
                keys = tuple(key.model_copy(update={"frame": tidy_frame(key.frame + by)}) for key in track.keys)
                cadence = track.cadence and track.cadence.shifted(by)
                begin = tidy_frame(track.formula_from + by) if track.formula else 0
                one = with_part(one, name, remade(track, name, keys=keys, cadence=cadence, formula_from=begin))
        return one

    if by == 0:
        return layer
    shifted = over_variants(layer, moved)
    return shifted.model_copy(update={"content": shifted.content.shifted(by, fps)})


def named_by_words(layer: Layer) -> bool:
    """Whether a text layer is named after its first line, up to a number; then it is renamed with its text."""
    stem, _, number = layer.name.rpartition(" ")
    own = layer.content.default_name
    return layer.content.words is not None and (layer.name == own or (stem == own and number.isdigit()))


def free_name(scene: Scene, wanted: str) -> str:
    """A name for a layer: as wanted, or with the next free number."""
    return free_among({layer.name for layer in scene.layers}, wanted)


def free_among(taken: Collection[str], wanted: str, counted: dict[str, int] | None = None) -> str:
    """The name itself, or with the next free number, shortened where it would grow too long. `counted` keeps how far
    each was counted, for many names of the same."""
    if wanted not in taken:
        return wanted
    stem, _, number = wanted.rpartition(" ")
    if not (stem and number.isdigit()):
        stem = wanted
    count = 2 if counted is None else counted.get(stem, 2)
    while (name := f"{stem[: MOST_NAME - 1 - len(str(count))].rstrip()} {count}") in taken:
        count += 1
    if counted is not None:
        counted[stem] = count
    return name
