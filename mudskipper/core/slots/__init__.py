"""Slots: properties under a name that a table, a form or another scene fills. A new kind is a line in the list here."""

from __future__ import annotations

from ..ground.kinds import Kinds
from .base import Asked, SlotKind
from .colours import ColourSlot
from .media import ClipSlot, PictureSlot, SoundSlot
from .numbers import NumberSlot, PairSlot
from .presence import LengthSlot, VisibleSlot
from .texts import FontSlot, TextSlot

SLOT_KINDS: Kinds[SlotKind] = Kinds(
    "mudskipper.slots",
    TextSlot(),
    ColourSlot(),
    PictureSlot(),
    ClipSlot(),
    SoundSlot(),
    FontSlot(),
    VisibleSlot(),
    LengthSlot(),
    NumberSlot(),
    PairSlot(),
)

__all__ = ["SLOT_KINDS", "Asked", "SlotKind"]
