"""A text that does not fit its block."""

from __future__ import annotations

from typing import Any, ClassVar

import numpy as np

from ..contents.text import TextContent
from ..contents.text_block import spills
from ..document.scene import Scene
from ..edits.layers import SetContent
from ..resolve.layers import ResolvedLayer
from .base import Check, Finding, box_at

SLACK = 0.5
"""Pixels that nobody sees."""


class BlockCheck(Check):
    """Lines that are wider than their block, or more of them than it is high; mended by setting them smaller."""

    name: ClassVar[str] = "block"

    def find(self, scene: Scene, one: ResolvedLayer) -> Finding | None:
        content = one.layer.content
        if not isinstance(content, TextContent) or content.block is None:
            return None
        over = np.broadcast_to(spills(content.set_with(one.inner, one.fonts)), (len(one.frames), 2))
        most = np.where(one.visible[:, None], over, 0.0)
        frame = int(np.argmax(most.max(axis=1)))
        beside, below = (float(number) for number in most[frame])
        if max(beside, below) <= SLACK:
            return None
        what = [f"{beside:.0f} px wider" if beside > SLACK else "", f"{below:.0f} px higher" if below > SLACK else ""]
        found: dict[str, Any] = {"check": self.name, "layer": one.layer.id, "frame": frame}
        mends = (
            () if content.block.least else (SetContent(layer=one.layer.id, path="block.least", value={"rest": 0.1}),)
        )
        return Finding(
            **found, figure=max(beside, below), lines=(box_at(one, frame),), edits=mends,
            sentence=f"The words of '{one.layer.name}' are {' and '.join(filter(None, what))} than their block at "
            f"frame {frame}. Set them smaller, make the block larger, or let them fit.",
        )  # fmt: skip
