"""Keys put down from a clipboard, and keys slipped under a span that stays."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..document.properties import label_of, track_of, with_track
from ..document.scene import Layer, Scene
from ..easings.batch import Ease
from ..ground.base_model import Flag, Ids, LayerId, Model, Number, Pair, Whole
from ..ground.errors import Refused
from ..moves.keys import with_key
from ..tracks.base import KeyFrame, tidy_frame
from ..tracks.evaluate import value_at
from .base import Edit, EditContext, local_frame, name_of, names_of, unlocked
from .layers import shifted_keys
from .values_and_keys import Given, PropertyName, refuse_unplaced


class LooseKey(Model):
    """A key as it lies on a clipboard: `after` counts frames from the first one copied, `of` the layers copied from."""

    property: PropertyName
    after: Annotated[KeyFrame, Field(ge=0)]
    value: Given
    ease: Ease = "linear"
    leave: Pair | None = None
    arrive: Pair | None = None
    of: Annotated[Whole, Field(ge=0, le=5_000)] = 0


class PasteKeys(Edit):
    """Put keys down on layers so that the first stands at a frame; keys that stand there already are replaced. Keys of
    several layers go onto as many, in their order; those of one onto each. All must stand within the spans, unless they
    may lie `beyond`."""

    edit: Literal["paste_keys"] = "paste_keys"
    layers: Ids
    frame: KeyFrame
    keys: Annotated[tuple[LooseKey, ...], Field(min_length=1, max_length=100_000)]
    beyond: Flag = False

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        sources = sorted({key.of for key in self.keys})
        if len(sources) > 1 and len(sources) != len(self.layers):
            raise Refused(
                f"These keys are of {len(sources)} layers, and {len(self.layers)} "
                f"{'is' if len(self.layers) == 1 else 'are'} selected.",
                where="layers", mend=f"Select {len(sources)} layers, or copy the keys of one.",
            )  # fmt: skip
        for place, layer_id in enumerate(self.layers):
            layer = unlocked(scene, layer_id)
            mine = [key for key in self.keys if len(sources) == 1 or key.of == sources[place]]
            missing = sorted({key.property for key in mine} - set(layer.tracks))
            if missing:
                names = ", ".join(label_of(name, layer).lower() for name in missing)
                raise Refused(
                    f"'{layer.name}' has no {names} to take these keys.",
                    where="keys", mend="Choose a layer of the same kind.",
                )  # fmt: skip
            for key in mine:
                refuse_unplaced(layer, key.property)
                layer = self._put(layer, scene, key)
            scene = scene.with_layer(layer)
        return scene

    def _put(self, layer: Layer, scene: Scene, key: LooseKey) -> Layer:
        frame = self.frame + key.after
        local = tidy_frame(frame - layer.span.start) if self.beyond else local_frame(layer, scene, frame)
        track = track_of(layer, key.property)
        value = track.merged(key.value, value_at(track, local, scene.fps), label_of(key.property))
        track = with_key(track, key.property, local, value, key.ease)
        return with_track(layer, key.property, track.bent_at(local, key.leave, key.arrive))

    def words(self, scene: Scene) -> str:
        count = "1 key" if len(self.keys) == 1 else f"{len(self.keys)} keys"
        return f"Pasted {count} on {names_of(scene, self.layers)}"


class SlipSpan(Edit):
    """Move a layer's keys and the time of its formulas under its span, which stays where it is; of a layer with a
    source of its own time only that, and the keys of it."""

    edit: Literal["slip_span"] = "slip_span"
    layer: LayerId
    by: Number

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        if layer.content.runs:
            shifted = shifted_keys(layer, self.by, scene.fps)
            return scene.with_layer(layer.model_copy(update={"content": shifted.content}))
        if not any(track.keys or track.formula for track in layer.tracks.values()):
            raise Refused(
                f"'{layer.name}' has no keys and no formulas that could slip under its span.",
                mend="Key a property first.",
            )
        return scene.with_layer(shifted_keys(layer, self.by, scene.fps))

    def words(self, scene: Scene) -> str:
        layer = scene.layer(self.layer) if self.layer in scene.places else None
        what = "the keys" if layer is None or any(track.keys for track in layer.tracks.values()) else "the formulas"
        if layer is not None and layer.content.runs:
            what = "the source"
        return f"Slipped {what} of {name_of(scene, self.layer)} by {self.by:+g} frames"
