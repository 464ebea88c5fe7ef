"""The kinds of shape; a new one is a file of its own and a line here."""

from .arrow import Arrow
from .base import ShapeItem, SizedItem
from .ellipse import Ellipse
from .line import Line
from .polygon import Polygon
from .rectangle import Rectangle
from .star import Star
from .sunburst import Sunburst

SHAPES: list[type[ShapeItem]] = [Rectangle, Ellipse, Polygon, Star, Sunburst, Line, Arrow]
"""A shape from outside is added to this list before the document is imported."""

__all__ = [
    "SHAPES", "Arrow", "Ellipse", "Line", "Polygon", "Rectangle", "ShapeItem", "SizedItem", "Star", "Sunburst",
]  # fmt: skip
