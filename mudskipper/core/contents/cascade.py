"""A cascade: the units of a content, such as the letters of a text, moved one after another."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, ClassVar, Literal, TypeVar

from pydantic import AfterValidator, Field, StringConstraints, model_validator

from ..easings.batch import Ease
from ..ground.base_model import MOST_NAME, Flag, Model, Number, Pair, Whole
from ..ground.shown import Shown
from ..shapes.gradient import Paint
from ..text.units import stretches_of
from ..text.written import shifted
from ..tracks.kinds import NumberTrack, PairTrack
from .font_axes import FontAxis, axes_once
from .text_parts import PartName

Unit = Literal["letter", "word", "line", "whole", "item"]
Order = Literal["forward", "back", "from the middle", "from the ends", "random", "by distance", "each line"]
Anchor = Literal[
    "top left", "top", "top right", "left", "centre", "right", "bottom left", "bottom", "bottom right",
    "baseline left", "baseline", "baseline right",
]  # fmt: skip
MOST_CASCADES = 20
MOST_FRAMES = 1_000_000


class Choice(Model):
    """Which units take part: those that begin with the letters from `start` to `stop` (not included), counted without
    spaces, over so many letters at both ends more and more of it, along a curve; or the units `picked`, by their
    numbers as they are read; or those that begin in the `part` of the text that is called so."""

    start: Annotated[Whole, Field(ge=0, le=5_000)] = 0
    stop: Annotated[Whole | None, Field(ge=0, le=5_000)] = None
    soft_start: Annotated[Number, Field(ge=0, le=5_000)] = 0.0
    soft_stop: Annotated[Number, Field(ge=0, le=5_000)] = 0.0
    curve: Ease = "ease-in-out"
    part: PartName | None = None
    picked: Annotated[tuple[Annotated[Whole, Field(ge=0, le=5_000)], ...] | None, Field(max_length=5_000)] = None

    def in_words(self, unit: str, before: str, after: str) -> Choice:
        """As it stays on its letters in a text that was made of another by typing in one place."""
        if self.part is not None or (self.picked is not None and unit not in ("letter", "word")):
            return self
        old, new = (stretches_of(text, unit if self.picked is not None else "letter") for text in (before, after))
        if self.picked is not None:
            places = shifted([old[number] for number in self.picked if number < len(old)], before, after)
            kept = (
                i for i, (low, high) in enumerate(new) if any(low < stop and start < high for start, stop in places)
            )
            return self.model_copy(update={"picked": tuple(kept)})
        begins = self.start < len(old)
        ends = self.stop is not None and 0 < self.stop <= len(old)
        first = old[self.start][0] if begins else len(before)
        last = old[self.stop - 1][1] if ends and self.stop else len(before)
        ((first, last),) = shifted([(first, max(last, first))], before, after)
        update: dict[str, int] = {}
        if begins and self.start:
            update["start"] = sum(low < first for low, _ in new)
        if ends:
            update["stop"] = sum(low < last for low, _ in new)
        return self.model_copy(update=update)


class Cascade(Model):
    """Units that are moved in turn: `in` from some values to rest, `out` from rest to them, `through` them and back.

    The first begins `start` frames after its layer, and each takes `each` frames; `amount` says how they follow one
    another, as `spread` tells: by the frames from one to the next (`stagger`), by how many move at once (`overlap`), or
    by how many frames all of them take (`total`). `ease` rules each unit's move, `over` when each of them begins. What
    would go past rest, or past the values, stops there unless `past`.

    What they are moved from or to: `offset` in pixels or in percent of a unit's size, `scale` in percent, turns about
    x, y and z in degrees seen from a `distance` in pixels, `skew`, `opacity`, and the rest; None is as at rest. Units
    are scaled and turned about their `anchor`, moved by `shift` pixels from there, or that of the word, the line or
    the whole that they are of, or about a `point` of the content's own pixels.
    """

    noun: ClassVar[str] = "cascade"
    told_first: ClassVar[bool] = False

    name: Annotated[str, StringConstraints(strict=True, strip_whitespace=True, max_length=MOST_NAME)] = ""
    on: Flag = True
    unit: Unit = "letter"
    way: Literal["in", "out", "through"] = "in"
    start: Annotated[Number, Field(ge=-MOST_FRAMES, le=MOST_FRAMES)] = 0.0
    each: Annotated[Number, Field(ge=0, le=MOST_FRAMES)] = 12.0
    spread: Literal["stagger", "overlap", "total"] = "stagger"
    amount: Annotated[Number, Field(ge=0, le=MOST_FRAMES)] = 2.0
    order: Order = "forward"
    seed: Annotated[Whole, Field(ge=0, le=1_000_000)] = 1
    ease: Ease = "ease-out"
    over: Ease = "linear"
    past: Flag = False
    anchor: Anchor = "centre"
    shift: Pair = (0.0, 0.0)
    about: Literal["unit", "word", "line", "whole", "point"] = "unit"
    point: Pair = (0.0, 0.0)
    """Where they fly out of, and from where `by distance` counts."""
    choice: Choice | None = None

    offset: Annotated[PairTrack | None, Shown("Offset", "", ("x", "y"), what="an offset")] = None
    offset_in: Literal["px", "%"] = "px"
    scale: Annotated[PairTrack | None, Shown("Unit scale", "%", ("x", "y"), linked=True, what="a scale in percent")] = (
        None
    )
    turn_x: Annotated[NumberTrack | None, Shown("Turn about x", "°")] = None
    turn_y: Annotated[NumberTrack | None, Shown("Turn about y", "°")] = None
    turn_z: Annotated[NumberTrack | None, Shown("Turn about z", "°")] = None
    distance: Annotated[
        NumberTrack | None, Shown("Distance", "px", low=1, high=1_000_000, what="a distance in pixels")
    ] = None
    skew: Annotated[NumberTrack | None, Shown("Skew", "°", low=-89, high=89, what="a skew in degrees")] = None
    opacity: Annotated[
        NumberTrack | None, Shown("Unit opacity", "%", low=0, high=100, what="an opacity in percent")
    ] = None
    fill: Annotated[Paint | None, Shown("Unit colour")] = None
    blur: Annotated[NumberTrack | None, Shown("Unit blur", "px", low=0, high=1_000, what="a blur in pixels")] = None
    tracking: Annotated[
        NumberTrack | None,
        Shown("Unit tracking", "‰ em", low=-1_000, high=10_000, what="tracking in thousandths of the text size"),
    ] = None
    stroke_width: Annotated[
        NumberTrack | None, Shown("Unit line width", "px", low=0, high=10_000, what="a stroke width in pixels")
    ] = None
    part: Annotated[NumberTrack | None, Shown("Unit part to", "%", low=0, high=100, what="a part in percent")] = None
    axes: Annotated[tuple[FontAxis, ...], Field(max_length=16), AfterValidator(axes_once), Shown("Unit axes")] = ()
    scatter: Annotated[Number, Field(ge=0, le=100)] = 0.0
    """By how many percent the offset and the turns of each unit are its own, at random: at 100 they go any way."""
    scramble: Flag = False
    """Whether letters are others until they have arrived."""
    caret: Flag = False
    """Whether a caret stands behind the last unit that has begun."""

    @property
    def stroke(self) -> None:
        """It has no stroke of its own."""
        return None

    @property
    def deep(self) -> bool:
        """Whether its units may be seen in perspective."""
        return self.on and self.distance is not None and (self.turn_x is not None or self.turn_y is not None)

    def in_time(self, moved: Callable[[float], float], ratio: float) -> Cascade:
        """At other frames, its lengths by a ratio."""
        amount = self.amount if self.spread == "overlap" else self.amount * ratio
        update = {"start": moved(self.start), "each": self.each * ratio, "amount": amount}
        return self.model_copy(update=update)

    @model_validator(mode="after")
    def _overlaps(self) -> Cascade:
        if self.spread == "overlap" and self.amount < 0.01:
            raise ValueError("how many units move at once must be at least 0.01")
        return self


C = TypeVar("C", bound=Model)


def in_time(content: C, moved: Callable[[float], float], ratio: float) -> C:
    """A content with its cascades at other frames, their lengths by a ratio."""
    cascades: tuple[Cascade, ...] = getattr(content, "cascades", ())
    if not cascades:
        return content
    return content.model_copy(update={"cascades": tuple(one.in_time(moved, ratio) for one in cascades)})
