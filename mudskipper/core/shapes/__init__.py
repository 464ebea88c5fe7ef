"""The kinds of shape; a new one is a file of its own and a line here."""

from .base import ShapeItem
from .ellipse import Ellipse
from .polygon import Polygon
from .rectangle import Rectangle
from .star import Star

SHAPES: list[type[ShapeItem]] = [Rectangle, Ellipse, Polygon, Star]
"""A shape from outside is added to this list before the document is imported."""

__all__ = ["SHAPES", "Ellipse", "Polygon", "Rectangle", "ShapeItem", "Star"]
