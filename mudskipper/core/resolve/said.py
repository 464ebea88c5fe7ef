"""What the texts of a scene say, and when."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..contents.assets import Assets
from ..document.scene import Scene
from ..formulas.texts import texts_of
from .formulas.scope import WRITTEN
from .resolved import resolve


@dataclass(frozen=True)
class Saying:
    """Words that are to be read from the frame `start` to `end` (not included)."""

    start: int
    end: int
    words: str
    layer: str


def sayings(scene: Scene, assets: Assets, first: int, stop: int) -> list[Saying]:
    """What is to be read in frames first…stop (not included), in order; where a formula writes a text, each of its
    words by itself."""
    found: list[Saying] = []
    for layer in scene.layers:
        begin, end = max(layer.span.start, first), min(layer.span.end, stop)
        words = layer.content.words
        if words is None or not layer.visible or begin >= end:
            continue
        frames = np.arange(begin, end, dtype=np.float64)
        values = resolve(scene, frames, assets, ids=[layer.id]).layers[layer.id].values
        written = values.get(WRITTEN)
        each = [words] * len(frames)
        if written is not None and written.shape[1]:
            each = texts_of(np.broadcast_to(written, (len(frames), written.shape[1])))
        start = 0
        for at in range(1, len(each) + 1):
            if at == len(each) or each[at] != each[start]:
                if each[start].strip():
                    found.append(Saying(begin + start, begin + at, each[start].strip(), layer.name))
                start = at
    return sorted(found, key=lambda one: (one.start, one.end))
