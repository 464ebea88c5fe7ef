"""Names of files."""

from __future__ import annotations

import re

MOST = 100


def file_name(name: str, most: int = MOST) -> str:
    """A name as that of a file on any machine, without an ending, of so many letters at `most`.

    >>> file_name("Ines / Bram: tide?")
    'Ines - Bram- tide'
    """
    return re.sub(r'[\x00-\x1f\x7f\\/:*?"<>|]+', "-", name).strip(" .-")[:most].rstrip(" .-") or "scene"
