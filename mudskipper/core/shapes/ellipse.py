"""An ellipse."""

from __future__ import annotations

from typing import ClassVar, Literal

from ..bezier import Floats
from ..draw.outlines import rounded
from .base import ShapeItem, Values


class Ellipse(ShapeItem):
    """An ellipse that fills its size."""

    label: ClassVar[str] = "ellipse"

    shape: Literal["ellipse"] = "ellipse"

    def outline(self, values: Values) -> tuple[str, Floats]:
        box = self.box(values)
        return rounded(box, box[:, 2:3] / 2, box[:, 3:4] / 2)
