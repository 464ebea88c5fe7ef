"""What can be wrong with the store: things that are gone, and a disk that refuses to be written."""

from __future__ import annotations

import errno
import os
import shutil
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from peewee import PeeweeException

from ..core.errors import Refused


class Gone(Refused):
    """A project, scene, picture or job that is not there."""


class Full(Refused):
    """There is no room left to write."""

    def __init__(self) -> None:
        super().__init__(
            "The disk is full. Nothing was lost, and nothing was changed.", mend="Make room, then try again."
        )


class Unwritable(Refused):
    """The data folder cannot be written, though there is room on its disk."""

    def __init__(self, folder: Path, fault: str) -> None:
        super().__init__(
            f"The data folder {folder} cannot be written ({fault}). Nothing was changed.",
            mend="Check the disk and the folder's permissions, then try again.",
        )


ROOM = 1_000_000
"""With fewer free bytes than this, a failed write is put down to the lack of room."""


@contextmanager
def disk_faults(folder: Path) -> Iterator[None]:
    """Raise what the disk of the data folder refuses as `Full` or `Unwritable`."""
    try:
        yield
    except OSError as error:
        if error.errno in (errno.ENOSPC, errno.EDQUOT):
            raise Full from None
        if error.errno in (errno.EACCES, errno.EROFS, errno.EIO):
            raise Unwritable(folder, os.strerror(error.errno)) from None
        raise
    except PeeweeException as error:
        # SQLite rolls a transaction that finds no room back by itself, and the rollback that follows finds none:
        # the first fault is further down. Some of its messages do not tell a full disk from a broken one.
        chain: list[str] = []
        fault: BaseException | None = error
        while fault is not None:
            chain.append(str(fault))
            fault = fault.__context__
        if any("disk is full" in text for text in chain):
            raise Full from None
        for sign in ("disk I/O error", "unable to open database file", "readonly database"):
            if any(sign in text for text in chain):
                if shutil.disk_usage(folder).free < ROOM:
                    raise Full from None
                raise Unwritable(folder, sign) from None
        raise
