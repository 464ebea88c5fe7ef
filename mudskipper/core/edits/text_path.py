"""Edits that let a text run along the outline of another layer."""

from __future__ import annotations

from typing import ClassVar, Literal

from ..document.properties import with_part
from ..document.scene import Scene
from ..ground.base_model import Id, WholeLayer
from ..ground.errors import Refused
from ..tracks.kinds import NumberTrack, PairTrack, PathTrack
from ..tracks.motion import AnchorTrack
from .base import Edit, EditContext, carriers_of, name_of, unlocked

OWN = ("anchor", "position", "scale", "rotation")


class PutOnPath(Edit):
    """Let a text run along the outline of a layer that is a single shape, carried by that layer from then on; without
    a `path` it stands straight again, where it is. Its own motion goes: that of the path takes its place."""

    takes_items: ClassVar[bool] = False

    edit: Literal["put_on_path"] = "put_on_path"
    layer: WholeLayer
    path: Id | None = None

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        if layer.content.text_parts is None:
            raise Refused(f"'{layer.name}' is no text.", where="layer", mend="Choose a text.")
        if self.path is None:
            return scene.with_layer(with_part(layer, "content.path", None))
        other = scene.layer(self.path)
        found = context.of(scene).one(other, other.span.start)
        if other.id == layer.id or other.content.outline(found.inner) is None:
            raise Refused(
                f"'{other.name}' is no single shape that a text could run along.", where="path",
                mend="Choose a layer of one shape, such as an ellipse or a drawn path.",
            )  # fmt: skip
        if layer.id in carriers_of(scene, other.id):
            raise Refused(
                f"'{layer.name}' carries '{other.name}', and cannot run along it.", where="path",
                mend=f"Release '{other.name}' first.",
            )  # fmt: skip
        if any(track.moves for name, track in layer.tracks.items() if name.split(".")[0] in OWN):
            context.notices.append(f"The motion of '{layer.name}' gave way to its path; undo brings it back.")
        now = layer.content.model_dump().get("path") or {}
        still = layer.model_copy(
            update={
                "carrier": other.id, "anchor": AnchorTrack(rest=(0.0, 0.0), pinned=False),
                "position": PathTrack(rest=(0.0, 0.0)), "scale": PairTrack(rest=(100.0, 100.0)),
                "rotation": NumberTrack(rest=0.0),
            }
        )  # fmt: skip
        return scene.with_layer(with_part(still, "content.path", {**now, "layer": other.id}))

    def words(self, scene: Scene) -> str:
        text = name_of(scene, self.layer)
        return f"Put {text} along {name_of(scene, self.path)}" if self.path else f"Set {text} straight"
