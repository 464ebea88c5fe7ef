"""What is done to several layers at once, to each from what it has: names with numbers, words, spans."""

from __future__ import annotations

import re
from typing import Annotated, ClassVar, Literal

from pydantic import Field, ValidationError

from ..document.scene import Scene
from ..ground.base_model import MOST_NAME, Flag, Ids, Name
from ..ground.errors import Refused, refusal_of
from ..ground.typed_time import typed_time
from .base import Edit, EditContext, names_of
from .layers import MoveSpan, SetContent, TrimSpan, free_among, reading

MARK = "{n}"
"""Where a number stands in a name."""
Typed = Annotated[str, Field(strict=True, max_length=40)]


class RenameLayers(Edit):
    """Give layers a name with a number each, in the order in which they are given: `Bar {n}` is Bar 1, Bar 2; without
    `{n}` the others get the next free number."""

    takes_items: ClassVar[bool] = False

    edit: Literal["rename_layers"] = "rename_layers"
    layers: Ids
    name: Name

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        ids = tuple(dict.fromkeys(self.layers))
        for layer_id in ids:
            scene.layer(layer_id)
        others = [one.name for one in scene.layers if one.id not in ids]
        taken = list(others)
        names: dict[str, str] = {}
        for number, layer_id in enumerate(ids, 1):
            wanted = self.name.replace(MARK, str(number))
            names[layer_id] = free_among(taken, wanted) if MARK not in self.name else wanted[:MOST_NAME].strip()
            taken.append(names[layer_id])
        counts = [one.name for one in scene.layers]
        read = {
            old: names[layer_id] for layer_id in ids if counts.count(old := scene.layer(layer_id).name) == 1
        }  # fmt: skip
        renamed = tuple(
            one.model_copy(update={"name": names[one.id]}) if one.id in names else one for one in scene.layers
        )
        return scene.with_layers(tuple(reading(one, read) for one in renamed))

    def words(self, scene: Scene) -> str:
        return f"Renamed {names_of(scene, self.layers)} to {self.name}"


class ReplaceWords(Edit):
    """Put other words in the place of some, wherever they stand in the texts of layers; as typed, or with `any_case`
    whether capital or small."""

    takes_items: ClassVar[bool] = False

    edit: Literal["replace_words"] = "replace_words"
    layers: Ids
    find: Annotated[str, Field(strict=True, min_length=1, max_length=1_000)]
    to: Annotated[str, Field(strict=True, max_length=1_000)]
    any_case: Flag = False

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        count = 0
        for layer_id in dict.fromkeys(self.layers):
            text = getattr(scene.layer(layer_id).content, "text", None)
            if not isinstance(text, str):
                continue
            made, here = _replaced(text, self.find, self.to, self.any_case)
            count += here
            if here:
                scene = SetContent(layer=layer_id, path="text", value=made).apply(scene, context)
        if not count:
            short = self.find if len(self.find) <= 40 else f"{self.find[:40]}…"
            raise Refused(f"No text of these layers has “{short}”.", where="find", mend="Nothing was changed.")
        return scene

    def words(self, scene: Scene) -> str:
        return f"Replaced “{self.find[:20]}” with “{self.to[:20]}” in {names_of(scene, self.layers)}"


def _replaced(text: str, find: str, to: str, any_case: bool) -> tuple[str, int]:
    """The text with other words, and how often they stood there.

    >>> _replaced("Low tide, low light", "LOW", "High", True)
    ('High tide, High light', 2)
    """
    if not any_case:
        return text.replace(find, to), text.count(find)
    pattern = re.compile(re.escape(find), re.IGNORECASE)
    return pattern.subn(lambda _: to, text)


class SetSpans(Edit):
    """Set when several layers begin, or for how long they are there, as it is typed: a time is that of all, and `+12`
    or `-1:00` goes on from each one's own."""

    takes_items: ClassVar[bool] = False

    edit: Literal["set_spans"] = "set_spans"
    layers: Ids
    start: Typed | None = None
    length: Typed | None = None

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        if self.start is None and self.length is None:
            raise Refused("Neither a start nor a length is given.", where="start")
        try:
            return self._set(scene, context)
        except ValidationError as error:
            raise refusal_of(error, "Span") from None

    def _set(self, scene: Scene, context: EditContext) -> Scene:
        for layer_id in dict.fromkeys(self.layers):
            span = scene.layer(layer_id).span
            if self.start is not None:
                to = round(typed_time(self.start, scene.frame_rate, span.start))
                scene = MoveSpan(layer=layer_id, start=to).apply(scene, context) if to != span.start else scene
            if self.length is not None:
                span = scene.layer(layer_id).span
                long = round(typed_time(self.length, scene.frame_rate, span.length))
                if long < 1:
                    raise Refused(
                        f"'{scene.layer(layer_id).name}' would be there for {long} frames.", where="length",
                        mend="A layer is there for one frame at least.",
                    )  # fmt: skip
                scene = TrimSpan(layer=layer_id, start=span.start, length=long).apply(scene, context)
        return scene

    def words(self, scene: Scene) -> str:
        what = "start" if self.length is None else "length" if self.start is None else "start and length"
        return f"Set the {what} of {names_of(scene, self.layers)}"
