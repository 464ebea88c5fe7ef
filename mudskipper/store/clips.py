"""The clips of projects: their rows, and their files in the media folder."""

from __future__ import annotations

import json
import os
import re
import shutil
import threading
import uuid
from contextlib import suppress
from pathlib import Path

from ..core.contents.assets import Assets, ClipInfo
from ..core.document.scene import new_id
from ..media.clips import ClipFile, probe_clip
from ..media.digests import digest_of
from .connection import Connection
from .faults import Gone, disk_faults
from .tables import ClipRow

KEPT = ".film"
"""How the names of kept files end: by nothing that a name from outside says."""
UNFINISHED = re.compile(r"[0-9a-f]{32}\.\d+\.")
"""How the names begin of what belongs to a file that is still coming in; that of a digest is longer."""


class Clips:
    """Takes clips in and gives them out. The same file twice is one clip of a project."""

    def __init__(self, connection: Connection, lock: threading.RLock, assets: dict[str, Assets]) -> None:
        self._folder = connection.folder
        self._session, self._writing = connection.session, connection.writing
        self._lock = lock
        self._assets = assets

    def part(self) -> Path:
        """A file of its own to which a clip is written as it comes in."""
        return self._folder / "media" / f"{uuid.uuid4().hex}.{os.getpid()}.part"

    def add(
        self, project_id: str, name: str, part: Path, rate: str = "25/1", wanted: str | None = None
    ) -> tuple[ClipRow, bool]:
        """Take in a clip that was written to a part, and whether it is one whose file was missing; Refused in words
        where it is none. The part goes in any case. It gets the id that is wanted where nothing else has it."""
        stamps = part.with_suffix(".npy")
        film, found_again = part, False
        try:
            with disk_faults(self._folder):
                facts = probe_clip(part, stamps, name, rate)
                if facts.pop("converted", False):
                    film = stamps.with_name(f"{stamps.name}.mkv")
                # What is made of a file is another each time; the same file, at the same rate, is the same clip.
                digest = digest_of(part, "" if film is part else rate)
                suffix = ".mkv" if film is not part else KEPT
                with self._lock, self._session():
                    same = (ClipRow.project_id == project_id) & (ClipRow.digest == digest)
                    there: ClipRow | None = ClipRow.get_or_none(same)
                    if there is None:
                        film.replace(self._folder / "media" / f"{digest}{suffix}")
                        stamps.replace(self._folder / "media" / f"{digest}.npy")
                    elif not Path(self.file(there).path).is_file():
                        found_again = True
                        film.replace(self.file(there).path)
                        stamps.replace(self.file(there).stamps)
                    if there is not None and there.removed:
                        with self._writing():
                            there.removed = False
                            there.save()
                    if there is None:
                        with self._writing():
                            free = wanted is not None and ClipRow.get_or_none(ClipRow.id == wanted) is None
                            there = ClipRow.create(
                                id=wanted if free else new_id(), project_id=project_id, name=name[:200] or "Clip",
                                digest=digest, suffix=suffix, facts=json.dumps(facts),
                            )  # fmt: skip
                        self._assets.pop(project_id, None)
            return there, found_again
        finally:
            for left in {part, film, stamps, stamps.with_name(f"{stamps.name}.mkv")}:
                with suppress(OSError):
                    left.unlink(missing_ok=True)

    def keep(self, project_id: str, name: str, film: Path) -> ClipRow:
        """Keep a film whose probe lies beside it: its facts as JSON and its time stamps, under its name."""
        digest = digest_of(film)
        with disk_faults(self._folder):
            for file in (film, film.with_suffix(".npy")):
                shutil.copyfile(file, self._folder / "media" / f"{digest}{file.suffix}")
            with self._lock, self._session(), self._writing():
                row: ClipRow = ClipRow.create(
                    id=new_id(), project_id=project_id, name=name, digest=digest, suffix=film.suffix,
                    facts=film.with_suffix(".json").read_text(),
                )  # fmt: skip
            self._assets.pop(project_id, None)
        return row

    def rows(self, project_id: str) -> list[ClipRow]:
        """The clips of a project."""
        with self._session():
            return list(ClipRow.select().where(ClipRow.project_id == project_id).order_by(ClipRow.made_at))

    def row(self, clip_id: str) -> ClipRow:
        """A clip."""
        with self._session():
            found: ClipRow | None = ClipRow.get_or_none(ClipRow.id == clip_id)
        if found is None:
            raise Gone("This clip is not there any more.")
        return found

    def file(self, row: ClipRow) -> ClipFile:
        """The files of a clip."""
        media = self._folder / "media"
        return ClipFile(
            row.digest, str(media / f"{row.digest}{row.suffix}"), str(media / f"{row.digest}.npy"), row.facts
        )

    def files(self, project_id: str) -> dict[str, ClipFile]:
        """The files of each clip of a project."""
        return {row.id: self.file(row) for row in self.rows(project_id)}

    def infos(self, project_id: str) -> dict[str, ClipInfo]:
        """What the core must know of each clip of a project."""
        return {name: file.info(name) for name, file in self.files(project_id).items()}

    def tidy(self) -> None:
        """Drop the parts that a server which was killed left behind."""
        media = (part for part in (self._folder / "media").iterdir() if UNFINISHED.match(part.name))
        for part in (*media, *(self._folder / "media").glob("*.part"), *(self._folder / "cache").rglob("*.part")):
            if part.is_dir():
                shutil.rmtree(part, ignore_errors=True)
            with suppress(OSError):
                part.unlink(missing_ok=True)
