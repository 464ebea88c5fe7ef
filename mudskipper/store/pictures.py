"""The pictures of projects: their rows, and their files in the media folder."""

from __future__ import annotations

import os
import threading
from pathlib import Path

from ..core.contents.assets import Assets
from ..core.document.scene import new_id
from ..media.digests import digest_of
from ..media.pictures import Picture, read_picture
from .connection import Connection
from .faults import Gone, disk_faults
from .tables import PictureRow


class Pictures:
    """Takes pictures in and gives them out. The same file twice is one picture of a project."""

    def __init__(self, connection: Connection, lock: threading.RLock, assets: dict[str, Assets]) -> None:
        self._folder = connection.folder
        self._session, self._writing, self._project = connection.session, connection.writing, connection.project
        self._lock = lock
        self._assets = assets

    def add(self, project_id: str, name: str, data: bytes, wanted: str | None = None) -> PictureRow:
        """Take a picture into a project; with the id that is wanted, where nothing else has it."""
        self._project(project_id)
        with disk_faults(self._folder), read_picture(data, name, self._folder / "media") as picture:
            return self.keep(project_id, name, picture, wanted)

    def keep(self, project_id: str, name: str, picture: Picture, wanted: str | None = None) -> PictureRow:
        """Keep a decoded picture; its file is moved to its place."""
        digest = digest_of(picture.file)
        with self._lock, self._session():
            same = (PictureRow.project_id == project_id) & (PictureRow.digest == digest)
            there = PictureRow.get_or_none(same)
            if there is not None:
                if there.removed:
                    with self._writing():
                        there.removed = False
                        there.save()
                return there
            with disk_faults(self._folder):
                move_whole(picture.file, self._folder / "media" / f"{digest}.png")
            with self._writing():
                free = wanted is not None and PictureRow.get_or_none(PictureRow.id == wanted) is None
                row = PictureRow.create(
                    id=wanted if free else new_id(), project_id=project_id, name=name[:200] or "Picture", digest=digest,
                    width=picture.width, height=picture.height,
                )  # fmt: skip
            self._assets.pop(project_id, None)
        return row

    def rows(self, project_id: str) -> list[PictureRow]:
        """The pictures of a project."""
        with self._session():
            return list(PictureRow.select().where(PictureRow.project_id == project_id).order_by(PictureRow.made_at))

    def file(self, picture_id: str) -> Path:
        """Where a picture's PNG file is."""
        with self._session():
            row = PictureRow.get_or_none(PictureRow.id == picture_id)
        if row is None:
            raise Gone("This picture is not there any more.")
        path = self._folder / "media" / f"{row.digest}.png"
        if not path.is_file():
            raise Gone(f"The file of the picture '{row.name}' is missing.", mend="Add the picture again.")
        return path


def move_whole(source: Path, path: Path) -> None:
    """Move a file of the same disk so that it is there whole or not at all."""
    with source.open("rb") as file:
        os.fsync(file.fileno())
    source.replace(path)
