"""What can still be read of a damaged data folder, as files: scenes in their newest readable state, and media."""

from __future__ import annotations

import re
import shutil
import sqlite3
import zlib
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path

from ..core.document.read import read_scene
from ..core.document.scene import Scene
from ..core.ground.errors import Refused
from .check_data import opened
from .faults import disk_faults
from .packing import unpacked

MISSED = 20_000
"""So many numbers without a document, one after another, are the end of them."""


def rescue(data: Path, folder: Path) -> tuple[int, int]:
    """Write the newest state that can be read of each scene, and all media, into an empty folder: the number of scenes
    and of media files. Nothing in the data folder is changed."""
    if folder.exists() and any(folder.iterdir()):
        raise Refused("This folder holds other things.", where=str(folder), mend="Name an empty one.")
    with disk_faults(folder if folder.exists() else data):
        (folder / "media").mkdir(parents=True, exist_ok=True)
        newest: dict[str, Scene] = {}
        with suppress(sqlite3.Error):
            database = opened(data)
            for body in _bodies(database):
                with suppress(Refused, zlib.error, TypeError):
                    scene = read_scene(unpacked(body))
                    newest[scene.id] = scene
            database.close()
        for scene in newest.values():
            plain = re.sub(r"[^\w -]+", "_", scene.name).strip()[:60] or "Scene"
            (folder / f"{plain} {scene.id}.json").write_text(scene.to_json() + "\n")
        count = 0
        for file in sorted((data / "media").glob("*")):
            if file.is_file() and not file.name.endswith(".part"):
                shutil.copyfile(file, folder / "media" / file.name)
                count += 1
    return len(newest), count


def _bodies(database: sqlite3.Connection) -> Iterator[bytes]:
    """Every document that can be read, oldest first: each asked for by itself, since a walk ends at the first fault."""
    number = missed = 0
    while missed < MISSED:
        number, missed = number + 1, missed + 1
        with suppress(sqlite3.Error):
            row = database.execute("SELECT body FROM document WHERE revision = ?", (number,)).fetchone()
            if row is not None:
                missed = 0
                yield row[0]
