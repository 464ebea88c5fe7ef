"""What can be wrong with the store: things that are gone, a disk that refuses to be written, a database that is held by
another program or damaged."""

from __future__ import annotations

import errno
import os
import shutil
import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path

from peewee import PeeweeException

from ..core.ground.errors import Refused

DATABASE = "mudskipper.sqlite3"
"""The name of the database in its folder."""


class Gone(Refused):
    """A project, scene, picture or job that is not there."""


class Full(Refused):
    """There is no room left to write."""

    def __init__(self) -> None:
        super().__init__(
            "The disk is full. Nothing was lost, and nothing was changed.", mend="Make room, then try again."
        )


class FileTooLarge(Refused):
    """A file would be larger than the file system, or what this process may write, allows."""

    def __init__(self) -> None:
        super().__init__(
            "A file would be larger than the disk's file system takes. Nothing was changed.",
            mend="Use a smaller file, or a data folder on another disk.",
        )


class Unwritable(Refused):
    """The data folder cannot be written, though there is room on its disk."""

    def __init__(self, folder: Path, fault: str) -> None:
        super().__init__(
            f"The data folder {folder} cannot be written ({fault}). Nothing was changed.",
            mend="Check the disk and the folder's permissions, then try again.",
        )


class Busy(Refused):
    """Another program holds the database."""

    def __init__(self) -> None:
        super().__init__(
            "Another program holds the database, such as a backup of the whole disk. Nothing was changed.",
            mend="Wait until it has ended, then try again.",
        )


class Damaged(Refused):
    """The database cannot be read."""

    def __init__(self, folder: Path, fault: str) -> None:
        path = folder / DATABASE
        try:
            when = datetime.fromtimestamp(path.stat().st_mtime, UTC).strftime(
                " It was last written %Y-%m-%d %H:%M UTC."
            )
        except OSError:
            when = ""
        super().__init__(
            f"The database {path} is damaged ({fault}).{when} Nothing was changed.",
            mend="Stop the server, keep the folder as it is, and start on the last backup; "
            "mudskipper rescue saves what can still be read.",
        )


ROOM = 1_000_000
"""With fewer free bytes than this, a failed write is put down to the lack of room."""
DAMAGE = ("malformed", "not a database", "no such table", "no such column", "unsupported file format", "disk image")
UNWRITTEN = ("disk I/O error", "unable to open database file", "readonly database")


def fault_of(folder: Path, error: BaseException) -> Refused | None:
    """What a fault of the data folder's disk or database is, in words; None for any other."""
    if isinstance(error, OSError):
        if error.errno in (errno.ENOSPC, errno.EDQUOT):
            return Full()
        if error.errno == errno.EFBIG:
            return FileTooLarge()
        if error.errno in (errno.EACCES, errno.EPERM, errno.EROFS, errno.EIO):
            return Unwritable(folder, os.strerror(error.errno))
        return None
    if not isinstance(error, PeeweeException | sqlite3.Error):
        return None
    # SQLite rolls a transaction that finds no room back by itself, and the rollback that follows finds none: the first
    # fault is further down. Some of its messages do not tell a full disk from a broken one.
    chain: list[str] = []
    fault: BaseException | None = error
    while fault is not None:
        chain.append(str(fault))
        fault = fault.__context__
    if any("disk is full" in text for text in chain):
        return Full()
    for sign in UNWRITTEN:
        if any(sign in text for text in chain):
            return Full() if shutil.disk_usage(folder).free < ROOM else Unwritable(folder, sign)
    if any("locked" in text or "busy" in text for text in chain):
        return Busy()
    for text in chain:
        if any(sign in text for sign in DAMAGE):
            return Damaged(folder, text)
    return None


@contextmanager
def disk_faults(folder: Path) -> Iterator[None]:
    """Raise what the disk or the database of the data folder refuses in words: see `fault_of`."""
    try:
        yield
    except (OSError, PeeweeException, sqlite3.Error) as error:
        told = fault_of(folder, error)
        if told is None:
            raise
        raise told from None
