"""No picture, only a place that others go along with."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..draw.pen import Pen
from ..geometry.bezier import Floats
from .base import Around, Content, Values


class CarrierContent(Content):
    """No picture, only a place: its anchor is the origin of its pixels. It is there to carry other layers."""

    shows: ClassVar[bool] = False

    kind: Literal["carrier"] = "carrier"

    @property
    def default_name(self) -> str:
        return "Carrier"

    def box(self, values: Values, around: Around) -> Floats:
        return np.zeros((1, 4))

    def draw(self, pen: Pen, values: Values, around: Around) -> None:
        pass
