"""Pictures, clips and sounds: another one in the place of what a layer shows."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..contents.assets import Assets
from ..contents.filled import SlotValue
from ..document.framing import Crop, Framing
from ..document.properties import with_part
from ..document.scene import Layer
from ..document.slots import Slot
from ..ground.errors import Refused
from .base import Asked, SlotKind, wants, words_of_text
from .landed import landed, landing


class MediumSlot(SlotKind):
    """What the kinds of media share. The box of the layer stays; what is shown fills it, or lies inside of it."""

    def takes(self, layer: Layer, path: str) -> bool:
        return path == "content.asset" and layer.content.kind == self.name

    def value(self, layer: Layer, path: str) -> SlotValue:
        content: Any = layer.content
        return str(content.asset)

    def read(self, text: str, asked: Asked) -> SlotValue:
        given = text.strip()
        found = asked.media.get((self.name, given.casefold()))
        if found is None:
            raise Refused(
                f"No {self.name} “{given[:60]}” is among the project's media.", where="text",
                mend="Add it in the shelf, or write the name of one that is there.",
            )  # fmt: skip
        return found

    def checked(self, value: SlotValue, slot: Slot, layer: Layer, path: str) -> SlotValue:
        name = words_of_text(value, slot, f"a {self.name}")
        if not 1 <= len(name) <= 200:
            raise wants(slot, f"a {self.name}", value)
        return name

    def put(self, layer: Layer, path: str, value: SlotValue, slot: Slot, assets: Assets) -> Layer:
        if value == self.value(layer, path):
            return layer
        before = self._size(self.value(layer, path), assets)
        changed = with_part(layer, path, value)
        after = self._size(value, assets)
        if before is None or after is None or before == after:
            return changed
        return _in_box(changed, before, after, slot.fit)

    def _size(self, value: SlotValue, assets: Assets) -> tuple[int, int] | None:
        """The size in pixels of a medium; None where it is not known, or is heard alone."""
        info = assets.pictures.get(str(value)) or assets.clips.get(str(value))
        return (info.width, info.height) if info is not None and info.width else None

    def written(self, value: SlotValue, asked: Asked) -> str:
        names = {medium: name for (kind, name), medium in asked.media.items() if kind == self.name}
        return names.get(str(value), str(value))


class PictureSlot(MediumSlot):
    """A picture."""

    name = medium = "picture"


class ClipSlot(MediumSlot):
    """A clip."""

    name = medium = "clip"


class SoundSlot(MediumSlot):
    """A sound."""

    name = medium = "sound"


def _in_box(layer: Layer, before: tuple[int, int], after: tuple[int, int], fit: str) -> Layer:
    """The layer whose content was `before` pixels large and is `after`, in the box that it had: what its framing is
    about stays where it was, and its zoom is larger or smaller by what the sizes differ."""
    was, now = np.array(before, dtype=np.float64), np.array(after, dtype=np.float64)
    ratio = was / now
    factor = float(ratio.max() if fit == "fill" else ratio.min())
    crop = layer.crop or Crop.around(np.array([0.0, 0.0, *was]))
    framing = layer.framing or Framing()
    x, y = landing(framing.about)
    dx, dy = landing(framing.offset)
    step = (float(dx + x / 100 * (was[0] - now[0])), float(dy + y / 100 * (was[1] - now[1])))
    changed = framing.model_copy(
        update={
            "zoom": landed(framing.zoom, landing(framing.zoom) * factor, in_ratio=True),
            "offset": landed(framing.offset, step, in_ratio=False),
        }
    )
    return with_part(with_part(layer, "crop", crop), "framing", changed)
