"""Whether a data folder holds: its database, every document in it, every file that is named there."""

from __future__ import annotations

import sqlite3
import zlib
from collections.abc import Iterator
from pathlib import Path

from ..core.document.read import read_scene
from ..core.ground.errors import Refused
from ..media.digests import digest_of
from .faults import DATABASE
from .media_rows import media_rows
from .packing import unpacked


def opened(folder: Path) -> sqlite3.Connection:
    """The database of a folder, to be read alone; Refused where there is none. A server may run on it."""
    path = folder / DATABASE
    if not path.is_file():
        raise Refused("There is no data of Mudskipper.", where=str(folder), mend="Name its folder with --data.")
    return sqlite3.connect(f"{path.resolve().as_uri()}?mode=ro", uri=True, timeout=10)


def faults_in(folder: Path) -> Iterator[str]:
    """What is wrong in a data folder, in words; nothing where it holds."""
    try:
        database = opened(folder)
    except sqlite3.Error as error:
        yield f"The database {folder / DATABASE} cannot be opened: {error}."
        return
    try:
        wrong = [text for (text,) in database.execute("PRAGMA integrity_check(20)")]
        if wrong != ["ok"]:
            yield from (f"The database {folder / DATABASE} is damaged: {text}." for text in wrong)
        for table, row, parent, _ in database.execute("PRAGMA foreign_key_check"):
            yield f"Row {row} of {table} belongs to a {parent} that is not there."
        yield from _documents(database)
        yield from _media(database, folder / "media")
    except sqlite3.Error as error:
        yield f"The database {folder / DATABASE} cannot be read to its end: {error}."
    finally:
        database.close()


def _documents(database: sqlite3.Connection) -> Iterator[str]:
    """What is wrong with the documents, of every revision of every scene."""
    for scene, name, head in database.execute("SELECT id, name, head FROM scene").fetchall():
        numbers = [n for (n,) in database.execute("SELECT id FROM revision WHERE scene_id = ? ORDER BY id", (scene,))]
        if head not in numbers:
            yield f"'{name}' stands at step {head}, which is not there."
        for number in numbers:
            row = database.execute("SELECT body FROM document WHERE revision = ?", (number,)).fetchone()
            which = f"Step {number} of '{name}'" + (", where it stands now," if number == head else "")
            if row is None:
                yield f"{which} has no document."
                continue
            try:
                read_scene(unpacked(row[0]))
            except (Refused, zlib.error) as error:
                yield f"{which} cannot be read: {error}"


def _media(database: sqlite3.Connection, folder: Path) -> Iterator[str]:
    for one in media_rows(database):
        path = folder / one.file
        if not path.is_file():
            yield f"The file of '{one.name}' is missing: {path}."
        elif one.digest is not None and digest_of(path) != one.digest:
            yield f"The file of '{one.name}' is not what was taken in: {path}."
