"""No picture of its own, but effects on all that lies below."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..draw.pen import Pen
from ..geometry.bezier import Floats
from .base import Around, Content, Values


class FilterContent(Content):
    """A filter: the effects of its layer run on all that lies below it in its scene, within its masks, as strongly as
    its opacity says. Its box is that of the scene."""

    filters: ClassVar[bool] = True

    kind: Literal["filter"] = "filter"

    @property
    def default_name(self) -> str:
        return "Filter"

    def box(self, values: Values, around: Around) -> Floats:
        wide, high = around.size
        return np.array([[0.0, 0.0, float(wide), float(high)]])

    def draw(self, pen: Pen, values: Values, around: Around) -> None:
        pen.below(self.box(values, around))
