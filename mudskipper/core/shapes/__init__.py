"""The kinds of shape; a new one is a file of its own and a line here."""

from ..ground.kinds import Kinds
from .arrow import Arrow
from .base import Item, ItemTransform, ShapeItem, SizedItem
from .ellipse import Ellipse
from .gradient import Gradient
from .group import Group
from .line import Line
from .path import Contour, PathShape
from .polygon import Polygon
from .rectangle import Rectangle
from .star import Star
from .sunburst import Sunburst

SHAPES: Kinds[type[ShapeItem]] = Kinds(
    "mudskipper.shapes", Rectangle, Ellipse, Polygon, Star, Sunburst, Line, Arrow, PathShape
)

__all__ = [
    "SHAPES", "Arrow", "Contour", "Ellipse", "Gradient", "Group", "Item", "ItemTransform", "Line", "PathShape",
    "Polygon", "Rectangle", "ShapeItem", "SizedItem", "Star", "Sunburst",
]  # fmt: skip
