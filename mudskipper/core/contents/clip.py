"""A clip of the project."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from ..draw.pen import Pen
from ..geometry.bezier import Floats
from ..ground.base_model import MediaName
from ..ground.errors import Refused
from ..ground.shown import Shown
from .assets import Assets
from .base import Around, Values
from .heard import HeardContent


class ClipContent(HeardContent):
    """A clip of the project. The origin is its top left corner."""

    can_cover: ClassVar[bool] = True
    has_pixels: ClassVar[bool] = True

    kind: Literal["clip"] = "clip"
    asset: Annotated[MediaName, Shown("Clip")]

    @property
    def default_name(self) -> str:
        return "Clip"

    def find_media(self, assets: Assets) -> None:
        if not assets.clip(self.asset).width:
            raise Refused("This is a sound, and has no picture.", where="content.asset", mend="Add it as a sound.")

    def box(self, values: Values, around: Around) -> Floats:
        info = around.clip(self.asset)
        return np.array([[0.0, 0.0, info.width, info.height]])

    def draw(self, pen: Pen, values: Values, around: Around) -> None:
        pen.image(self.asset, self.box(values, around), self.shown_frames(values, around))
