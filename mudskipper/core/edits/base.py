"""What every edit is: a typed model with a pure function Scene → Scene and its sentence for the history."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Any, ClassVar

from pydantic import ConfigDict

from ..contents.assets import Assets
from ..document.items_as_layers import item_layer
from ..document.properties import label_of
from ..document.scene import Layer, Scene
from ..geometry.bezier import Floats
from ..geometry.transform import inverse
from ..ground.base_model import Model
from ..ground.errors import Refused
from ..ground.time import timecode
from ..resolve.context import Context
from ..tracks.base import SAME


@dataclass
class EditContext:
    """What edits are made with: what the project has, and a place for notices to the user."""

    assets: Assets
    notices: list[str] = field(default_factory=list)
    made: list[Scene] = field(default_factory=list)
    """New scenes of the project, which are kept along with the edits."""

    def make(self, scene: Scene) -> None:
        """Have a new scene in the project."""
        self.made.append(scene)
        self.assets = self.assets.with_scenes([scene])

    def of(self, scene: Scene) -> Context:
        """What answers for the values of the scene as it stands."""
        return Context(scene, self.assets)


@dataclass(frozen=True)
class View:
    """How an inner scene lies in the outer one at the frame of an edit: its pixels to those of the scene (6,)."""

    scene: Scene
    parent: Layer
    matrix: Floats

    def point(self, at: tuple[float, float]) -> tuple[float, float]:
        """A point of the scene in the pixels of the inner scene; Refused where those have collapsed."""
        return self.step((at[0] - float(self.matrix[4]), at[1] - float(self.matrix[5])))

    def step(self, by: tuple[float, float]) -> tuple[float, float]:
        """A step in the scene in the pixels of the inner scene; Refused where those have collapsed."""
        back = inverse(self.matrix[None])
        if back is None:
            raise Refused(
                f"'{self.parent.name}' has scale 0 here, so nothing in it can be pointed at.",
                mend="Go to a frame where it has a size.",
            )
        a, b, c, d = (float(n) for n in back[0, :4])
        return a * by[0] + c * by[1], b * by[0] + d * by[1]

    @property
    def mirrored(self) -> bool:
        """Whether what turns clockwise inside turns the other way in the scene."""
        return bool(self.matrix[0] * self.matrix[3] - self.matrix[1] * self.matrix[2] < 0)


def _names_its_kind(schema: dict[str, Any]) -> None:
    """An edit as JSON must say which it is."""
    schema["required"] = ["edit", *schema.get("required", [])]


class Edit(Model):
    """One change of a scene. Frames are frames of the scene unless said otherwise."""

    model_config = ConfigDict(json_schema_extra=_names_its_kind)
    told_by: ClassVar[str] = "edit"
    takes_items: ClassVar[bool] = True
    """Whether it can be made of the items of a layer, by their addresses."""
    takes_addresses: ClassVar[bool] = False
    """Whether it finds items by itself: any other edit is made of them in the inner scene of what they lie in."""
    sets_formulas: ClassVar[bool] = False
    """Whether it is meant for formulas themselves, or replaces what holds them: nothing is said of them then."""
    sets_values: ClassVar[bool] = False
    """Whether it gives properties the values that somebody wants to see at its `frame`."""
    shifts_parts: ClassVar[bool] = False
    """Whether parts of the layers that it names may come to stand at other places of them: what moves at random within
    them goes on as it does."""
    edit: str

    @abstractmethod
    def apply(self, scene: Scene, context: EditContext) -> Scene:
        """The scene after the edit; Refused in words, with nothing changed, where it cannot be made."""

    @abstractmethod
    def words(self, scene: Scene) -> str:
        """The edit in words, by the names in the scene before it."""

    def seen_inside(self, view: View) -> Edit:
        """The edit with its points of the scene in the pixels of the inner scene in which it is made."""
        return self

    def joined(self, later: Edit) -> Edit | None:
        """This edit and a later one of the same run as one, or None where the two stay two steps.

        A run is a row of steps of one kind, such as nudges, that a hand makes one right after another.
        """
        if type(later) is not type(self) or later.target() != self.target():
            return None
        return later

    def target(self) -> tuple[object, ...] | None:
        """What two steps of a run must have in common to be one; of most edits each is a step of its own."""
        return (id(self),)


def one_step(first: Any, later: Any) -> Edit | None:
    """Two edits of one kind, each `by` (x, y), as one of the whole way; None where they are made of other things."""
    if type(later) is not type(first) or later.target() != first.target():
        return None
    (x, y), (dx, dy) = first.by, later.by
    whole: Edit = later.model_copy(update={"by": (x + dx, y + dy)})
    return whole


def unlocked(scene: Scene, layer_id: str) -> Layer:
    """The layer, refused while it is locked."""
    layer = scene.layer(layer_id)
    if layer.locked:
        raise Refused(f"'{layer.name}' is locked.", mend="Unlock it in the lanes, then try again.")
    return layer


def carriers_of(scene: Scene, layer_id: str) -> list[str]:
    """What carries a layer, what carries that, and so on."""
    found: list[str] = []
    carrier = scene.layer(layer_id).carrier
    while carrier in scene.places and carrier not in found and carrier != layer_id:
        found.append(carrier)
        carrier = scene.layer(carrier).carrier
    return found


def leading(scene: Scene, ids: Iterable[str]) -> list[str]:
    """Of some layers those that no other of them carries: the others go along by themselves."""
    wanted = dict.fromkeys(ids)
    return [one for one in wanted if not any(carrier in wanted for carrier in carriers_of(scene, one))]


def carriers_first(scene: Scene, ids: Iterable[str]) -> list[str]:
    """Layers, each once, those that carry others before them."""
    return sorted(dict.fromkeys(ids), key=lambda one: len(carriers_of(scene, one)))


def local_frame(layer: Layer, scene: Scene, frame: float) -> float:
    """A scene frame counted from the layer's start; refused outside its span, where a key would never be seen."""
    if not layer.span.start - SAME <= frame < layer.span.end:
        first, last = layer.span.start, layer.span.end - 1
        raise Refused(
            f"Frame {frame:g} ({timecode(frame, scene.frame_rate)}) is outside the span of '{layer.name}', "
            f"which runs from frame {first} to {last}.",
            where="frame",
            mend="Move the playhead into the span, or make the span longer.",
        )
    return frame - layer.span.start


def name_of(scene: Scene, layer_id: str) -> str:
    """A layer's name for a sentence."""
    try:
        return item_layer(scene, layer_id).name
    except Refused:
        return layer_id


def label_in(scene: Scene, layer_id: str, name: str) -> str:
    """The label of a part of a layer for a sentence."""
    try:
        return label_of(name, item_layer(scene, layer_id))
    except Refused:
        return label_of(name)


def names_of(scene: Scene, ids: tuple[str, ...]) -> str:
    """One name, or how many layers."""
    return name_of(scene, ids[0]) if len(ids) == 1 else f"{len(ids)} layers"
