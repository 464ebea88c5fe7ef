"""The files that the rows of a database name, by their names in the media folder."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from dataclasses import dataclass


@dataclass(frozen=True)
class MediaFile:
    """A file of the media folder, what it is called on screen, and the digest of its content where that is its name."""

    file: str
    name: str
    digest: str | None


def media_rows(database: sqlite3.Connection) -> Iterator[MediaFile]:
    """Every file that a picture, a clip or a font needs, removed ones too, each once."""
    seen: set[str] = set()
    found: list[MediaFile] = []
    for name, digest in database.execute("SELECT name, digest FROM picture"):
        found.append(MediaFile(f"{digest}.png", name, digest))
    for name, digest, suffix in database.execute("SELECT name, digest, suffix FROM clip"):
        # What was made of a file is named by the digest of that file.
        found.append(MediaFile(f"{digest}{suffix}", name, None if suffix == ".mkv" else digest))
        found.append(MediaFile(f"{digest}.npy", f"time stamps of {name}", None))
    if database.execute("SELECT 1 FROM sqlite_master WHERE name = 'font'").fetchone():
        for name, digest in database.execute("SELECT name, digest FROM font"):
            found.append(MediaFile(f"{digest}.sfnt", name, digest))
    for one in found:
        if one.file not in seen:
            seen.add(one.file)
            yield one
