"""The export jobs that are kept."""

from __future__ import annotations

from ..core.document.scene import new_id
from .connection import Connection
from .faults import Gone
from .tables import Job


class Jobs:
    """Of all scenes."""

    def __init__(self, connection: Connection) -> None:
        self._session, self._writing = connection.session, connection.writing

    def all(self, scene_id: str | None = None) -> list[Job]:
        """All jobs, or those of a scene, newest first."""
        with self._session():
            found = Job.select() if scene_id is None else Job.select().where(Job.scene_id == scene_id)
            return list(found.order_by(Job.made_at.desc()))

    def one(self, job_id: str) -> Job:
        """A job by its id."""
        with self._session():
            found = Job.get_or_none(Job.id == job_id)
        if found is None:
            raise Gone("This export is not there any more.")
        return found

    def of_batch(self, batch: str) -> list[Job]:
        """The titles that were started together, in their order."""
        with self._session():
            return list(Job.select().where(Job.batch == batch).order_by(Job.made_at))

    def make(self, **fields: object) -> Job:
        """Keep a new job."""
        with self._writing():
            return Job.create(id=new_id(), **fields)

    def update(self, job_id: str, **fields: object) -> None:
        """Change fields of a job."""
        with self._writing():
            Job.update(**fields).where(Job.id == job_id).execute()
