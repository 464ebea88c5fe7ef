"""The formats of files; a new one is a file of its own and a line here."""

from ...core.ground.kinds import Named
from ..film import Film
from .apng import AnimatedPNG
from .base import Format
from .gif import GIF
from .mp4 import MP4
from .png import PNG
from .sequence import PictureSequence
from .webm import WebM
from .webp import AnimatedWebP

FORMATS: Named[Format] = Named(
    "mudskipper.writers",
    {one.kind: one for one in (WebM(), MP4(), GIF(), AnimatedWebP(), AnimatedPNG(), PictureSequence(), PNG())},
)
"""By their kinds, in the order in which they are offered."""

__all__ = ["FORMATS", "Film", "Format"]
