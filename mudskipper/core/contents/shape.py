"""Shapes."""

from __future__ import annotations

from fractions import Fraction
from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field, field_validator, model_validator

from ..draw.pen import Pen
from ..geometry.bezier import Floats
from ..geometry.values import within
from ..ground.numbered import numbered
from ..ground.shown import Shown
from ..shapes.base import ShapeItem
from ..shapes.group import MOST_ITEMS, AnyItem
from ..shapes.several import FRAMES, box_of, count_of, depth_of, draw_all, grown_in, unit_boxes
from .base import Around, Content, Painted, Values
from .cascade import MOST_CASCADES, Cascade, in_time
from .cascade_units import UnitsOf
from .item_cascades import draw_units, set_out_items, units_moved

MOST_LEVELS = 16


class ShapeContent(Content):
    """Shapes and groups of them, the first at the back."""

    can_cover: ClassVar[bool] = True

    kind: Literal["shape"] = "shape"
    items: Annotated[tuple[AnyItem, ...], Field(min_length=1, max_length=MOST_ITEMS)]
    cascades: Annotated[tuple[Cascade, ...], Field(max_length=MOST_CASCADES), Shown("Cascades")] = ()
    """Its items moved one after another, or the copies of the only one that it has."""

    _numbered = field_validator("items")(numbered)

    @model_validator(mode="after")
    def _not_too_many(self) -> ShapeContent:
        if (levels := depth_of(self.items)) > MOST_LEVELS:
            raise ValueError(f"groups stand at most {MOST_LEVELS - 1} deep, and there are {levels - 1}")
        if (count := count_of(self.items)) > MOST_ITEMS:
            raise ValueError(f"a layer holds at most {MOST_ITEMS:,} shapes, and there are {count:,}")
        return self

    @property
    def default_name(self) -> str:
        return self.items[0].name or str(self.items[0].label).capitalize()

    @property
    def grown(self) -> tuple[str, ...]:
        return grown_in(self.items) or ()

    def painted(self, part: int | None) -> tuple[Painted, str] | None:
        one = self.items[0]
        single = len(self.items) == 1 and isinstance(one, ShapeItem) and one.transform is None
        return (one, "items.0.") if single and part is None else None

    def outline(self, values: Values) -> tuple[str, Floats] | None:
        one = self.items[0]
        single = len(self.items) == 1 and isinstance(one, ShapeItem) and one.transform is None
        return one.plain_outline(within(values, "items.0.")) if single and isinstance(one, ShapeItem) else None

    def box(self, values: Values, around: Around) -> Floats:
        return box_of(self.items, values)

    def set_out(self, values: Values, around: Around) -> tuple[UnitsOf, tuple[Cascade, ...]] | None:
        return set_out_items(unit_boxes(self.items, values), self.cascades) if self.cascades else None

    def draw(self, pen: Pen, values: Values, around: Around) -> None:
        letters = self.set_out(values, around)
        values = {**values, FRAMES: around.local[:, None]}
        if letters is None:
            draw_all(self.items, pen, values)
            return
        deep = any(one.deep for one in self.cascades)
        draw_units(
            pen, units_moved(letters, values, around), letters[0]("item"), deep, True,
            lambda on, laid: draw_all(self.items, on, values, laid),
        )  # fmt: skip

    def shifted(self, by: float, fps: float) -> Self:
        return in_time(self, lambda frame: frame + by, 1.0)

    def at_rate(self, old_start: int, start: int, old: Fraction, rate: Fraction) -> Self:
        ratio = float(rate / old)
        return in_time(self, lambda frame: (frame + old_start) * ratio - start, ratio)
