"""Every change of a scene: typed models and pure functions Scene → Scene; a new one is a line in the list here."""

from __future__ import annotations

from dataclasses import dataclass

from pydantic import ValidationError

from ..contents.assets import Assets
from ..document.nesting import Shows, refuse_nesting
from ..document.scene import Scene
from ..document.verify import verified
from ..ground.errors import refusal_of
from ..ground.kinds import Kinds
from ..resolve.context import refuse_circles
from .add_layers import AddLayers
from .arrange import Align, Distribute, SplitLayer
from .base import Edit, EditContext
from .beats import AddBeats, DeleteBeats, LabelBeat, MoveBeat
from .carriers import CarryLayers
from .effects import AddEffect, PasteEffects, RemoveEffect, SetEffect
from .entrances import BringIn, TakeOut
from .findings import LeaveFinding
from .following_slots import followed
from .formulas import LandOnKeys, SetFormula, WriteAsKeys
from .in_pose import KeyInPose, unkeyed_in_pose
from .items import GroupItems, MakePaths, UngroupItems
from .keys_from_values import KeysFromValues
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
from .many_keys import CopyKeys, EditValues, KeyPose, ResetProperties, RetimeKeys, Ripple
from .masks import AddMask, MaskWith, SetMask
from .motion_blur import BlurLayers, SetMotionBlur
from .motion_path import BendPath, JoinPath, RemovePoint, SetHandles, SplitPath
from .move_anchor import AnchorTarget, MoveAnchor, PinAnchor
from .named import Recolour, Restyle, UseStyle
from .of_items import applied, words_of
from .of_several import RenameLayers, ReplaceWords, SetSpans
from .off_renewal import off_renewal
from .paint import AddStop, AimGradient, RemoveStop, SetPaint
from .paste_and_slip import PasteKeys, SlipSpan
from .path_points import (
    AddPoint,
    BendPoint,
    ClosePath,
    ExtendPath,
    MovePoints,
    RemovePoints,
    SetPoint,
    ShapePoints,
)
from .patterns import SetRepeat
from .plates import PutPlate
from .put_into_scene import PutIntoScene
from .recipes import ApplyRecipe
from .relink import Relink
from .rows import AddRows, DeleteRows, MendRow, SetCells
from .scenes import SetScene
from .slots import ChangeSlot, FillSlots, MakeSlot, RemoveSlot
from .source_time import FreezeSource, KeySourceTime, SetSpeed
from .take_apart import TakeApart
from .text_parts import SetLetters
from .text_path import PutOnPath
from .transform_layers import BringTo, ChangeProperty, DragHandle, ScaleLayers, TurnLayers
from .typed_keys import TypeKeys
from .values_and_keys import (
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
from .variants import DeleteVariant, KeepVariant, SwitchVariant
from .windows import MoveContent, SetCrop, SetFraming, SetMatte

EDITS: Kinds[type[Edit]] = Kinds(
    "mudskipper.edits",
    AddLayer,
    DuplicateLayers,
    DeleteLayers,
    RenameLayer,
    RenameLayers,
    ReplaceWords,
    ReorderLayer,
    SetVisible,
    SetLocked,
    SetContent,
    SetBlend,
    MoveSpan,
    TrimSpan,
    SetSpans,
    SetProperty,
    Recolour,
    UseStyle,
    Restyle,
    StartKeying,
    StopKeying,
    SetKey,
    MoveKeys,
    DeleteKeys,
    SetEasing,
    TypeKeys,
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
    LeaveFinding,
    KeyInPose,
    MakePaths,
    GroupItems,
    UngroupItems,
    MovePoints,
    BendPoint,
    SetPoint,
    ShapePoints,
    AddPoint,
    ExtendPath,
    RemovePoints,
    ClosePath,
    SetPaint,
    AddStop,
    RemoveStop,
    AimGradient,
    AddMask,
    SetMask,
    MaskWith,
    SetLetters,
    PutOnPath,
    AddEffect,
    PasteEffects,
    SetEffect,
    RemoveEffect,
    SetMotionBlur,
    BlurLayers,
    SetCrop,
    SetFraming,
    MoveContent,
    SetMatte,
    SetSpeed,
    FreezeSource,
    KeySourceTime,
    SetRepeat,
    AddLayers,
    CarryLayers,
    PutPlate,
    PutIntoScene,
    TakeApart,
    SetFormula,
    WriteAsKeys,
    LandOnKeys,
    KeysFromValues,
    Relink,
    MakeSlot,
    ChangeSlot,
    RemoveSlot,
    FillSlots,
    AddRows,
    SetCells,
    DeleteRows,
    MendRow,
)


@dataclass(frozen=True)
class Outcome:
    """A scene after edits: its words for the history, notices to the user, and the layers that changed. `unkeyed` says
    that a property changed in a pose is not keyed, and `keying` are the edits that key it there. `made` are new
    scenes of the project, which are kept along with it."""

    scene: Scene
    words: str
    notices: tuple[str, ...]
    changed: tuple[str, ...]
    unkeyed: str = ""
    keying: tuple[KeyInPose, ...] = ()
    late: str = ""
    """What is said of keys between two renewals of a cadence; `onto` are the edits that move them to the nearest."""
    onto: tuple[MoveKeys, ...] = ()
    made: tuple[Scene, ...] = ()


def apply_edits(scene: Scene, edits: list[Edit], assets: Assets) -> Outcome:
    """Apply a list of edits as one step: all of them, or Refused and none."""
    context = EditContext(assets)
    after = scene
    words: list[str] = []
    for edit in edits:
        before = after
        try:
            after, said = applied(edit, before, context)
        except ValidationError as error:
            raise refusal_of(error, words_of(edit, before)) from None
        after = followed(before, after)
        words.append(said)
    verified(scene, after)
    if any(layer.needs for layer in after.layers):
        refuse_circles(after)
    if after.scenes and Shows.of(after).may_be_more_than(Shows.of(scene)):
        refuse_nesting(after, context.assets)
    summary = words[0] if len(words) == 1 else f"{words[0]} and {len(words) - 1} more" if words else "Nothing"
    changed = changed_layers(scene, after)
    unkeyed, keying = unkeyed_in_pose(scene, after, edits, changed)
    late, onto = off_renewal(scene, after, changed)
    return Outcome(
        after, summary, tuple(context.notices), changed, unkeyed, tuple(keying), late, tuple(onto), tuple(context.made)
    )


def changed_layers(before: Scene, after: Scene) -> tuple[str, ...]:
    """The layers of which anything that is shown may have changed: those that are other objects and those that read
    one which is another or is gone; or all.

    What is painted of any layer depends on the frame's size, and its values at a frame on the rate.
    """
    old = {layer.id: layer for layer in before.layers}
    frames = [(one.width, one.height, one.frame_rate) for one in (before, after)]
    whole = frames[0] != frames[1]
    beats = before.beats != after.beats
    other = {layer.id for layer in after.layers if whole or old.get(layer.id) is not layer}
    if beats or before.length != after.length or [one.id for one in before.layers] != [one.id for one in after.layers]:
        other |= {layer.id for layer in after.layers if layer.formulas and layer.looks_around}
    reach = after.with_dependents(other | (old.keys() - after.places.keys()))
    return tuple(layer.id for layer in after.layers if layer.id in reach)


__all__ = [
    "EDITS",
    "AnchorTarget",
    "Edit",
    "EditContext",
    "KeyRef",
    "MoveLayers",
    "Outcome",
    "SetProperty",
    "apply_edits",
    "changed_layers", "unkeyed_in_pose", "words_of",
]  # fmt: skip
