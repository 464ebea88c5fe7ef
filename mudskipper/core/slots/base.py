"""What a kind of slot is: which parts of a layer it takes, how a value is typed, and how it is put in its place."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Mapping, Set
from dataclasses import dataclass, field
from typing import ClassVar

from ..contents.assets import Assets
from ..contents.filled import SlotValue
from ..document.scene import Layer
from ..document.slots import Slot
from ..ground.errors import Refused


@dataclass(frozen=True)
class Asked:
    """What typed values are read with: the scene's rate; the media and colours of the project by their names, in small
    letters; and the font families that are installed, none where that is not asked."""

    rate: tuple[int, int] = (30, 1)
    media: Mapping[tuple[str, str], str] = field(default_factory=dict)
    """Ids by the kind of a medium and its name."""
    colours: Mapping[str, str] = field(default_factory=dict)
    families: Set[str] = frozenset()


class SlotKind(ABC):
    """A kind of value that slots hold. Stateless; one of each is registered."""

    name: ClassVar[str]
    medium: ClassVar[str] = ""
    """What a value names, where that is something that must be there to be shown."""

    @abstractmethod
    def takes(self, layer: Layer, path: str) -> bool:
        """Whether the part of a layer at a path is of this kind."""

    @abstractmethod
    def value(self, layer: Layer, path: str) -> SlotValue:
        """What that part holds."""

    @abstractmethod
    def read(self, text: str, asked: Asked) -> SlotValue:
        """The value that a text tells; Refused in words where it tells none."""

    @abstractmethod
    def checked(self, value: SlotValue, slot: Slot, layer: Layer, path: str) -> SlotValue:
        """The value as that part holds it; Refused in words where it is none, or out of bounds."""

    @abstractmethod
    def put(self, layer: Layer, path: str, value: SlotValue, slot: Slot, assets: Assets) -> Layer:
        """The layer with a checked value in that part."""

    def written(self, value: SlotValue, asked: Asked) -> str:
        """A value as it is typed."""
        return str(value)


def wants(slot: Slot, what: str, given: object) -> Refused:
    """A value of another kind than the slot's, in words."""
    shown = str(given) if len(str(given)) <= 40 else f"{str(given)[:40]}…"
    return Refused(f"{slot.name} takes {what}, and “{shown}” was given.", where="value")


def words_of_text(value: SlotValue, slot: Slot, what: str) -> str:
    """A value that is text; Refused where it is none."""
    if not isinstance(value, str):
        raise wants(slot, what, value)
    return value
