"""Every change of a scene: typed models and pure functions Scene → Scene; a new one is a line in the list here."""

from __future__ import annotations

from dataclasses import dataclass

from pydantic import ValidationError

from ..assets import Assets
from ..errors import refusal_of
from ..scene import Scene, verified
from .anchors import AnchorTarget, MoveAnchor, PinAnchor
from .arrange import Align, Distribute, SplitLayer
from .base import Bench, Edit
from .beats import AddBeats, DeleteBeats, LabelBeat, MoveBeat
from .bulk import CopyKeys, EditValues, KeyPose, ResetProperties, RetimeKeys, Ripple
from .entrances import BringIn, TakeOut
from .hands import BringTo, ChangeProperty, DragHandle, ScaleLayers, TurnLayers
from .layers import (
    AddLayer,
    DeleteLayers,
    DuplicateLayers,
    MoveSpan,
    RenameLayer,
    ReorderLayer,
    SetBlend,
    SetContent,
    SetLocked,
    SetVisible,
    TrimSpan,
)
from .motion import (
    DeleteKeys,
    KeyRef,
    MoveKeys,
    MoveLayers,
    SetEasing,
    SetKey,
    SetProperty,
    StartKeying,
    StopKeying,
)
from .pasting import PasteKeys, SlipSpan
from .paths import BendPath, JoinPath, RemovePoint, SetHandles, SplitPath
from .recipes import ApplyRecipe
from .scenes import SetScene
from .variants import DeleteVariant, KeepVariant, SwitchVariant

EDITS: list[type[Edit]] = [
    AddLayer,
    DuplicateLayers,
    DeleteLayers,
    RenameLayer,
    ReorderLayer,
    SetVisible,
    SetLocked,
    SetContent,
    SetBlend,
    MoveSpan,
    TrimSpan,
    SetProperty,
    StartKeying,
    StopKeying,
    SetKey,
    MoveKeys,
    DeleteKeys,
    SetEasing,
    MoveAnchor,
    PinAnchor,
    MoveLayers,
    SplitPath,
    JoinPath,
    BendPath,
    SetHandles,
    RemovePoint,
    KeyPose,
    CopyKeys,
    RetimeKeys,
    Ripple,
    EditValues,
    ResetProperties,
    BringIn,
    TakeOut,
    ApplyRecipe,
    SplitLayer,
    Align,
    Distribute,
    SetScene,
    DragHandle,
    ScaleLayers,
    TurnLayers,
    BringTo,
    ChangeProperty,
    PasteKeys,
    SlipSpan,
    AddBeats,
    MoveBeat,
    LabelBeat,
    DeleteBeats,
    KeepVariant,
    SwitchVariant,
    DeleteVariant,
]
"""An edit from outside is added to this list before `edits.any` is imported."""


@dataclass(frozen=True)
class Outcome:
    """A scene after edits: its words for the history, notices to the user, and the layers that changed."""

    scene: Scene
    words: str
    notices: tuple[str, ...]
    changed: tuple[str, ...]


def apply_edits(scene: Scene, edits: list[Edit], assets: Assets) -> Outcome:
    """Apply a list of edits as one step: all of them, or Refused and none."""
    bench = Bench(assets)
    after = scene
    words: list[str] = []
    for edit in edits:
        before = after
        try:
            after = edit.apply(before, bench)
        except ValidationError as error:
            raise refusal_of(error, edit.words(before)) from None
        words.append(edit.words(before))
    verified(scene, after)
    told = words[0] if len(words) == 1 else f"{words[0]} and {len(words) - 1} more" if words else "Nothing"
    return Outcome(after, told, tuple(bench.notices), changed_layers(scene, after))


def changed_layers(before: Scene, after: Scene) -> tuple[str, ...]:
    """The layers of which anything that is shown may have changed: those that are other objects, or all.

    What is painted of any layer depends on the frame's size, and its values at a frame on the rate.
    """
    old = {layer.id: layer for layer in before.layers}
    frames = [(one.width, one.height, one.frame_rate) for one in (before, after)]
    whole = frames[0] != frames[1]
    return tuple(layer.id for layer in after.layers if whole or old.get(layer.id) is not layer)


__all__ = [
    "EDITS", "AnchorTarget", "Bench", "Edit", "KeyRef", "MoveLayers", "Outcome", "SetProperty", "apply_edits",
    "changed_layers",
]  # fmt: skip
