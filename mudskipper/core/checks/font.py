"""A text in a font that is not installed, or with letters that no installed font has."""

from __future__ import annotations

from typing import Any, ClassVar

import numpy as np

from ..contents.text import TextContent
from ..document.scene import Scene
from ..edits.layers import SetContent
from ..formulas.texts import texts_of
from ..resolve.layers import ResolvedLayer
from ..text.families import family_of
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
        if content.font.missing:
            stands = family_of(content.font.family).name
            font = content.font.model_copy(update={"family": stands})
            return Finding(
                **found, figure=1, lines=(box_at(one, first),),
                sentence=f"'{one.layer.name}' is set in {content.font.family}, which is not installed; {stands} "
                "stands in for it. Install it, or take another.",
                edits=(SetContent(layer=one.layer.id, path="font", value=font.model_dump()),),
            )  # fmt: skip
        letters = missing_in("".join(_texts(content, one)), content.font)
        if not letters:
            return None
        told = ", ".join(f"“{letter}”" for letter in letters[:TOLD])
        more = f" and {len(letters) - TOLD} more" if len(letters) > TOLD else ""
        return Finding(
            **found, figure=len(letters), lines=(box_at(one, first),),
            sentence=f"No installed font has {told}{more} of '{one.layer.name}': boxes stand there. Install a font "
            "package that has them.",
        )  # fmt: skip


def _texts(content: TextContent, one: ResolvedLayer) -> list[str]:
    """What is written at any frame."""
    codes = one.values.get("content.written")
    if codes is None or not codes.shape[1]:
        return [content.text]
    return texts_of(np.unique(codes, axis=0))
