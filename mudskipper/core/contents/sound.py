"""A sound of the project, heard and not seen."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from ..draw.pen import Pen
from ..geometry.bezier import Floats
from ..ground.base_model import MediaName
from ..ground.shown import Shown
from .base import Around, Values
from .heard import HeardContent


class SoundContent(HeardContent):
    """A sound of the project."""

    shows: ClassVar[bool] = False
    placed: ClassVar[bool] = False

    kind: Literal["sound"] = "sound"
    asset: Annotated[MediaName, Shown("Sound")]

    @property
    def default_name(self) -> str:
        return "Sound"

    def box(self, values: Values, around: Around) -> Floats:
        return np.zeros((1, 4))

    def draw(self, pen: Pen, values: Values, around: Around) -> None:
        """Nothing."""
