"""A text in a font that is not here, or with letters that no font here has."""

from __future__ import annotations

from typing import Any, ClassVar

import numpy as np

from ..contents.text import TextContent
from ..document.scene import Scene
from ..edits.layers import SetContent
from ..resolve.layers import ResolvedLayer
from ..text.runs import missing_in
from .base import Check, Finding, box_at

TOLD = 6
"""Letters that are named."""


class FontCheck(Check):
    """A text whose family is not here, and is set in another; else letters that are drawn as boxes."""

    name: ClassVar[str] = "font"

    def find(self, scene: Scene, one: ResolvedLayer) -> Finding | None:
        content = one.layer.content
        if not isinstance(content, TextContent):
            return None
        first = int(np.flatnonzero(one.visible)[0])
        found: dict[str, Any] = {"check": self.name, "layer": one.layer.id, "frame": first}
        if one.fonts.family(content.font.family) is None:
            stands = one.fonts.family_of(content.font.family).name
            font = content.font.model_copy(update={"family": stands})
            return Finding(
                **found, figure=1, lines=(box_at(one, first),),
                sentence=f"'{one.layer.name}' is set in {content.font.family}, which is not here; {stands} "
                "stands in for it. Add its file, install it, or take another.",
                edits=(SetContent(layer=one.layer.id, path="font", value=font.model_dump()),),
            )  # fmt: skip
        letters = _missing(content, one)
        if not letters:
            return None
        told = ", ".join(f"“{letter}”" for letter in letters[:TOLD])
        more = f" and {len(letters) - TOLD} more" if len(letters) > TOLD else ""
        return Finding(
            **found, figure=len(letters), lines=(box_at(one, first),),
            sentence=f"No font here has {told}{more} of '{one.layer.name}': boxes stand there. Add a font that "
            "has them.",
        )  # fmt: skip


def _missing(content: TextContent, one: ResolvedLayer) -> list[str]:
    """The letters, as clusters, that no font at hand has, of what is written at any frame."""
    found: dict[str, None] = {}
    for whole in set(content.wholes(one.inner, one.fonts)):
        start = 0
        for end, part in whole.marks:
            found |= dict.fromkeys(missing_in(whole.text[start:end], whole.styles[part]))
            start = end
    return list(found)
