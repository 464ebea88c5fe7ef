"""Mudskipper: anchor points, keyframes and easing for titles, lower thirds and edited clips."""

from .earlier_names import known

__version__ = "0.1.0"
known()
