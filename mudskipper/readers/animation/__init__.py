"""Animation JSON, by the published schema of the Lottie Animation Community, as scenes."""

from .document import ReadAnimation, read_animation

__all__ = ["ReadAnimation", "read_animation"]
