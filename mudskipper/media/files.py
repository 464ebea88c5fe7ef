"""Where the files of a project's media are."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from .clips import ClipFile


@dataclass(frozen=True)
class MediaFiles:
    """The PNG file of each picture, and the files of each clip, by their ids; and the folder of the clips' samples."""

    pictures: Mapping[str, str] = field(default_factory=dict)
    clips: Mapping[str, ClipFile] = field(default_factory=dict)
    sounds: str = ""
