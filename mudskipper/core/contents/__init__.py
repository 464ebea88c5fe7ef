"""The kinds of content; a new one is a file of its own and a line here."""

from ..ground.kinds import Kinds
from .base import Content
from .carrier import CarrierContent
from .clip import ClipContent
from .filter import FilterContent
from .picture import PictureContent
from .scene import SceneContent
from .shape import ShapeContent
from .sound import SoundContent
from .text import TextContent
from .timed import TimedContent

CONTENTS: Kinds[type[Content]] = Kinds(
    "mudskipper.contents", ShapeContent, TextContent, PictureContent, ClipContent, SoundContent, SceneContent,
    CarrierContent, FilterContent,
)  # fmt: skip

__all__ = [
    "CONTENTS",
    "CarrierContent",
    "ClipContent",
    "Content",
    "FilterContent",
    "PictureContent",
    "SceneContent",
    "ShapeContent",
    "SoundContent",
    "TextContent",
    "TimedContent",
]  # fmt: skip
