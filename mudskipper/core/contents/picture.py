"""A picture of the project."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from ..assets import Assets
from ..bezier import Floats
from ..draw.pen import Pen
from ..model import Id
from ..shown import Shown
from .base import Content, Values


class PictureContent(Content):
    """A picture of the project. The origin is its top left corner."""

    can_cover: ClassVar[bool] = True

    kind: Literal["picture"] = "picture"
    asset: Annotated[Id, Shown("Picture")]

    @property
    def default_name(self) -> str:
        return "Picture"

    @property
    def pictures(self) -> tuple[str, ...]:
        return (self.asset,)

    def box(self, values: Values, assets: Assets) -> Floats:
        info = assets.picture(self.asset)
        return np.array([[0.0, 0.0, info.width, info.height]])

    def draw(self, pen: Pen, values: Values, assets: Assets) -> None:
        pen.image(self.asset, self.box(values, assets))
