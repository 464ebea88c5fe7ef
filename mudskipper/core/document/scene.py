"""The document of one scene: `mudskipper.scene/3`."""

from __future__ import annotations

import secrets
from functools import cache, cached_property
from typing import TYPE_CHECKING, Annotated, Any, ClassVar, Literal

from pydantic import AfterValidator, Field, field_validator, model_validator

from ..contents import CONTENTS, Content
from ..contents.assets import Assets
from ..effects import Effects
from ..formulas.language import read
from ..formulas.reader import Program
from ..ground.base_model import Flag, Id, MediaName, Model, Name, Number, Whole
from ..ground.errors import Refused
from ..ground.kinds import OneOf
from ..ground.numbered import numbered
from ..ground.shown import Shown
from ..ground.time import FrameRate
from ..shapes.masks import Masks
from ..tracks.base import Track
from ..tracks.colour import Colour
from ..tracks.kinds import NumberTrack, PairTrack, PathTrack
from ..tracks.motion import Anchor, AnchorTrack, Opacity, Position, Rotation, Scale
from ..tracks.walk import ShownPart, shown_at, tracks_in
from .framing import Crop, Framing
from .matte import Matte
from .slots import MOST_ROWS, MOST_SLOTS, Row, Slot, checked_rows, checked_slots

SCHEMA = "mudskipper.scene/3"

Blend = Literal[
    "normal", "multiply", "screen", "overlay", "darken", "lighten", "color-dodge", "color-burn", "hard-light",
    "soft-light", "difference", "exclusion", "hue", "saturation", "color", "luminosity", "plus-lighter",
]  # fmt: skip


class Span(Model):
    """The frames of the scene during which a layer is there."""

    start: Annotated[Whole, Field(ge=-100_000, le=1_000_000)]
    length: Annotated[Whole, Field(ge=1, le=1_000_000)]

    @property
    def end(self) -> int:
        """The first frame after the span."""
        return self.start + self.length


AnyContent: Any = Content if TYPE_CHECKING else Annotated[Any, OneOf(CONTENTS)]
CheckName = Annotated[str, Field(strict=True, min_length=1, max_length=40)]


class Variant(Model):
    """A version of a layer's motion, kept beside the one in use."""

    name: Name
    anchor: Anchor
    position: Position
    scale: Scale
    rotation: Rotation
    opacity: Opacity


MOTION = tuple(name for name in Variant.model_fields if name != "name")
"""The properties of a layer that its variants differ in."""


class Layer(Model):
    """One thing in a scene. Keys count from the start of its span; `unchecked` names checks whose finding stays."""

    aside: ClassVar[frozenset[str]] = frozenset({"variants"})

    id: Id = Field(default_factory=lambda: new_id())
    name: Name
    visible: Flag = True
    locked: Flag = False
    span: Span
    blend: Blend = "normal"
    content: AnyContent
    anchor: Anchor = AnchorTrack(rest=(0.5, 0.5))
    position: Position = PathTrack(rest=(0.0, 0.0))
    scale: Scale = PairTrack(rest=(100.0, 100.0))
    rotation: Rotation = NumberTrack(rest=0.0)
    opacity: Opacity = NumberTrack(rest=100.0)
    variant: Name = "A"
    variants: Annotated[tuple[Variant, ...], Field(max_length=26)] = ()
    unchecked: Annotated[tuple[CheckName, ...], Field(max_length=100)] = ()
    masks: Masks = ()
    crop: Crop | None = None
    framing: Framing | None = None
    matte: Matte | None = None
    carrier: Id | None = None
    """The layer that it moves along with: its position, scale and rotation are in that layer's pixels."""
    motion_blur: Flag = True
    """Whether it is blurred by its motion, where the scene is."""
    effects: Effects = ()
    """What is done to its picture, one after another, after its masks and before its matte."""

    _numbered = field_validator("masks", "effects")(numbered)

    @cached_property
    def tracks(self) -> dict[str, Track]:
        """Every track by its path: `anchor`, …, `content.items.0.size`; not those of variants that rest."""
        return dict(sorted(tracks_in(self), key=lambda item: item[0].startswith("content.")))

    def is_heard(self, assets: Assets) -> bool:
        """Whether it has a sound and is not muted. A hidden layer is heard no more than it is seen."""
        sound = self.content.sound_of(assets)
        return self.visible and sound is not None and not sound.muted

    @cached_property
    def needs(self) -> tuple[str, ...]:
        """The ids of the other layers that it reads."""
        own = tuple(self.content.needs)
        if self.matte is not None:
            own = (*own, self.matte.layer)
        return own if self.carrier is None else (*own, self.carrier)

    @cached_property
    def formulas(self) -> dict[str, str]:
        """The formulas of its properties, by their paths."""
        return {path: track.formula for path, track in self.tracks.items() if track.formula is not None}

    @cached_property
    def named(self) -> frozenset[str]:
        """The names of the layers that its formulas read."""
        return frozenset().union(*(one.layers for one in self._programs))

    @cached_property
    def looks_around(self) -> bool:
        """Whether its formulas read anything of the scene beside the layer itself."""
        return any(one.around for one in self._programs)

    @property
    def _programs(self) -> list[Program]:
        return [found for text in self.formulas.values() if isinstance(found := read(text), Program)]

    @cached_property
    def limits(self) -> dict[str, tuple[float, float]]:
        """The least and the largest value of each property whose easings may pass beyond its keys, and which has
        bounds."""
        keyed = {path: self.shown[path].about for path, track in self.tracks.items() if not track.stays_between}
        return {
            path: (about.low, about.high)
            for path, about in keyed.items()
            if about.low is not None and about.high is not None
        }

    @cached_property
    def shown(self) -> dict[str, ShownPart]:
        """How each property is shown, by its path."""
        found = {path: shown_at(self, path) for path in self.tracks}
        return {path: part or ShownPart(Shown(path)) for path, part in found.items()}

    @cached_property
    def json_text(self) -> str:
        """The layer as JSON; kept, so that a document is written at the cost of the layers that changed."""
        return self.model_dump_json(by_alias=True)

    @cached_property
    def key_count(self) -> int:
        """How many keys its tracks hold, those of its variants counted."""
        return _keys_in(self)


def _keys_in(value: Any) -> int:
    """How many keys a part of a layer holds."""
    kind = _keyed(value.__class__)
    if kind is Track:
        return len(value.keys)
    if kind is None:
        return 0
    return sum([_keys_in(part) for part in (value if kind is tuple else value.__dict__.values())])


@cache
def _keyed(kind: type) -> type | None:
    """How a type can hold keys: as a track itself, or in its parts; None where it cannot."""
    return next((one for one in (Track, Model, tuple) if issubclass(kind, one)), None)


BETWEEN = ",\n"
"""What stands between the texts of layers, and in none of them: JSON writes the end of a line in a string otherwise."""


class Beat(Model):
    """A labelled mark on the ruler; its frame may be fractional after a change of rate."""

    frame: Annotated[float, Field(strict=True, ge=0, le=1e6)]
    label: Annotated[str, Field(strict=True, max_length=200)] = ""


class MotionBlur(Model):
    """How what moves is blurred: the shutter is open for so many degrees of a frame (360 all of it), from `phase`
    degrees after the frame on; that time is looked at `samples` times at most."""

    shutter: Annotated[Number, Field(ge=1, le=720)] = 180.0
    phase: Annotated[Number, Field(ge=-360, le=360)] = -90.0
    samples: Annotated[Whole, Field(ge=2, le=64)] = 32


class Scene(Model):
    """A scene; its layers stand back to front."""

    format: Literal["mudskipper.scene/3"] = Field(default="mudskipper.scene/3", alias="schema")
    id: MediaName = Field(default_factory=lambda: new_id())
    name: Name
    width: Annotated[Whole, Field(ge=1, le=16_384)]
    height: Annotated[Whole, Field(ge=1, le=16_384)]
    frame_rate: FrameRate = (30, 1)
    length: Annotated[Whole, Field(ge=1, le=1_000_000)]
    background: Colour = "#00000000"
    beats: tuple[Beat, ...] = ()
    motion_blur: MotionBlur | None = None
    slots: Annotated[tuple[Slot, ...], Field(max_length=MOST_SLOTS), AfterValidator(checked_slots)] = ()
    rows: Annotated[tuple[Row, ...], Field(max_length=MOST_ROWS), AfterValidator(checked_rows)] = ()
    """The titles that its slots are filled for."""
    layers: Annotated[tuple[Layer, ...], Field(max_length=5_000)] = ()

    @model_validator(mode="after")
    def _ids_once(self) -> Scene:
        seen: set[str] = set()
        for layer in self.layers:
            if layer.id in seen:
                raise ValueError(f"two layers have the id {layer.id!r}; every layer needs its own")
            seen.add(layer.id)
        return self

    @property
    def fps(self) -> float:
        """Frames a second."""
        return self.frame_rate[0] / self.frame_rate[1]

    @cached_property
    def places(self) -> dict[str, int]:
        """Index of each layer by its id."""
        return {layer.id: index for index, layer in enumerate(self.layers)}

    @property
    def pictures(self) -> set[str]:
        """The ids of the pictures that its layers need."""
        return {picture for layer in self.layers for picture in layer.content.pictures}

    @property
    def clips(self) -> set[str]:
        """The ids of the clips that its layers need."""
        return {clip for layer in self.layers for clip in layer.content.clips}

    @property
    def families(self) -> set[str]:
        """The font families that its texts are set in, by their names."""
        return {family for layer in self.layers for family in layer.content.families}

    @property
    def scenes(self) -> set[str]:
        """The ids of the scenes that its layers show."""
        return {scene for layer in self.layers for scene in layer.content.scenes}

    def with_dependents(self, ids: set[str]) -> set[str]:
        """Layers by their ids, and every one that reads any of them, of itself or by way of others."""
        found, fresh = set(ids), set(ids)
        if ids:
            # What a formula reads may be anything of the scene.
            fresh |= {layer.id for layer in self.layers if layer.formulas and layer.looks_around}
            found |= fresh
        readers = [layer for layer in self.layers if layer.needs]
        while fresh:
            fresh = {layer.id for layer in readers if layer.id not in found and not fresh.isdisjoint(layer.needs)}
            found |= fresh
        return found

    def layer(self, layer_id: str) -> Layer:
        """The layer with that id; Refused in words where it is gone."""
        index = self.places.get(layer_id)
        if index is None:
            raise Refused(
                f"A layer named here is not in scene '{self.name}'; it may have been deleted in another window.",
                mend="Nothing was changed. Undo brings a deleted layer back.",
            )
        return self.layers[index]

    def with_layer(self, layer: Layer) -> Scene:
        """The scene with the layer of that id replaced; the other layers stay the same objects."""
        index = self.places[layer.id]
        scene = self.with_layers((*self.layers[:index], layer, *self.layers[index + 1 :]))
        # The ids have not moved: an edit of many layers, one by one, does not index them again each time.
        scene.__dict__["places"] = self.places
        return scene

    def with_layers(self, layers: tuple[Layer, ...]) -> Scene:
        """The scene with these layers."""
        scene = self.model_copy(update={"layers": layers})
        if self.lies_in is not None:
            scene.__dict__["_lies_in"] = self.lies_in
        return scene

    @property
    def lies_in(self) -> tuple[Scene, str] | None:
        """Of the inner scene of a layer or a group (`inside`): the scene around it, and the address of what it is."""
        found: tuple[Scene, str] | None = self.__dict__.get("_lies_in")
        return found

    def to_json(self, only: set[str] | None = None) -> str:
        """The document as JSON text, a line for each layer; with `only` some of its layers, where they are named."""
        rest = self.model_dump_json(by_alias=True, exclude={"layers"})
        layers = self.layers if only is None else [layer for layer in self.layers if layer.id in only]
        return f'{rest[:-1]},"layers":[{BETWEEN.join(layer.json_text for layer in layers)}]}}'


def new_id() -> str:
    """A fresh identity: 12 characters, URL-safe."""
    return secrets.token_hex(6)
