"""Colours."""

from __future__ import annotations

import re

from ..contents.filled import SlotValue
from ..document.scene import Layer
from ..document.slots import Slot
from ..ground.errors import Refused
from ..tracks.colour import COLOUR, ColourTrack
from .base import Asked, wants
from .numbers import Tracked

HEX = re.compile(r"#?([0-9a-f]{3,4}|[0-9a-f]{6}|[0-9a-f]{8})")


class ColourSlot(Tracked):
    """A colour."""

    name = "colour"
    track = ColourTrack

    def read(self, text: str, asked: Asked) -> SlotValue:
        """By its digits (`#f2b544`, `fb4`), or the name that the project has for it."""
        given = text.strip().lower()
        named = asked.colours.get(given)
        if named is not None:
            return named
        found = HEX.fullmatch(given)
        if found is None:
            raise Refused(
                f"“{text[:40]}” is no colour.", where="text",
                mend="Write one as #f2b544, or by the name that the project has for it.",
            )  # fmt: skip
        digits = found[1] if len(found[1]) > 4 else "".join(2 * one for one in found[1])
        return f"#{digits.ljust(8, 'f')}"

    def checked(self, value: SlotValue, slot: Slot, layer: Layer, path: str) -> SlotValue:
        if not isinstance(value, str) or not COLOUR.fullmatch(value):
            raise wants(slot, "a colour #rrggbbaa", value)
        return value

    def written(self, value: SlotValue, asked: Asked) -> str:
        return str(value).removesuffix("ff") if len(str(value)) == 9 else str(value)
