"""The fonts that projects have of their own: their rows, and their files in the media folder."""

from __future__ import annotations

import json
import threading
from pathlib import Path

from ..core.contents.assets import Assets
from ..core.document.scene import new_id
from ..media.digests import digest_of
from ..media.fonts import OwnFace, read_fonts
from .connection import Connection
from .faults import Gone, disk_faults
from .pictures import move_whole
from .tables import FontRow


class OwnFonts:
    """Takes fonts in and gives them out. The same face twice is one font of a project."""

    def __init__(self, connection: Connection, lock: threading.RLock, assets: dict[str, Assets]) -> None:
        self._folder = connection.folder
        self._session, self._writing, self._project = connection.session, connection.writing, connection.project
        self._lock = lock
        self._assets = assets

    def add(self, project_id: str, name: str, file: Path) -> list[FontRow]:
        """Take the faces of a font file into a project; Refused in words where it is none."""
        self._project(project_id)
        found = []
        with disk_faults(self._folder), read_fonts(file, name, self._folder / "media") as faces:
            for path, facts in faces:
                digest = digest_of(path)
                with self._lock, self._session():
                    same = (FontRow.project_id == project_id) & (FontRow.digest == digest)
                    row: FontRow | None = FontRow.get_or_none(same)
                    kept = self._folder / "media" / f"{digest}.sfnt"
                    if row is None or not kept.is_file():
                        move_whole(path, kept)
                    with self._writing():
                        if row is None:
                            row = FontRow.create(
                                id=new_id(), project_id=project_id, name=name[:200] or "Font", digest=digest,
                                facts=json.dumps(facts),
                            )  # fmt: skip
                        elif row.removed:
                            row.removed = False
                            row.save()
                    self._assets.pop(project_id, None)
                found.append(row)
        return found

    def rows(self, project_id: str) -> list[FontRow]:
        """The fonts of a project."""
        with self._session():
            return list(FontRow.select().where(FontRow.project_id == project_id).order_by(FontRow.made_at))

    def faces(self, project_id: str) -> list[OwnFace]:
        """The faces of the fonts of a project that were not taken out."""
        media = self._folder / "media"
        return [
            OwnFace(row.digest, str(media / f"{row.digest}.sfnt"), row.facts)
            for row in self.rows(project_id)
            if not row.removed and (media / f"{row.digest}.sfnt").is_file()
        ]

    def file(self, font_id: str) -> Path:
        """Where the file of a font is."""
        with self._session():
            row = FontRow.get_or_none(FontRow.id == font_id)
        if row is None:
            raise Gone("This font is not there any more.")
        path = self._folder / "media" / f"{row.digest}.sfnt"
        if not path.is_file():
            raise Gone(f"The file of the font '{row.name}' is missing.", mend="Add the font again.")
        return path
