"""Where the files of a project's media are."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from pathlib import Path

from .clips import ClipFile
from .digests import digest_of
from .fonts import OwnFace


@dataclass(frozen=True)
class MediaFiles:
    """On this machine: the PNG file of each picture, and the files of each clip, by their ids; the folder of the
    clips' samples."""

    pictures: Mapping[str, str] = field(default_factory=dict)
    clips: Mapping[str, ClipFile] = field(default_factory=dict)
    sounds: str = ""
    digests: Mapping[str, str] = field(default_factory=dict)
    """The digests of pictures, where they are known; else they are taken of the files."""
    fonts: Sequence[OwnFace] = ()
    """The faces of fonts of its own."""
    names: Mapping[str, str] = field(default_factory=dict)
    """What the files of pictures and clips were called where they came from."""

    def with_more(self, other: MediaFiles) -> MediaFiles:
        """With the pictures and clips of others beside its own."""
        return replace(
            self, pictures={**self.pictures, **other.pictures}, clips={**self.clips, **other.clips},
            sounds=self.sounds or other.sounds, digests={**self.digests, **other.digests},
            names={**self.names, **other.names},
        )  # fmt: skip

    def digest(self, picture: str) -> str:
        """The SHA-256 of a picture's file, by which it is known on every machine."""
        return self.digests.get(picture) or digest_of(Path(self.pictures[picture]))
