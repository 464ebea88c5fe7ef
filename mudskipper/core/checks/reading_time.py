"""Text that is up for less time than it takes to read."""

from __future__ import annotations

from typing import ClassVar

import numpy as np
from numpy.typing import NDArray

from ..document.scene import Scene
from ..edits import Edit
from ..edits.layers import TrimSpan
from ..edits.scenes import SetScene
from ..resolve.formulas.scope import WRITTEN
from ..resolve.layers import ResolvedLayer
from .base import Check, Finding, box_at, opacity_of

LETTERS_A_SECOND = 15.0
LEAST_SECONDS = 1.0


class ReadingTime(Check):
    """Text that is up for less time than it takes to read: 15 letters a second, and one second at least."""

    name: ClassVar[str] = "reading time"

    def find(self, scene: Scene, one: ResolvedLayer) -> Finding | None:
        if one.layer.content.words is None:
            return None
        shown = np.flatnonzero(one.visible & (opacity_of(one) >= 0.5))
        if not shown.size:
            return None
        seconds = len(shown) / scene.fps
        needed = max(_letters(one, shown) / LETTERS_A_SECOND, LEAST_SECONDS)
        if seconds >= needed:
            return None
        more = int(np.ceil((needed - seconds) * scene.fps))
        span = one.layer.span
        edits: tuple[Edit, ...] = (TrimSpan(layer=one.layer.id, start=span.start, length=span.length + more),)
        if span.end + more > scene.length:
            edits = (SetScene(length=span.end + more), *edits)
        return Finding(
            check=self.name, layer=one.layer.id, frame=int(shown[0]), figure=seconds,
            sentence=f"'{one.layer.name}' is up for {seconds:.1f} s and takes {needed:.1f} s to read.",
            edits=edits, lines=(box_at(one, int(shown[0])),),
        )  # fmt: skip


def _letters(one: ResolvedLayer, shown: NDArray[np.intp]) -> int:
    """How many letters there are to read at some frames: those typed, or the most that a formula writes."""
    written = one.values.get(WRITTEN)
    if written is None or not written.shape[1]:
        return len("".join((one.layer.content.words or "").split()))
    codes = written if len(written) == 1 else written[shown]
    unread = [code for code in np.unique(codes) if code < 0 or chr(int(code)).isspace()]
    return int((~np.isin(codes, unread)).sum(axis=1).max())
