"""Edits of some letters of a text: set otherwise than the rest, or like it again."""

from __future__ import annotations

from itertools import pairwise
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field

from ..contents.text_parts import MOST_PARTS, TextPart
from ..document.properties import with_part
from ..document.scene import Scene
from ..ground.base_model import Whole, WholeLayer
from ..ground.errors import Refused
from ..text.clusters import clusters
from .base import Edit, EditContext, name_of, unlocked

OWN = frozenset(TextPart.model_fields) - {"start", "stop"}
TOLD = 20
"""Letters of a part that are told in the history."""


class SetLetters(Edit):
    """Set the letters (code points) from `start` to `stop` (not included) of a text otherwise than the rest: `to` are
    fields of a part of a text, in which None is as in the rest. Without any they are as the rest again. A letter that
    is written of several code points goes along as a whole."""

    takes_items: ClassVar[bool] = False
    shifts_parts: ClassVar[bool] = True

    edit: Literal["set_letters"] = "set_letters"
    layer: WholeLayer
    start: Annotated[Whole, Field(ge=0, le=5_000)]
    stop: Annotated[Whole, Field(ge=0, le=5_000)]
    to: Annotated[dict[str, Any], Field(max_length=20), Field(default_factory=dict)]

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        text, parts = layer.content.words, layer.content.text_parts
        if text is None or parts is None:
            raise Refused(f"'{layer.name}' is no text.", where="layer", mend="Choose a text.")
        wrong = next((name for name in self.to if name not in OWN), None)
        if wrong is not None:
            raise Refused(f"Letters have no {wrong!r}.", where="to", mend=f"They have {', '.join(sorted(OWN))}.")
        start, stop = self._letters(text)
        if stop <= start:
            raise Refused("No letter was chosen.", where="stop", mend="Choose some letters first.")
        changed = with_part(layer, "content.parts", tuple(self._parts(text, parts, start, stop)))
        return scene.with_layer(changed)

    def _letters(self, text: str) -> tuple[int, int]:
        """The letters that are meant, those that are written of several code points whole."""
        touched = [end for end in clusters(text) if end[0] < self.stop and end[1] > self.start]
        return (touched[0][0], touched[-1][1]) if touched else (0, 0)

    def _parts(self, text: str, parts: tuple[TextPart, ...], start: int, stop: int) -> list[dict[str, Any]]:
        """The parts of the text afterwards, none over another, in the order of their letters."""
        found: list[dict[str, Any]] = []
        for begin, end, part in flat(parts, len(text)):
            own = {} if part is None else fields_of(part)
            for low, high, inside in (
                (begin, min(end, start), False),
                (max(begin, start), min(end, stop), True),
                (max(begin, stop), end, False),
            ):
                if high <= low:
                    continue
                fields = ({**own, **self.to} if self.to else {}) if inside else own
                fields = {name: value for name, value in fields.items() if value is not None and value is not False}
                if not fields:
                    continue
                last = found[-1] if found else None
                if (
                    last
                    and last["stop"] == low
                    and {**last, "start": 0, "stop": 0} == {**fields, "start": 0, "stop": 0}
                ):
                    last["stop"] = high
                else:
                    found.append({**fields, "start": low, "stop": high})
        if len(found) > MOST_PARTS:
            raise Refused(f"A text has at most {MOST_PARTS} parts.", where="stop", mend="Set more letters alike.")
        return found

    def words(self, scene: Scene) -> str:
        layer = scene.layer(self.layer) if self.layer in scene.places else None
        letters = (layer.content.words or "")[self.start : self.stop] if layer else ""
        short = letters if len(letters) <= TOLD else f"{letters[: TOLD - 1]}…"
        what = " and ".join(sorted(self.to)) if self.to else ""
        said = f"Set {what} of" if what else "Set as the rest"
        return f"{said} “{short}” in {name_of(scene, self.layer)}".replace("\n", " ")

    def target(self) -> tuple[object, ...]:
        return self.layer, self.start, self.stop, tuple(sorted(self.to))


def flat(parts: tuple[TextPart, ...], count: int) -> list[tuple[int, int, TextPart | None]]:
    """Stretches of `count` letters from the first to the last, each with the part that holds there."""
    edges = sorted({0, count, *(min(end, count) for part in parts for end in (part.start, part.stop))})
    return [
        (low, high, next((part for part in reversed(parts) if part.start <= low and high <= part.stop), None))
        for low, high in pairwise(edges)
    ]


def fields_of(part: TextPart) -> dict[str, Any]:
    """What a part sets, by the names of its fields."""
    return {name: getattr(part, name) for name in OWN if getattr(part, name) not in (None, False)}
