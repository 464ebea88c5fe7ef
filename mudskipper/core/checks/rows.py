"""What needs a look in a row of a table, before it is rendered: what the scene itself does not have."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..contents.assets import Assets
from ..document.scene import Layer, Scene
from ..document.slots import Row
from ..geometry.bezier import Floats
from ..resolve.bounds import painted_bounds
from ..resolve.context import Context
from ..resolve.resolved import resolve
from ..slots.base import Asked
from ..slots.filling import holders
from ..slots.rows import Trouble, scene_of_row, with_smaller
from .base import Check
from .block import BlockCheck
from .cascade import CascadeCheck
from .font import FontCheck
from .reading_time import ReadingTime
from .safe_area import SafeArea

LOOKED: tuple[Check, ...] = (FontCheck(), BlockCheck(), SafeArea(), ReadingTime(), CascadeCheck())
"""The checks that words may fail which others pass."""
NEAR = 0.5
"""Pixels by which words may reach beyond their ground."""
LEAST = 25
"""Percent below which letters are not made smaller."""


class RowChecks:
    """Looks at rows of one table, one after another; what is found in the scene itself is found once."""

    def __init__(self, scene: Scene, asked: Asked, assets: Assets, frame: int) -> None:
        self.scene, self.frame = scene, min(max(frame, 0), scene.length - 1)
        self._asked, self._assets = asked, assets
        self._names = {one.layer.id: slot for slot in scene.slots for one in holders(scene, slot, assets)}
        texts = [scene.layer(name) for name in self._names if scene.layer(name).content.words is not None]
        self._usual = {(name, check) for name, check, _ in self._findings(scene, texts)}
        self._grounds = {layer.id: ground for layer in texts if (ground := self._ground(layer)) is not None}

    def look(self, row: Row) -> tuple[Scene, list[Trouble]]:
        """The scene of a row, and what needs a look in it."""
        here, troubles = scene_of_row(self.scene, row, self._asked, self._assets)
        changed = [layer for layer in here.layers if layer is not self.scene.layer(layer.id)]
        texts = [layer for layer in changed if layer.content.words is not None and layer.visible]
        beyond = [one for layer in texts for one in self._beyond(here, layer)]
        wide = {one.slot for one in beyond}
        troubles += beyond
        for name, check, sentence in self._findings(here, texts):
            slot = self._names[name]
            # What reaches beyond its plate is told of already.
            if (name, check) in self._usual or (check == SafeArea.name and slot.id in wide):
                continue
            fits = self._fitting(here, name) if check == SafeArea.name else None
            mends = check in (SafeArea.name, BlockCheck.name)
            troubles.append(Trouble(slot.id, sentence, size=fits, lines=mends and _has_space(here, name)))
        return here, [self._of_row(row, one) for one in troubles]

    def _of_row(self, row: Row, trouble: Trouble) -> Trouble:
        """What is wrong with words that are mended already, with what mends them further."""
        mend = row.mend_of(trouble.slot)
        size = trouble.size and float(int(trouble.size * mend.size / 100))
        return replace(trouble, size=size if size and size >= LEAST else None, lines=trouble.lines and not mend.lines)

    def _findings(self, scene: Scene, layers: list[Layer]) -> list[tuple[str, str, str]]:
        """Layer, check and sentence of all that is found in some layers."""
        if not layers:
            return []
        resolved = resolve(scene, np.arange(scene.length), self._assets, ids=[layer.id for layer in layers])
        found = []
        for name, one in resolved.layers.items():
            if not one.visible.any():
                continue
            for check in LOOKED:
                finding = check.look(scene, one, resolved.context)
                if finding is not None and check.name not in one.layer.unchecked:
                    found.append((name, check.name, finding.sentence))
        return found

    def _ground(self, layer: Layer) -> Layer | None:
        """What a text lies within in the scene itself: the smallest shape or picture behind it that does not show
        through its sides; None where there is none but what fills the frame."""
        context = Context(self.scene, self._assets)
        own = _ends(self.scene, layer.id, self.frame, context)
        found: list[tuple[float, Layer]] = []
        for other in self.scene.layers[: self.scene.places[layer.id]]:
            if not other.content.shows or other.content.words is not None or other.content.filters:
                continue
            ends = _ends(self.scene, other.id, self.frame, context)
            if own is None or ends is None:
                continue
            whole = (ends[:2] <= NEAR).all() and (ends[2:] >= (self.scene.width - NEAR, self.scene.height - NEAR)).all()
            if not whole and (ends[:2] <= own[:2] + NEAR).all() and (ends[2:] >= own[2:] - NEAR).all():
                found.append((float(np.prod(ends[2:] - ends[:2])), other))
        return min(found, key=lambda one: one[0])[1] if found else None

    def _beyond(self, scene: Scene, layer: Layer) -> list[Trouble]:
        """By how much a text reaches beyond what it lay within, and how small it must be to lie in it again."""
        ground = self._grounds.get(layer.id)
        if ground is None:
            return []
        context = Context(scene, self._assets)
        own = _ends(scene, layer.id, self.frame, context)
        ends = _ends(scene, ground.id, self.frame, context)
        if own is None or ends is None:
            return []
        over = float(max((ends[:2] - own[:2]).max(), (own[2:] - ends[2:]).max()))
        if over <= NEAR:
            return []
        slot = self._names[layer.id]
        return [
            Trouble(
                slot.id, f"{slot.name} reaches {over:.0f} px beyond '{ground.name}'.",
                size=self._fitting(scene, layer.id, ends), lines=_has_space(scene, layer.id),
            )
        ]  # fmt: skip

    def _fitting(self, scene: Scene, name: str, ends: Floats | None = None) -> float | None:
        """In percent, how small the letters of a text must be to lie within some ends, or the title-safe area; None
        where they would be less than a quarter."""
        if ends is None:
            size = np.array([scene.width, scene.height], dtype=np.float64)
            ends = np.concatenate([size * 0.05, size * 0.95])
        low, high = LEAST, 100
        while high - low > 1:
            percent = (low + high) // 2
            smaller = scene.with_layer(with_smaller(scene.layer(name), percent / 100))
            own = _ends(smaller, name, self.frame, Context(smaller, self._assets))
            fits = own is not None and (own[:2] >= ends[:2] - NEAR).all() and (own[2:] <= ends[2:] + NEAR).all()
            low, high = (percent, high) if fits else (low, percent)
        return float(low) if low > LEAST else None


def _ends(scene: Scene, name: str, frame: int, context: Context) -> Floats | None:
    """left, top, right, bottom (4,) of what is painted of a layer at a frame; None where nothing is."""
    layer = scene.layer(name)
    if not layer.span.start <= frame < layer.span.end or not layer.visible:
        return None
    return np.asarray(painted_bounds(context.one(layer, frame), context)[0])


def _has_space(scene: Scene, name: str) -> bool:
    words = (scene.layer(name).content.words or "").strip()
    return " " in words and "\n" not in words
