"""Animation JSON as scenes; the standard is cited in `export.web.animation_json`."""

from .document import ReadAnimation, read_animation

__all__ = ["ReadAnimation", "read_animation"]
