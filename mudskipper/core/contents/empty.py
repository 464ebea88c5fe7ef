"""Nothing: a mark that other layers are carried by."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..bezier import Floats
from ..draw.pen import Pen
from .base import Around, Content, Values


class EmptyContent(Content):
    """No picture, only a place: its anchor is the origin. Other layers may be carried by it."""

    shows: ClassVar[bool] = False

    kind: Literal["empty"] = "empty"

    @property
    def default_name(self) -> str:
        return "Empty"

    def box(self, values: Values, around: Around) -> Floats:
        return np.zeros((1, 4))

    def draw(self, pen: Pen, values: Values, around: Around) -> None:
        pass
