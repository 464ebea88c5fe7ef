"""The digest by which a file is known, whatever it is called."""

from __future__ import annotations

import hashlib
from pathlib import Path

PIECE = 2**20


def digest_of(path: Path, more: str = "") -> str:
    """The SHA-256 of a text and a file, in hexadecimal digits."""
    found = hashlib.sha256(more.encode())
    with path.open("rb") as file:
        while piece := file.read(PIECE):
            found.update(piece)
    return found.hexdigest()
