"""The kinds of content; a new one is a file of its own and a line here."""

from .base import Content
from .carrier import CarrierContent
from .clip import ClipContent
from .picture import PictureContent
from .scene import SceneContent
from .shape import ShapeContent
from .sound import SoundContent
from .text import TextContent
from .timed import TimedContent

CONTENTS: list[type[Content]] = [
    ShapeContent, TextContent, PictureContent, ClipContent, SoundContent, SceneContent, CarrierContent,
]  # fmt: skip
"""A content from outside is added to this list before the document is imported."""

__all__ = [
    "CONTENTS",
    "CarrierContent",
    "ClipContent",
    "Content",
    "PictureContent",
    "SceneContent",
    "ShapeContent",
    "SoundContent",
    "TextContent",
    "TimedContent",
]  # fmt: skip
