"""A picture of the project."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from ..draw.pen import Pen
from ..geometry.bezier import Floats
from ..ground.base_model import MediaName
from ..ground.shown import Shown
from .base import Around, Content, Values


class PictureContent(Content):
    """A picture of the project. The origin is its top left corner."""

    can_cover: ClassVar[bool] = True
    has_pixels: ClassVar[bool] = True

    kind: Literal["picture"] = "picture"
    asset: Annotated[MediaName, Shown("Picture")]

    @property
    def default_name(self) -> str:
        return "Picture"

    @property
    def pictures(self) -> tuple[str, ...]:
        return (self.asset,)

    def box(self, values: Values, around: Around) -> Floats:
        info = around.picture(self.asset)
        return np.array([[0.0, 0.0, info.width, info.height]])

    def draw(self, pen: Pen, values: Values, around: Around) -> None:
        pen.image(self.asset, self.box(values, around))
