"""The words of a text, and the family of its font."""

from __future__ import annotations

from ..contents.assets import Assets
from ..contents.filled import SlotValue
from ..document.other_words import with_words
from ..document.properties import with_part
from ..document.scene import Layer
from ..document.slots import Slot
from ..ground.errors import Refused
from .base import Asked, SlotKind, wants, words_of_text

NOTHING = "\u200b"
"""The words of a text that is left empty: a letter without a width, so that a plate behind it shrinks."""


class TextSlot(SlotKind):
    """The words of a text. Without any the text is not shown."""

    name = "text"

    def takes(self, layer: Layer, path: str) -> bool:
        return path == "content.text" and layer.content.words is not None

    def value(self, layer: Layer, path: str) -> SlotValue:
        return (layer.content.words or "").strip(NOTHING)

    def read(self, text: str, asked: Asked) -> SlotValue:
        return text.strip()

    def checked(self, value: SlotValue, slot: Slot, layer: Layer, path: str) -> SlotValue:
        text = words_of_text(value, slot, "words").replace("\r\n", "\n").replace("\r", "\n").replace("\t", " ")
        if any(ord(one) < 32 and one != "\n" for one in text):
            raise wants(slot, "letters that can be shown", text)
        most = slot.most
        if most is not None and len(text) > most:
            raise Refused(f"{slot.name} has at most {most} letters, and this has {len(text)}.", where="value")
        return text

    def put(self, layer: Layer, path: str, value: SlotValue, slot: Slot, assets: Assets) -> Layer:
        text = str(value)
        if text == layer.content.words:
            return layer
        if not text.strip():
            return with_words(layer, NOTHING).model_copy(update={"visible": False})
        was_empty = layer.content.words == NOTHING
        return with_words(layer.model_copy(update={"visible": True}) if was_empty else layer, text)


class FontSlot(SlotKind):
    """The font family of a text."""

    name = "font"
    medium = "font"

    def takes(self, layer: Layer, path: str) -> bool:
        return path == "content.font.family" and layer.content.words is not None

    def value(self, layer: Layer, path: str) -> SlotValue:
        family: str = layer.content.families[0]
        return family

    def read(self, text: str, asked: Asked) -> SlotValue:
        given = text.strip()
        known = {name.casefold(): name for name in asked.families}
        if known and given.casefold() not in known:
            raise Refused(f"No font family “{given[:40]}” is installed.", where="text", mend="Write one that is.")
        return known.get(given.casefold(), given)

    def checked(self, value: SlotValue, slot: Slot, layer: Layer, path: str) -> SlotValue:
        name = words_of_text(value, slot, "the name of a font family").strip()
        if not 1 <= len(name) <= 100:
            raise wants(slot, "the name of a font family", value)
        return name

    def put(self, layer: Layer, path: str, value: SlotValue, slot: Slot, assets: Assets) -> Layer:
        return layer if value == self.value(layer, path) else with_part(layer, path, value)
