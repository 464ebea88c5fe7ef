"""A backup of a data folder, also of one that a server works on: the database as of one moment, and its media."""

from __future__ import annotations

import os
import shutil
import sqlite3
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from ..core.ground.errors import Refused
from ..media.digests import digest_of
from ..media.part_files import part_of
from .check_data import faults_in, opened
from .faults import DATABASE, disk_faults
from .lock import hold_folder
from .media_rows import media_rows


@dataclass(frozen=True)
class Backup:
    """How many media files a backup names, how many were copied now, and what the data folder lacks, in words."""

    files: int
    copied: int
    lacks: tuple[str, ...]


def back_up(data: Path, folder: Path) -> Backup:
    """Write a backup, which is a data folder itself, into a folder; one that is there is brought up to date.

    The database goes by SQLite's online backup, so that it is of one moment, whatever is edited meanwhile; media never
    change, and what is there is not copied again. It is read back: Refused in words where it does not hold.
    """
    if folder.resolve() == data.resolve():
        raise Refused("A backup needs a folder of its own.", where=str(folder), mend="Name another one.")
    there = folder / DATABASE
    if folder.exists() and any(folder.iterdir()) and not there.is_file():
        raise Refused("This folder holds other things.", where=str(folder), mend="Name an empty one, or a backup.")
    with disk_faults(folder if folder.exists() else data):
        (folder / "media").mkdir(parents=True, exist_ok=True)
        source, part = opened(data), folder / f"{DATABASE}.part"
        try:
            part.unlink(missing_ok=True)
            into = sqlite3.connect(part)
            try:
                source.backup(into)
                # A backup is one file by itself.
                into.execute("PRAGMA journal_mode = DELETE")
                files = list(media_rows(into))
            finally:
                into.close()
        finally:
            source.close()
        copied = sum(_copied(data / "media" / one.file, folder / "media" / one.file, one.digest) for one in files)
        for log in (f"{DATABASE}-wal", f"{DATABASE}-shm"):
            (folder / log).unlink(missing_ok=True)
        _kept(part)
        part.replace(there)
    wrong = list(faults_in(folder))
    # What the data folder itself lacks is no fault of its backup.
    there_too = {one.replace(str(data), str(folder)) for one in faults_in(data)} if wrong else set()
    fresh = next((one for one in wrong if one not in there_too), None)
    if fresh is not None:
        raise Refused(f"The backup does not hold: {fresh}", where=str(folder), mend="Make it again; see check-data.")
    return Backup(len(files), copied, tuple(wrong))


def restore(folder: Path, data: Path, *, replace: bool = False, anyway: bool = False) -> Path | None:
    """Have a backup as the data folder, once it was found to hold, or `anyway`; what was in the data folder is kept
    beside it, at the path that is given back. No server may work on the data folder."""
    if not (folder / DATABASE).is_file():
        raise Refused(
            "There is no backup in it.", where=str(folder), mend="Name a folder that a backup was written to."
        )
    wrong = None if anyway else next(faults_in(folder), None)
    if wrong is not None:
        raise Refused(
            f"The backup does not hold: {wrong}", where=str(folder),
            mend="Take another; see check-data. With --anyway what it holds is restored.",
        )  # fmt: skip
    there = data.exists() and any(data.iterdir())
    if there and not replace:
        raise Refused(
            "There is something in the data folder.", where=str(data),
            mend="Name an empty one, or say --replace: what is there is kept beside it.",
        )  # fmt: skip
    if there:
        hold_folder(data, "a backup that is restored").close()
    made = data.with_name(f"{data.name}.restored-{os.getpid()}")
    with disk_faults(data.parent):
        shutil.copytree(folder, made)
        aside = None
        if there:
            aside = data.with_name(f"{data.name}.before-{datetime.now():%Y%m%d-%H%M%S}")
            data.rename(aside)
        elif data.exists():
            data.rmdir()
        made.rename(data)
    return aside


def _copied(source: Path, into: Path, digest: str | None) -> bool:
    """Copy a file, whole or not at all, unless it is there already; whether it was."""
    if not source.is_file():
        return False
    same_size = into.is_file() and into.stat().st_size == source.stat().st_size
    if same_size and (digest is None or digest_of(into) == digest):
        return False
    part = part_of(into)
    shutil.copyfile(source, part)
    _kept(part)
    part.replace(into)
    return True


def _kept(path: Path) -> None:
    """Have a file on the disk, and not in its cache alone."""
    with path.open("rb") as file:
        os.fsync(file.fileno())
