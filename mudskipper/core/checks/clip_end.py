"""A source that has run out while its layer goes on."""

from __future__ import annotations

from typing import ClassVar

import numpy as np

from ..document.scene import Scene
from ..edits.layers import TrimSpan
from ..ground.time import timecode
from ..resolve.context import Context
from ..resolve.layers import ResolvedLayer
from .base import Check, Finding

SHORT = 2
"""Frames for which a picture may stand still at its end unnoticed."""


class ClipEnd(Check):
    """A clip or a scene that stands still at the end of its layer since it has ended; mended by a shorter span. One
    that is frozen or whose time is keyed stands still on purpose."""

    name: ClassVar[str] = "clip end"

    def look(self, scene: Scene, one: ResolvedLayer, context: Context) -> Finding | None:
        layer, time = one.layer, one.layer.content.source_time
        if time is None or not layer.content.placed or time.freeze is not None or time.keyed is not None:
            return None
        if time.after != "hold" or time.speed <= 0:
            return None
        span = layer.span
        lasts = layer.content.lasts(context.assets, scene.fps)
        seen = min(span.end, scene.length)
        over = seen - (span.start + lasts)
        if over <= SHORT or lasts <= 0 or len(set(_shown(one, context, span.start, seen))) < 2:
            return None
        last = span.start + lasts - 1
        return Finding(
            check=self.name, layer=layer.id, frame=min(last + 1, seen - 1), figure=float(over),
            sentence=f"'{layer.name}' stands still from {timecode(last + 1, scene.frame_rate)} on, for {over} frames: "
            "what it shows has ended.",
            edits=(TrimSpan(layer=layer.id, start=span.start, length=lasts),),
        )  # fmt: skip


def _shown(one: ResolvedLayer, context: Context, start: int, end: int) -> list[float]:
    """Some of the frames that it shows; a source of a single frame never runs."""
    frames = np.linspace(start, end - 1, 5).round()
    (some,) = context.resolve([one.layer], frames)
    found = one.layer.content.shown_frames(some.inner, context.around(one.layer, frames))
    return [] if found is None else [float(frame) for frame in found[:, 0]]
