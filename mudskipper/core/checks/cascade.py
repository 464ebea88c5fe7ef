"""A cascade that does not do what it says: longer than its layer, or of what the text has not."""

from __future__ import annotations

from typing import Any, ClassVar

from ..contents.cascade import Cascade
from ..contents.cascade_times import times_of
from ..contents.cascade_units import units_of
from ..contents.text import TextContent
from ..contents.text_cascades import MOST_BLURRED
from ..document.scene import Scene
from ..edits.layers import SetContent
from ..resolve.layers import ResolvedLayer
from .base import Check, Finding


class CascadeCheck(Check):
    """A cascade whose last unit has not arrived, or gone, when its layer ends, mended by a shorter one; one that
    changes a stroke where there is none; and one of so many units that they are not blurred."""

    name: ClassVar[str] = "cascade"

    def find(self, scene: Scene, one: ResolvedLayer) -> Finding | None:
        content = one.layer.content
        if not isinstance(content, TextContent) or not content.cascades:
            return None
        setting = content.set_with(one.inner, one.fonts)
        if not setting.names:
            return None
        found: dict[str, Any] = {"check": self.name, "layer": one.layer.id}
        for index, cascade in enumerate(content.cascades):
            if not cascade.on:
                continue
            count = int(units_of(setting, cascade.unit).count.max(initial=1))
            called = f"The cascade '{cascade.name or cascade.unit}' of '{one.layer.name}'"
            over = cascade.start + times_of(cascade, count).total - one.layer.span.length
            if over > 0.5:
                frame = one.layer.span.end - 1
                return Finding(
                    **found, frame=max(frame, 0), figure=over, edits=self._shorter(one, index, cascade),
                    sentence=f"{called} goes on for {over:.0f} frames after its layer has ended. Make it shorter, or "
                    "the layer longer.",
                )  # fmt: skip
            named = cascade.choice and cascade.choice.part
            if named and named not in setting.called:
                return Finding(
                    **found, frame=one.layer.span.start, figure=1.0,
                    sentence=f"{called} moves the part '{named}', and no part of the text is called so. Give one that "
                    "name, or choose others.",
                )  # fmt: skip
            if (cascade.part is not None or cascade.stroke_width is not None) and content.stroke is None:
                return Finding(
                    **found, frame=one.layer.span.start, figure=1.0,
                    sentence=f"{called} changes a stroke, and the text has none. Give it one, or take that off.",
                )  # fmt: skip
            if cascade.blur is not None and len(content.text) > MOST_BLURRED:
                return Finding(
                    **found, frame=one.layer.span.start, figure=float(count),
                    sentence=f"{called} blurs more than {MOST_BLURRED} letters, and leaves them sharp. Blur the layer, "
                    "or divide the text.",
                )  # fmt: skip
        return None

    @staticmethod
    def _shorter(one: ResolvedLayer, index: int, cascade: Cascade) -> tuple[SetContent, ...]:
        room = one.layer.span.length - cascade.start
        if room < 1:
            return ()
        fields = {"each": min(cascade.each, room), "spread": "total", "amount": room}
        return tuple(
            SetContent(layer=one.layer.id, path=f"cascades.{index}.{name}", value=value)
            for name, value in fields.items()
        )
