"""A text with other words."""

from __future__ import annotations

from typing import Any

from ..contents.cascade import Cascade
from ..text.written import shifted
from .properties import with_part
from .scene import Layer


def with_words(layer: Layer, text: Any) -> Layer:
    """A text with other words; parts and the choices of cascades stay on their letters, and go with those that are
    gone."""
    before, parts = layer.content.words, layer.content.text_parts
    changed = with_part(layer, "content.text", text)
    after = changed.content.words
    if before is None or after is None:
        return changed
    if parts:
        moved = shifted([(part.start, part.stop) for part in parts], before, after)
        kept = [
            part.model_copy(update={"start": start, "stop": stop})
            for part, (start, stop) in zip(parts, moved, strict=True)
            if start < stop
        ]
        changed = with_part(changed, "content.parts", tuple(kept))
    content: Any = changed.content
    cascades: tuple[Cascade, ...] = getattr(content, "cascades", ())
    if any(one.choice is not None for one in cascades):
        chosen = tuple(
            one
            if one.choice is None
            else one.model_copy(update={"choice": one.choice.in_words(one.unit, before, after)})
            for one in cascades
        )
        changed = with_part(changed, "content.cascades", chosen)
    return changed
