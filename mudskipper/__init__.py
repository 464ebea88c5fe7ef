"""Mudskipper: anchor points, keyframes and easing for titles, lower thirds and edited clips."""

__version__ = "0.1.0"
