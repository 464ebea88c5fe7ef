"""The way to the database of a data folder: a session of one thread, a transaction."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from .faults import DATABASE, Gone, disk_faults
from .tables import Project, open_database, using


class Connection:
    """Of one data folder; several may be open in a process."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.path = folder / DATABASE
        self._database = open_database(self.path)

    @contextmanager
    def session(self) -> Iterator[None]:
        """A connection of this thread's own for the time of a block."""
        with using(self._database):
            if self._database.is_closed():
                with self._database.connection_context():
                    yield
            else:
                yield

    @contextmanager
    def writing(self) -> Iterator[None]:
        """One transaction; a full disk is answered in words, and nothing is half written."""
        with disk_faults(self.folder), self.session(), self._database.atomic("IMMEDIATE"):
            yield

    def project(self, project_id: str) -> Project:
        """A project by its id; Gone in words where there is none."""
        with self.session():
            found = Project.get_or_none(Project.id == project_id)
        if found is None:
            raise Gone("This project is not there any more.", mend="Go back to the list of projects.")
        return found
